import type { BodyImage, OutlineItem } from '../schema/body-facts.ts'
import type { EntryBody } from './body-types.ts'
import type {
  ChoiceHandle,
  GroupHandle,
  HasValues,
  ListHandle,
  NumberHandle,
  Optional,
  TextHandle,
} from './handle-types.ts'

/** The handle of the facts of a body. */
export interface BodyHandle extends GroupHandle<EntryBody> {
  readonly format: ChoiceHandle<'markdown' | 'mdx'>
  /** The headings at the top; those below them are no list of their own. */
  readonly outline: ListHandle<
    GroupHandle<OutlineItem> & { readonly id: TextHandle; readonly text: TextHandle; readonly depth: NumberHandle }
  >
  readonly links: ListHandle<TextHandle> & HasValues<string>
  readonly images: ListHandle<BodyImageHandle>
  readonly firstImage: Optional<BodyImageHandle>
  readonly blocks: ListHandle<TextHandle> & HasValues<string>
  readonly excerpt: TextHandle
  readonly words: NumberHandle
  readonly minutes: NumberHandle
}

/** An image of a body. */
export interface BodyImageHandle extends GroupHandle<BodyImage> {
  readonly src: TextHandle
  readonly alt: TextHandle
  readonly width: Optional<NumberHandle>
  readonly height: Optional<NumberHandle>
}

import type { TextEdit } from '../change/edited-source.ts'
import type { Span } from '../diagnostics/diagnostic.ts'

/** The kinds of what is offered, by which editors draw signs. */
export type OfferKind = 'key' | 'word' | 'entry' | 'file' | 'value' | 'heading' | 'block' | 'snippet'

/** Something that a writer may put at a place. */
export interface Offer {
  /** What the writer sees. */
  readonly label: string
  readonly kind: OfferKind
  /** What is written. */
  readonly text: string
  /** What it takes the place of. */
  readonly span: Span
  /** What it is found by, beside its label. */
  readonly sought: string
  /** Beside the label. */
  readonly detail?: string | undefined
  /** In Markdown; worked out where it is asked for, since of thousands of entries it is wanted of one. */
  readonly help?: (() => string) | undefined
  readonly isDeprecated?: boolean
  /** Commas that are to be put elsewhere for it. */
  readonly commas?: readonly TextEdit[]
}

import type { Diagnostic } from '../diagnostics/diagnostic.ts'
import type { WrittenFacts } from '../schema/body-facts.ts'
import type { ImageSource } from '../schema/image-sources.ts'
import type { BodyHeading, BodyLink, BodySummary, CodeFence, TextSummary } from './body-summary.ts'
import type { Highlighter } from './highlighter.ts'

/** Gives the address that a link or an image has in the output. */
export interface Rewrite {
  (address: string): string
  /** What is made of an image, by its address as written; left out where nothing is. */
  readonly picture?: ((address: string) => Picture | undefined) | undefined
}

/** An image with what is made of it. */
export interface Picture {
  /** In pixels. */
  readonly width: number
  readonly height: number
  readonly sources: readonly PictureSource[]
}

/** The attributes of an element `source`. */
export interface PictureSource extends ImageSource {
  readonly sizes?: string
}

/** The properties of a use of a block in the output. */
export interface BlockProperties {
  /** The name of the component as written. */
  readonly name: string
  readonly values: Readonly<Record<string, unknown>>
  /** Names of properties that must not be there. */
  readonly hidden: ReadonlySet<string>
}

/** The options of the output of a body. */
export interface OutputOptions {
  readonly rewrite: Rewrite
  /** The properties of the uses of blocks, in order. */
  readonly properties: readonly BlockProperties[]
  /** Colours code; undefined where no code has colours. */
  readonly highlighter: Highlighter | undefined
}

/** The output of a body. */
export interface BodyOutput {
  /** The HTML of Markdown, or the code of MDX. */
  readonly text: string
  /** Where code comes from, where that was asked for. */
  readonly map?: BodyMap | undefined
}

/** Parts of a source map (ECMA-426) whose only source are the lines of a body. */
export interface BodyMap {
  readonly mappings: string
  readonly names: readonly string[]
}

/** A body, parsed as far as it was asked for. It does not leave the run that reads it. */
export interface ParsedBody {
  /**
   * Problems of the text. Places are in the file. A method: an object with a getter of its own keeps what the getter
   * knows alive until the next whole collection of garbage, which was measured at a quarter of the memory of a build.
   */
  diagnostics(): readonly Diagnostic[]
  summary(): BodySummary
  /** Its summary as a text of a field, which has no blocks. */
  textSummary(): TextSummary
  /** The ids that fragments of links may name. */
  ids(): readonly string[]
  /** The headings, in order; none of HTML. */
  headings(): readonly BodyHeading[]
  /** Every link that is not fine. */
  links(isFine: (href: string) => boolean): readonly BodyLink[]
  /** Every fence of code whose language is not fine. */
  fences(isFine: (language: string) => boolean): readonly CodeFence[]
  facts(): WrittenFacts
  /** Its plain text, for search; a line for each paragraph. */
  text(): string
  output(options: OutputOptions): Promise<BodyOutput>
  /** True where its tree is kept, which takes longer to make than the output of it. Left out: it is not. */
  holdsTree?(): boolean
}

import type { Diagnostic, Span } from '../diagnostics/diagnostic.ts'
import type { Highlighter } from './highlighter.ts'

/** A heading and those below it. */
export interface OutlineItem {
  readonly id: string
  readonly text: string
  /** From 1, as written. */
  readonly depth: number
  readonly children: readonly OutlineItem[]
}

/** An image of a body. */
export interface BodyImage {
  /** As written. */
  readonly src: string
  readonly alt: string
}

/** What is known of a body without loading it. */
export interface BodyFacts {
  readonly outline: readonly OutlineItem[]
  /** Addresses of links as written, each once, in order. */
  readonly links: readonly string[]
  readonly images: readonly BodyImage[]
  /** The first of the images, as for a card in a list; null where there is none. */
  readonly firstImage: BodyImage | null
  /** Names of the blocks in it, each once, in order. */
  readonly blocks: readonly string[]
  /** Plain text of the first paragraph, or of all above a line with `<!-- more -->` or, in MDX, {@literal `{/* more *}`}. */
  readonly excerpt: string
  readonly words: number
  /** At 200 words a minute, at least 1. */
  readonly minutes: number
}

/** One link or image. Spans are offsets in the body. */
export interface BodyLink {
  readonly href: string
  readonly span: Span
}

/** One use of a block as a component. */
export interface BlockUse {
  /** As written. */
  readonly name: string
  /** The block that is meant; undefined where there is none of that name. */
  readonly block: string | undefined
  readonly values: Readonly<Record<string, unknown>>
  /** True where the values are texts that the fields give types to. */
  readonly hasCells: boolean
  /** Properties whose values code works out; `all` where it may give any. */
  readonly open: ReadonlySet<string> | 'all'
  /** The place of a property, or of the name. */
  locate(path: readonly (string | number)[], part: 'key' | 'value'): Span
}

/** A fence of code with its language. */
export interface CodeFence {
  readonly language: string
  readonly span: Span
}

/** Gives the address that a link or an image has in the output. */
export type Rewrite = (address: string) => string

/** What a use of a block has in the output. */
export interface BlockProperties {
  /** The name of the component as written. */
  readonly name: string
  readonly values: Readonly<Record<string, unknown>>
  /** Names of properties that must not be there. */
  readonly hidden: ReadonlySet<string>
}

/** What every part of a body may need for its output. */
export interface OutputOptions {
  readonly rewrite: Rewrite
  /** The properties of the uses of blocks, in order. */
  readonly properties: readonly BlockProperties[]
  /** Colours code; undefined where no code has colours. */
  readonly highlighter: Highlighter | undefined
}

/** A body, parsed as far as it was asked for. */
export interface ParsedBody {
  /** What could not be read. Places are in the file. */
  readonly diagnostics: readonly Diagnostic[]
  /** What fragments of links may name. */
  ids(): readonly string[]
  /** Every link that is not fine; a cheap look tells where there can be none. */
  links(isFine: (href: string) => boolean): readonly BodyLink[]
  uses(): readonly BlockUse[]
  fences(): readonly CodeFence[]
  facts(): BodyFacts
  /** The HTML of Markdown, or the module of MDX. */
  output(options: OutputOptions): Promise<string>
}

import type { Span } from '../diagnostics/diagnostic.ts'
import type { WrittenFacts } from '../schema/body-facts.ts'

/**
 * The summary of a body: plain data that JSON holds. Spans are offsets in the body. Of Markdown it is taken at a glance,
 * without the parse that most checks do without: addresses and languages are all that there are, and maybe more,
 * and links, fences, ids and facts are left out. Of MDX, which is parsed in any case, all is there, and exact.
 */
export interface BodySummary extends TextSummary {
  /** The languages of fences of code, each once; none of Markdown where no code has colours. */
  readonly languages: readonly string[]
  readonly fences?: readonly CodeFence[]
  /** The imports of its code; none of Markdown. */
  readonly imports: readonly BodyLink[]
  /** The uses of blocks as components, in order. */
  readonly uses: readonly BlockUse[]
  /** The ids that fragments of links may name. */
  readonly ids?: readonly string[]
  readonly facts?: WrittenFacts
}

/** The summary of Markdown in a field. */
export interface TextSummary {
  /** The addresses of links and images, each once. */
  readonly addresses: readonly string[]
  readonly links?: readonly BodyLink[]
  /** Where pictures without an alternative text stand. */
  readonly silentImages: readonly Span[]
}

/** One link or image. */
export interface BodyLink {
  readonly href: string
  readonly span: Span
}

/** A heading of a body. */
export interface BodyHeading {
  /** From 1, the largest. */
  readonly depth: number
  readonly id: string
  /** As it is written, without an id behind it. */
  readonly text: string
  /** Of the text. */
  readonly span: Span
}

/** A fence of code with its language. */
export interface CodeFence {
  readonly language: string
  readonly span: Span
}

/** One use of a block as a component. */
export interface BlockUse {
  /** As written. */
  readonly name: string
  /** The block that is meant; undefined where there is none of that name. */
  readonly block?: string
  readonly values: Readonly<Record<string, unknown>>
  /** True where the values are texts that the fields give types to. */
  readonly hasCells: boolean
  /** Properties whose values code works out; `all` where it may give any. */
  readonly open: readonly string[] | 'all'
  /** Of its name. */
  readonly span: Span
  readonly places: readonly PropertyPlace[]
}

/** Where a property of a block is written. */
export interface PropertyPlace {
  readonly name: string
  readonly key: Span
  readonly value: Span
}

/** The place of a property of a block, or that of its name where the property is not written. */
export function locateProperty({ places, span }: BlockUse, property: unknown, part: 'key' | 'value'): Span {
  const place = places.find(({ name }) => name === property)
  return place ? place[part] : span
}

/** True where code may give a property a value that nobody can tell. */
export const isOpen = ({ open }: BlockUse, property: string): boolean => open === 'all' || open.includes(property)

/** The addresses of some links, each once. */
export const addressesOf = (links: readonly BodyLink[]): string[] => [...new Set(links.map(({ href }) => href))]

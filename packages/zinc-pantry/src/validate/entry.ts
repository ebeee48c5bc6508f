import type { BodySummary, TextSummary } from '../body/body-summary.ts'
import type { Place } from '../diagnostics/diagnostic.ts'
import type { PathSegment } from '../read/document.ts'
import type { WantedReference } from '../schema/check-run.ts'
import type { EntrySource } from '../schema/entry-types.ts'
import type { Rendition } from '../schema/image-sources.ts'

/** One use of an entry in another one, as it is written. Until it is resolved its text stands in the data. */
export interface Reference extends WantedReference {
  /** Path in the entry's own text. */
  readonly path: readonly PathSegment[]
  /** True in a private field, or inside of one. */
  readonly isPrivate?: true | undefined
}

/** A reference that was resolved. */
export interface Link {
  readonly collection: string
  readonly id: string
  readonly path: readonly PathSegment[]
  /** True in a private field, or inside of one. */
  readonly isPrivate?: true | undefined
}

/** An entry whose references are resolved. */
export interface LinkedEntry extends Entry {
  /** True where a derived field could not be computed, so that a value is missing that the types promise. */
  readonly isUnsound?: true
}

/** An entry as it leaves validation. */
export interface Entry {
  readonly id: string
  readonly slug: string
  readonly collection: string
  readonly source: EntrySource
  /** The values by field, or undefined where some did not pass. */
  readonly data: Readonly<Record<string, unknown>> | undefined
  /** Of an entry whose values did not all pass those that did, for the rules that ask for no others. */
  readonly part?: Readonly<Record<string, unknown>> | undefined
  readonly body: EntryBody | undefined
  /** The typed properties of the blocks used in the body, in order. */
  readonly properties: readonly Readonly<Record<string, unknown>>[]
  readonly references: readonly Reference[]
  /** What its references lead to; none before they are resolved, so that an entry without any is linked as it is. */
  readonly links: readonly Link[]
  /** Markdown in its fields. */
  readonly texts: readonly FieldText[]
  /** Files that its fields name, relative to the content folder. */
  readonly assets: readonly string[]
  /** Files that its private fields name; they are not published because of it. */
  readonly privateAssets: readonly string[]
  /** Images that are to be made of those that fields name, but for private ones. */
  readonly renditions?: readonly Rendition[] | undefined
  /** The language, where the collection has several. */
  readonly locale: string | undefined
  /** Its rank by the numbers in its path, where the collection is numbered. */
  readonly rank: string | undefined
  /** The place of a part of the entry; an empty path gives what names the entry. Entries of one file share it. */
  locate(this: Pick<Entry, 'recordPath' | 'body'>, path: readonly PathSegment[]): Place
  /** Where the entry stands in its document. */
  readonly recordPath: readonly PathSegment[]
  /** The place of the id and of the slug. */
  readonly idPath: readonly PathSegment[]
  readonly slugPath: readonly PathSegment[]
}

/** Markdown in a field. */
export interface FieldText {
  readonly path: readonly PathSegment[]
  readonly text: string
  readonly summary: TextSummary
  /** True in a private field, or inside of one. */
  readonly isPrivate?: true
}

/** The text below an entry's front matter. */
export interface EntryBody {
  readonly format: 'markdown' | 'mdx'
  /** Where the text starts in its file. */
  readonly startOffset: number
  /** Lines of the file above it. */
  readonly linesAbove: number
  /** Relative to the site's root. */
  readonly file: string
  readonly summary: BodySummary
}

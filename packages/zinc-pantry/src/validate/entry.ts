import type { Place } from '../diagnostics/diagnostic.ts'
import type { PathSegment } from '../read/document.ts'
import type { EntrySource } from '../schema/pantry.ts'

/** One use of an entry's id in another entry. */
export interface Reference {
  readonly target: string
  readonly id: string
  /** Path in the entry's own data. */
  readonly path: readonly PathSegment[]
}

/** An entry as it leaves validation. */
export interface Entry {
  readonly id: string
  readonly slug: string
  readonly collection: string
  readonly source: EntrySource
  /** The values by field, or undefined where some did not pass. */
  readonly data: Readonly<Record<string, unknown>> | undefined
  readonly body: EntryBody | undefined
  readonly references: readonly Reference[]
  /** The place of a part of the entry; an empty path gives what names the entry. */
  locate(path: readonly PathSegment[]): Place
  /** The place of the id and of the slug. */
  readonly idPath: readonly PathSegment[]
  readonly slugPath: readonly PathSegment[]
}

/** The text below an entry's front matter. */
export interface EntryBody {
  readonly format: 'markdown' | 'mdx'
  readonly text: string
}

import type { ConditionTree, SortKey } from './condition.ts'
import type { PostingList } from './posting-list.ts'
import type { FoundWord } from './search-format.ts'

/** A query as plain data. */
export interface QueryRequest {
  readonly collection: string
  readonly condition?: ConditionTree | undefined
  /** Words to search for, in what the collection's setting `search` names. Without `sort` the nearest come first. */
  readonly search?: string | undefined
  readonly sort?: readonly SortKey[]
  readonly limit?: number | undefined
  readonly offset?: number | undefined
  /** The language of the entries; those that lack it stand in the first. Default: the first. */
  readonly locale?: string | undefined
}

/** Rows that match, in the order of the collection. */
export interface Matched {
  readonly rows: PostingList
  /** The same rows, as many as are wanted at least and the nearest first, where words were searched for. */
  rank?(wanted: number | undefined): readonly number[]
  /** A score a row of the collection. */
  readonly scores?: Float32Array
  /** True for a word, folded, that was found. */
  isFound?(word: string): boolean
  /** The words of a row whose scores make up its own. */
  explain?(row: number): readonly FoundWord[]
}

/** The settings of a query so far. */
export interface QuerySettings extends QueryRequest {
  /** The specification of the values to give instead of entries. */
  readonly spec?: unknown
}

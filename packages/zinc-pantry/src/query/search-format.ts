import type { PartNames } from './catalogue.ts'
import type { RowSet } from './row-set.ts'

/** The character of no impact; from here up to the largest none needs escaping. */
export const FIRST_IMPACT = 40
/** How much a word can say of a row, at most; the characters of impacts go up to it. */
export const MOST_IMPACT = 50

/** What a search loads first. */
export interface SearchHead {
  /** Rows of the collection. */
  readonly count: number
  /** The paths of what is searched, the body being `body`. */
  readonly places: readonly string[]
  /** The first word of each shard. */
  readonly first: readonly string[]
  /** The names of the shards, one behind the other. */
  readonly names: string
  /** The part with all words, a line each, for words with mistakes in them. */
  readonly dictionary: string
  /** The texts of bodies, for what is shown of them. */
  readonly texts?: PartNames
}

/** Some words and the rows that have them. */
export interface SearchShard {
  /** In order. */
  readonly words: readonly string[]
  /** How many rows have each. */
  readonly counts: readonly number[]
  /** The rows of each word, as steps from one to the next. */
  readonly rows: readonly number[]
  /** A character a row: how much the word says of it. */
  readonly impacts: string
}

/** What a search found. */
export interface SearchFound {
  /** Rows in order, not by score. */
  readonly rows: RowSet
  /** A score a row of the collection; 0 for those that were not found. */
  readonly scores: Float32Array
  /** The words that were found, folded. */
  readonly words: ReadonlySet<string>
}

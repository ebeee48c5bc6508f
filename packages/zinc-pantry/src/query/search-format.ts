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
  readonly texts?: SearchTexts
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

/** Where the texts of bodies are. */
export interface SearchTexts {
  /** So many have a part of their own. */
  readonly size: number
  /** The names of the parts, or the part with them where they are many. */
  readonly names?: string
  readonly list?: string
}

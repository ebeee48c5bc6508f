/** The head of an index of all three letters in a row. */
export interface TrigramHead {
  /** The first three letters of each chunk. */
  readonly first: readonly string[]
  /** The names of the chunks with rows, and of those with positions, one behind the other. */
  readonly rows: string
  readonly positions: string
}

/** Some trigrams and the rows that they are used in, as steps from one to the next; a row comes once for each use. */
export interface TrigramShard {
  /** In order. */
  readonly grams: readonly string[]
  /** How many uses each has. */
  readonly counts: readonly number[]
  readonly rows: readonly number[]
}

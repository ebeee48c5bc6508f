import type { Scalar, SortKey } from './condition.ts'
import type { StoredCube } from './cube-format.ts'

/**
 * Where the chunks of a compiled collection are, and those of its indexes that are small: the first thing a query
 * loads. Chunks have names of {@link NAME_LENGTH} characters, digests of their content, one behind the other.
 */
export interface Catalogue {
  /** The number of rows: entries in their order, all languages together. */
  readonly count: number
  readonly rows: RowChunks
  /** The orders in which rows are stored once more. */
  readonly clusters?: readonly StoredCluster[]
  readonly indexes: { readonly [path: string]: StoredIndex }
  /** The keys of the order of the rows, where the collection has one; left out where that may not be told. */
  readonly order?: readonly SortKey[]
  /** The counts of the combinations of values of some fields. */
  readonly cube?: StoredCube
  /** The chunks with what leads to each row, where that is kept. */
  readonly backlinks?: ChunkNames
  /** The chunks with bodies. */
  readonly bodies?: ChunkNames
  /** The chunk that a full-text search loads first, where there is one. */
  readonly search?: string
  /** The rows that are seen in each language, as steps from one to the next. */
  readonly locales?: { readonly [locale: string]: readonly number[] }
}

/** Chunks of rows. */
export interface RowChunks {
  /** The number of rows of a chunk; the last has fewer. */
  readonly size: number
  /** The number of chunks that share a name, followed by their number among them. */
  readonly group: number
  readonly names: string
}

/** The name of a chunk of rows, by its number. */
export const nameOfRows = ({ group, names }: RowChunks, chunk: number): string =>
  `${nameAt(names, Math.floor(chunk / group))}-${chunk % group}`

/**
 * A clustered index: all rows once more, in an order, so that a page of it lies in one or two chunks. Each chunk is a
 * {@link ClusterChunk}.
 */
export interface StoredCluster {
  readonly sort: readonly SortKey[]
  readonly rows: RowChunks
  /** The numbers of the rows in the order, for questions that only some of them pass. */
  readonly order: ChunkNames
  /** The place of each row in the order. */
  readonly places: ChunkNames
}

/** Rows beside each other in an order: their numbers, and their entries. */
export type ClusterChunk = readonly [rows: readonly number[], entries: readonly Readonly<Record<string, unknown>>[]]

/** The length of the name of a chunk. */
export const NAME_LENGTH = 12

/** The name at a number among names that stand one behind the other. */
export const nameAt = (names: string, at: number): string => names.substr(at * NAME_LENGTH, NAME_LENGTH)

/** The name of an order among the indexes: that of the path, and the language by whose rules it is. */
export const nameOfOrder = (path: readonly string[], collation: string | undefined): string =>
  path.join('.') + (collation === undefined ? '' : `@${collation}`)

/** The name of an order by several keys, such as `-opened,title@nb`. */
export const nameOfSort = (sort: readonly SortKey[]): string =>
  sort
    .map(({ path, direction, collation }) => (direction === 'descending' ? '-' : '') + nameOfOrder(path, collation))
    .join()

/** Chunks with something of every row. */
export interface ChunkNames {
  /** The number of rows of a chunk. */
  readonly size: number
  /** The names of the chunks, or the chunk with them where they are many. */
  readonly names?: string
  readonly list?: string
}

/** The name of the chunk with something of a row; `load` gives the content of a chunk by its name. */
export async function chunkNameOf(
  { size, names, list = '' }: ChunkNames,
  row: number,
  load: (name: string) => Promise<unknown>,
): Promise<string> {
  return nameAt(names ?? String(await load(list)), Math.floor(row / size))
}

/** The number of pairs of a value and a row in a block, about. */
export const BLOCK_PAIRS = 4096

/** The index of a path: values in order, in blocks of whole values. */
export interface StoredIndex {
  /** The first value of each block. */
  readonly first: readonly Scalar[]
  /** How many pairs of a value and a row are in all blocks before each, and in all. */
  readonly offsets: readonly number[]
  /** The content of the only block, where it is small. */
  readonly block?: BlockContent
  /** The names of the blocks. */
  readonly names?: string
  /** The values, where each row has one of few or none: the rows of the only block are codes. */
  readonly dictionary?: ValueDictionary
  /** The chunk with the values and how many rows each has, where there are several blocks and not many values. */
  readonly counts?: string
  /** The chunk with the head of the index of all three letters in a row, where there is one. */
  readonly trigrams?: string
}

/** Values in order, and how many rows have each. */
export type StoredCounts = readonly [values: readonly Scalar[], counts: readonly number[]]

/** The content of a block: values and their rows, or the codes of a {@link ValueDictionary}. */
export type BlockContent = OrderBlock | string

/**
 * The values of a path that has one of few in every row, or none. Codes stand for those of the rows, several in a
 * character: packing of a number, the first row being the lowest. The first value is 0; no value, where there are such
 * rows, is the last.
 */
export interface ValueDictionary {
  /** In order. */
  readonly values: readonly Scalar[]
  /** How many rows have each. */
  readonly counts: readonly number[]
  readonly packing: Packing
}

/** How the values of rows are put into characters. */
export interface Packing {
  readonly base: number
  /** Rows in a character. */
  readonly rows: number
}

/** The first of the characters that stand for numbers. They need no escaping but one, which is left out. */
const FIRST_CODE = 40
const BACKSLASH = 92
/** The number of numbers that have characters. */
export const MOST_CODES = 80

/** The character of a number below {@link MOST_CODES}, and the number of a character. */
export const codeOf = (value: number): number => value + FIRST_CODE + (value + FIRST_CODE >= BACKSLASH ? 1 : 0)
export const numberOf = (code: number): number => code - FIRST_CODE - (code > BACKSLASH ? 1 : 0)

/** A block of an index of many values. */
export interface OrderBlock {
  readonly values: readonly Scalar[]
  /** How many rows each value has; left out where all have one. */
  readonly counts?: readonly number[]
  /** The rows of each value, as steps from one to the next. */
  readonly rows: readonly number[]
}

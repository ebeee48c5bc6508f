import type { ClusterChunk, RowChunks, StoredCluster } from '../query/catalogue.ts'
import { compareEntries, type KeyValues } from '../query/compare-keys.ts'
import type { SortKey } from '../query/condition.ts'
import type { RowList } from '../values/row-list.ts'
import { type AddChunk, listChunks } from './build-index.ts'
import { groupChunks, type RowLayout } from './row-blocks.ts'
import { splitIntoChunks } from './split-into-chunks.ts'

/** Rows of a chunk: as many as a page has, or more, so that two chunks always hold one. */
const ROWS_A_CHUNK = 32
/** The number of chunks, at most. */
const MOST_CHUNKS = 12_500
/** The number of names of chunks in the catalogue, about: few, since every query loads it. */
const MOST_NAMES = 64
/** The number of rows whose numbers, or places, lie in one chunk. */
const NUMBERS_A_CHUNK = 2048
/** The number of rows that are in so few chunks that they need not be stored once more. */
const FEW_ROWS = 128

/** The source of an order in which rows are stored once more. */
export interface ClusterSource {
  readonly sort: readonly SortKey[]
  /** Of each key the values of all rows. */
  columns(): readonly KeyValues[]
}

/** True where rows are stored once more in orders. */
export const isClustered = (count: number): boolean => count > FEW_ROWS

/** Lays out the rows of a clustered index. */
export const layOutCluster = (count: number): RowLayout =>
  groupChunks(count, Math.max(ROWS_A_CHUNK, Math.ceil(count / MOST_CHUNKS)), MOST_NAMES)

/** The numbers of all rows in an order; equal ones stay in the order of the rows. */
export function orderRowsBy(columns: readonly KeyValues[], sort: readonly SortKey[]): Int32Array {
  const compare = compareEntries(sort)
  const keys = Array.from(columns[0] ?? [], (_, row) => columns.map((column) => column[row] ?? null))
  return Int32Array.from(keys.keys()).sort((a, b) => compare(keys[a] as KeyValues, keys[b] as KeyValues) || a - b)
}

/** The chunks of some rows in an order. */
export const clusterChunks = <Row extends Readonly<Record<string, unknown>>>(
  order: Int32Array,
  rows: RowList<Row>,
  size: number,
): ClusterChunk[] => splitIntoChunks(Array.from(order), size).map((own) => [own, own.map((row) => rows.at(row) as Row)])

/** Adds the chunks that lead from places in an order to rows, and back. */
export function buildCluster(
  order: Int32Array,
  { sort, rows }: { readonly sort: readonly SortKey[]; readonly rows: RowChunks },
  addChunk: AddChunk,
): StoredCluster {
  const places = new Int32Array(order.length)
  for (const [place, row] of order.entries()) places[row] = place
  const list = (numbers: Int32Array) =>
    listChunks(splitIntoChunks(Array.from(numbers), NUMBERS_A_CHUNK).map(addChunk), NUMBERS_A_CHUNK, addChunk)
  return { sort, rows, order: list(order), places: list(places) }
}

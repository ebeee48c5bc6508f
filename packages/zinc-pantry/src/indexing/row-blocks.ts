import type { Catalogue } from '../query/catalogue.ts'

/** Rows of a chunk, where there are many: few, since a page of a list needs one here and one there. */
const ROWS_A_CHUNK = 16
/**
 * The number of names of chunks in the catalogue, about; of more chunks some share a name, and all of those are written
 * again where one changes.
 */
const MOST_NAMES = 384
/** The number of rows that stay together in one chunk. */
const TOGETHER = 128
/** The number of chunks of a collection, at most: of a million rows each holds more, so that the files can be copied about. */
const MOST_CHUNKS = 6250

/** How the rows of a collection are put into chunks. */
export interface RowLayout extends Pick<Catalogue['rows'], 'size' | 'group'> {
  /** The first rows of the groups of chunks that share a name, and the number of all rows at the end. */
  readonly bounds: readonly number[]
}

/** Lays out the rows of a collection. */
export function layOutRows(count: number): RowLayout {
  const size = count <= TOGETHER ? Math.max(1, count) : Math.max(ROWS_A_CHUNK, Math.ceil(count / MOST_CHUNKS))
  return groupChunks(count, size, MOST_NAMES)
}

/** Puts chunks of a size into as many groups as there are names for them, about. */
export function groupChunks(count: number, size: number, mostNames: number): RowLayout {
  const group = Math.max(1, Math.ceil(count / size / mostNames))
  const step = group * size
  const bounds = Array.from({ length: Math.ceil(count / step) }, (_, at) => at * step)
  return { size, group, bounds: [...bounds, count] }
}

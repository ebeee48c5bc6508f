import {
  BLOCK_PAIRS,
  type ChunkNames,
  codeOf,
  MOST_CODES,
  type OrderBlock,
  type Packing,
  type StoredCounts,
  type StoredIndex,
} from '../query/catalogue.ts'
import type { Scalar } from '../query/condition.ts'
import type { Postings } from './collect-values.ts'

/** Keeps a chunk of an index and gives its name. */
export type AddChunk = (content: unknown) => string

/** The number of rows up to which their codes are in the catalogue itself. */
const INLINE_ROWS = 512
/** The number of pairs of a value and a row up to which they are in the catalogue itself. */
const INLINE_PAIRS = 128

/** The number of values up to which their counts have a chunk of their own, so that a facet need not read all rows. */
const COUNTED_VALUES = 2048

/** Builds the index of a path over so many rows. Small ones stay whole, others have chunks. */
export function buildIndex({ rows, isSingle }: Postings, count: number, addChunk: AddChunk): StoredIndex {
  const keys = [...rows.keys()]
  // Texts are compared by the engine itself in the same order, in a third of the time.
  const isText = keys.every((value) => typeof value === 'string')
  const values = isText ? keys.sort() : keys.sort((a, b) => (a < b ? -1 : 1))
  const sorted = values.map((value) => rows.get(value) ?? [])
  return isSingle && values.length < MOST_CODES
    ? buildCodes(values, sorted, { count, addChunk })
    : buildOrder(values, sorted, addChunk)
}

function buildCodes(
  values: readonly Scalar[],
  rows: readonly (readonly number[])[],
  { count, addChunk }: { readonly count: number; readonly addChunk: AddChunk },
): StoredIndex {
  const counts = rows.map((own) => own.length)
  const total = counts.reduce((sum, own) => sum + own, 0)
  const isFull = total === count
  const base = Math.max(2, values.length + (isFull ? 0 : 1))
  const packing = { base, rows: Math.max(1, Math.floor(Math.log(MOST_CODES) / Math.log(base))) }
  const numbers = new Uint8Array(count).fill(values.length)
  for (const [at, own] of rows.entries()) for (const row of own) numbers[row] = at
  const codes = packCodes(numbers, packing)
  const index = { first: values.slice(0, 1), offsets: [0, total], dictionary: { values, counts, packing } }
  return count <= INLINE_ROWS ? { ...index, block: codes } : { ...index, names: addChunk(codes) }
}

function packCodes(numbers: Uint8Array, { base, rows }: Packing): string {
  const bytes = new Uint8Array(Math.ceil(numbers.length / rows))
  for (let at = 0; at < bytes.length; at++) {
    let packed = 0
    for (let row = Math.min(numbers.length, (at + 1) * rows) - 1; row >= at * rows; row--)
      packed = packed * base + (numbers[row] as number)
    bytes[at] = codeOf(packed)
  }
  return new TextDecoder().decode(bytes)
}

function buildOrder(values: readonly Scalar[], rows: readonly (readonly number[])[], addChunk: AddChunk): StoredIndex {
  const blocks: OrderBlock[] = []
  const offsets = [0]
  let first = 0
  let pairs = 0
  const close = (end: number): void => {
    if (end === first) return
    blocks.push(createBlock(values.slice(first, end), rows.slice(first, end)))
    offsets.push((offsets.at(-1) ?? 0) + pairs)
    first = end
    pairs = 0
  }
  for (const [at, own] of rows.entries()) {
    if (pairs > 0 && pairs + own.length > BLOCK_PAIRS) close(at)
    pairs += own.length
  }
  close(values.length)
  const index = { first: blocks.map((block) => block.values[0] as Scalar), offsets }
  const [only] = blocks
  return only && blocks.length === 1 && (offsets[1] ?? 0) <= INLINE_PAIRS
    ? { ...index, block: only }
    : { ...index, names: blocks.map(addChunk).join(''), ...countRows(values, rows, addChunk) }
}

/** How many rows each value has; of many values nobody asks for all. */
function countRows(
  values: readonly Scalar[],
  rows: readonly (readonly number[])[],
  addChunk: AddChunk,
): Pick<StoredIndex, 'counts'> {
  if (values.length > COUNTED_VALUES) return {}
  const counts: StoredCounts = [values, rows.map((own) => own.length)]
  return { counts: addChunk(counts) }
}

function createBlock(values: readonly Scalar[], rows: readonly (readonly number[])[]): OrderBlock {
  const counts = rows.map((own) => own.length)
  const steps = rows.flatMap(encodeDeltas)
  return counts.every((count) => count === 1) ? { values, rows: steps } : { values, counts, rows: steps }
}

/** Rows as the first and the steps from one to the next. */
export const encodeDeltas = (rows: readonly number[]): number[] =>
  rows.map((row, at) => (at === 0 ? row : row - (rows[at - 1] as number)))

/** The number of names up to which they are in the catalogue itself. */
const INLINE_NAMES = 64

/** Says where chunks with something of every row are; many names have a chunk of their own. */
export function listChunks(names: readonly string[], size: number, addChunk: AddChunk): ChunkNames {
  const all = names.join('')
  return names.length <= INLINE_NAMES ? { size, names: all } : { size, list: addChunk(all) }
}

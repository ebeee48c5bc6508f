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
import type { PostingLists } from './posting-lists.ts'

/** Keeps a chunk of an index and gives its name. */
export type AddChunk = (content: unknown) => string

/** The number of rows up to which their codes are in the catalogue itself. */
const INLINE_ROWS = 512
/** The number of pairs of a value and a row up to which they are in the catalogue itself. */
const INLINE_PAIRS = 128

/** The number of values up to which their counts have a chunk of their own, so that a facet need not read all rows. */
const COUNTED_VALUES = 2048

/** Builds the index of a path over so many rows. Small ones stay whole, others have chunks. */
export function buildIndex(postings: Postings, count: number, addChunk: AddChunk): StoredIndex {
  return postings.isSingle && postings.values.length < MOST_CODES
    ? buildCodes(postings, count, addChunk)
    : buildOrder(postings, addChunk)
}

function buildCodes(postings: PostingLists, count: number, addChunk: AddChunk): StoredIndex {
  const { values, starts, rows } = postings
  const counts = countsOf(postings, 0, values.length)
  const total = rows.length
  const isFull = total === count
  const base = Math.max(2, values.length + (isFull ? 0 : 1))
  const packing = { base, rows: Math.max(1, Math.floor(Math.log(MOST_CODES) / Math.log(base))) }
  const numbers = new Uint8Array(count).fill(values.length)
  for (let at = 0; at < values.length; at++)
    for (let pair = starts[at] as number; pair < (starts[at + 1] as number); pair++) numbers[rows[pair] as number] = at
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

/** How many rows each value has, from one place up to another. */
const countsOf = ({ starts }: PostingLists, first: number, end: number): number[] =>
  Array.from({ length: end - first }, (_, at) => (starts[first + at + 1] as number) - (starts[first + at] as number))

function buildOrder(postings: PostingLists, addChunk: AddChunk): StoredIndex {
  const { values, starts } = postings
  const blocks: OrderBlock[] = []
  const offsets = [0]
  let first = 0
  const close = (end: number): void => {
    blocks.push(createBlock(postings, first, end))
    offsets.push(starts[end] as number)
    first = end
  }
  for (let at = 1; at < values.length; at++)
    if ((starts[at + 1] as number) - (starts[first] as number) > BLOCK_PAIRS) close(at)
  close(values.length)
  const index = { first: blocks.map((block) => block.values[0] as Scalar), offsets }
  const [only] = blocks
  return only && blocks.length === 1 && (offsets[1] ?? 0) <= INLINE_PAIRS
    ? { ...index, block: only }
    : { ...index, names: blocks.map(addChunk).join(''), ...countRows(postings, addChunk) }
}

/** How many rows each value has; of many values nobody asks for all. */
function countRows(postings: PostingLists, addChunk: AddChunk): Pick<StoredIndex, 'counts'> {
  const { values } = postings
  if (values.length > COUNTED_VALUES) return {}
  const counts: StoredCounts = [values, countsOf(postings, 0, values.length)]
  return { counts: addChunk(counts) }
}

/** The values from one place up to another, with their rows, each list as its first and the steps from one to the next. */
function createBlock(postings: PostingLists, first: number, end: number): OrderBlock {
  const { starts, rows } = postings
  const values = postings.values.slice(first, end)
  const counts = countsOf(postings, first, end)
  const from = starts[first] as number
  const steps = Array.from(rows.subarray(from, starts[end]))
  for (let at = first; at < end; at++)
    for (let pair = (starts[at + 1] as number) - 1; pair > (starts[at] as number); pair--)
      steps[pair - from] = (rows[pair] as number) - (rows[pair - 1] as number)
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

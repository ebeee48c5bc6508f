import {
  BLOCK_PAIRS,
  codeOf,
  type Digits,
  MOST_CODES,
  type OrderBlock,
  type PartNames,
  type StoredIndex,
} from '../query/catalogue.ts'
import type { Scalar } from '../query/condition.ts'
import type { Postings } from './collect-values.ts'

/** Keeps a part of an index and gives its name. */
export type KeepPart = (content: unknown) => string

/** So many rows have their codes in the catalogue itself. */
const INLINE_ROWS = 512
/** So many pairs of a value and a row are in the catalogue itself. */
const INLINE_PAIRS = 128

/** Builds the index of a path over so many rows. Small ones stay whole, others have parts. */
export function buildIndex({ rows, isSingle }: Postings, count: number, keep: KeepPart): StoredIndex {
  const values = [...rows.keys()].sort((a, b) => (a < b ? -1 : 1))
  const sorted = values.map((value) => rows.get(value) ?? [])
  return isSingle && values.length < MOST_CODES
    ? buildCodes(values, sorted, { count, keep })
    : buildOrder(values, sorted, keep)
}

function buildCodes(
  values: readonly Scalar[],
  rows: readonly (readonly number[])[],
  { count, keep }: { readonly count: number; readonly keep: KeepPart },
): StoredIndex {
  const counts = rows.map((own) => own.length)
  const total = counts.reduce((sum, own) => sum + own, 0)
  const isFull = total === count
  const base = Math.max(2, values.length + (isFull ? 0 : 1))
  const digits = { base, rows: Math.max(1, Math.floor(Math.log(MOST_CODES) / Math.log(base))) }
  const numbers = new Uint8Array(count).fill(values.length)
  for (const [at, own] of rows.entries()) for (const row of own) numbers[row] = at
  const codes = packDigits(numbers, digits)
  const index = { first: values.slice(0, 1), starts: [0, total], few: { values, counts, digits } }
  return count <= INLINE_ROWS ? { ...index, block: codes } : { ...index, names: keep(codes) }
}

function packDigits(numbers: Uint8Array, { base, rows }: Digits): string {
  const bytes = new Uint8Array(Math.ceil(numbers.length / rows))
  for (let at = 0; at < bytes.length; at++) {
    let packed = 0
    for (let row = Math.min(numbers.length, (at + 1) * rows) - 1; row >= at * rows; row--)
      packed = packed * base + (numbers[row] as number)
    bytes[at] = codeOf(packed)
  }
  return new TextDecoder().decode(bytes)
}

function buildOrder(values: readonly Scalar[], rows: readonly (readonly number[])[], keep: KeepPart): StoredIndex {
  const blocks: OrderBlock[] = []
  const starts = [0]
  let first = 0
  let pairs = 0
  const close = (end: number): void => {
    if (end === first) return
    blocks.push(createBlock(values.slice(first, end), rows.slice(first, end)))
    starts.push((starts.at(-1) ?? 0) + pairs)
    first = end
    pairs = 0
  }
  for (const [at, own] of rows.entries()) {
    if (pairs > 0 && pairs + own.length > BLOCK_PAIRS) close(at)
    pairs += own.length
  }
  close(values.length)
  const index = { first: blocks.map((block) => block.values[0] as Scalar), starts }
  const [only] = blocks
  return only && blocks.length === 1 && (starts[1] ?? 0) <= INLINE_PAIRS
    ? { ...index, block: only }
    : { ...index, names: blocks.map(keep).join('') }
}

function createBlock(values: readonly Scalar[], rows: readonly (readonly number[])[]): OrderBlock {
  const counts = rows.map((own) => own.length)
  const steps = rows.flatMap(toSteps)
  return counts.every((count) => count === 1) ? { values, rows: steps } : { values, counts, rows: steps }
}

/** Rows as the first and the steps from one to the next. */
export const toSteps = (rows: readonly number[]): number[] =>
  rows.map((row, at) => (at === 0 ? row : row - (rows[at - 1] as number)))

/** So many names stand in the catalogue itself. */
const INLINE_NAMES = 64

/** Says where parts with something of every row are; many names have a part of their own. */
export function listParts(names: readonly string[], size: number, keep: KeepPart): PartNames {
  const all = names.join('')
  return names.length <= INLINE_NAMES ? { size, names: all } : { size, list: keep(all) }
}

import {
  type BlockContent,
  nameAt,
  numberOf,
  type OrderBlock,
  type StoredCounts,
  type StoredIndex,
  type ValueDictionary,
} from './catalogue.ts'
import type { Scalar } from './condition.ts'
import { getOrCreate } from './get-or-create.ts'
import type { Meter } from './open-site.ts'
import { type Bound, countBefore, decodeDeltas, type PostingList, type RowMerger, readOffsets } from './posting-list.ts'
import { boundsOf, compileTest, isRange, type ValueQuestion } from './test-value.ts'
import type { TrigramHead } from './trigram-format.ts'

/** The rows of one value. */
export interface ValueGroup {
  readonly value: Scalar
  readonly rows: PostingList
}

/** The index of a path: from values to rows. */
export interface FieldIndex {
  /** An upper bound of the rows that a test lets pass, as far as can be told without loading anything. */
  estimate(asked: ValueQuestion): number
  /** The rows with a value that passes. */
  find(asked: ValueQuestion, read: Meter): Promise<PostingList>
  /** The values that pass, in order, where all of them are there; among them are those that a test must rule out. */
  findNow(asked: ValueQuestion): readonly BlockRange[] | undefined
  /** The rows of values that {@link findNow} gave. */
  rowsOf(asked: ValueQuestion, ranges: readonly BlockRange[]): PostingList
  /** All values in order, or from the last to the first, with their rows, block after block. */
  walk(isDescending: boolean, read: Meter): AsyncGenerator<readonly ValueGroup[]>
  /** All values in order with their rows. */
  all(read: Meter): Promise<readonly ValueGroup[]>
  /** How many rows each value has, where that is known without loading all rows. */
  counts(read: Meter): Promise<readonly (readonly [value: Scalar, count: number])[] | undefined>
  /** How many pairs of a value and a row there are. */
  readonly pairs: number
  /** Entries with a value, once they were asked for. */
  readonly answers: Map<Scalar, readonly unknown[]>
}

/** Loads a part of the collection by its name. */
export type ChunkLoader = (name: string, read?: Meter) => Promise<unknown>

/** Some values in order and their rows, which may not be there yet. */
export interface Block {
  readonly values: readonly Scalar[]
  /** Where the rows of each value start, and the end of the last. */
  readonly offsets: Int32Array
  rows?: PostingList
}

/** Values of a block, by their numbers; of a block that is not there the block itself, by its number. */
export type BlockRange = readonly [at: number, from: number, to: number, block?: Block]

/** Opens an index of a collection. */
export function openIndex(
  { first, offsets, block, names = '', dictionary, counts: stored, trigrams }: StoredIndex,
  mergeRows: RowMerger,
  loadChunk: ChunkLoader,
): FieldIndex {
  // Of few values all is known but their rows.
  const blocks: (Block | undefined)[] = dictionary ? [createBlock(dictionary)] : []
  const loading = new Map<number, Promise<Block>>()
  const open = (at: number, content: BlockContent): Block => {
    const known = blocks[at] ?? createBlock(content as OrderBlock)
    blocks[at] = known
    known.rows ??= dictionary
      ? readCodes(content as string, dictionary, known.offsets)
      : decodeDeltas((content as OrderBlock).rows, known.offsets)
    return known
  }
  if (block !== undefined) open(0, block)

  const load = async (at: number, read: Meter): Promise<Block> => {
    const known = blocks[at]
    if (known?.rows) return known
    return getOrCreate(loading, at, async () => open(at, (await loadChunk(nameAt(names, at), read)) as BlockContent))
  }

  const findRanges = (asked: ValueQuestion): BlockRange[] => {
    const ranges: BlockRange[] = []
    for (const bound of boundsOf(asked)) {
      const [before, end] = rangeIn(first, bound)
      for (let at = Math.max(0, before - 1); at < end; at++) {
        const known = blocks[at]
        ranges.push(known ? [at, ...rangeIn(known.values, bound), known] : [at, at, at + 1])
      }
    }
    return ranges
  }

  const rowsOf = (asked: ValueQuestion, ranges: readonly BlockRange[]): PostingList => {
    const passes = isRange(asked) ? undefined : compileTest(asked)
    const lists: PostingList[] = []
    let values = 0
    for (const [, from, to, block] of ranges as Required<BlockRange>[]) {
      values += to - from
      // Rows of values beside each other are beside each other too.
      if (!passes && to > from + 1) lists.push(rowsIn(block, from, to))
      else
        for (let value = from; value < to; value++)
          if (!passes || passes(block.values[value] as Scalar)) lists.push(rowsAt(block, value))
    }
    return values === 1 && lists[0] ? lists[0] : mergeRows(lists)
  }

  const groupsAt = async (at: number, read: Meter): Promise<ValueGroup[]> => {
    const known = await load(at, read)
    return known.values.map((value, number) => ({ value, rows: rowsAt(known, number) }))
  }

  return {
    pairs: offsets.at(-1) ?? 0,
    answers: new Map(),
    async counts(read) {
      const loaded = stored === undefined ? undefined : ((await loadChunk(stored, read)) as StoredCounts)
      const [values, counts] = loaded ?? [dictionary?.values, dictionary?.counts]
      return values?.map((value, at) => [value, counts?.[at] as number])
    },
    estimate: (asked) =>
      findRanges(asked).reduce((sum, [, from, to, block]) => sum + sizeOf(block?.offsets ?? offsets, from, to), 0),
    async find(asked, read) {
      const wanted = String(asked.values[0])
      if (trigrams && asked.operator === 'includes' && wanted.length > 2) {
        const load: ChunkLoader = (name) => loadChunk(name, read)
        const { findSubstring } = await import('./trigrams.ts')
        return findSubstring((await load(trigrams)) as TrigramHead, wanted, { nameAt, load })
      }
      const ranges = findRanges(asked)
      if (isThere(ranges)) return rowsOf(asked, ranges)
      await Promise.all(ranges.map(([at]) => load(at, read)))
      return rowsOf(asked, findRanges(asked))
    },
    findNow(asked) {
      const ranges = findRanges(asked)
      return isThere(ranges) ? ranges : undefined
    },
    rowsOf,
    all: async (read) => (await Promise.all(first.map((_, at) => groupsAt(at, read)))).flat(),
    async *walk(isDescending, read) {
      for (const at of first.keys()) {
        const groups = await groupsAt(isDescending ? first.length - 1 - at : at, read)
        yield isDescending ? groups.reverse() : groups
      }
    },
  }
}

const createBlock = ({ values, counts }: Omit<OrderBlock, 'rows'>): Block => ({
  values,
  offsets: readOffsets(values.length, counts),
})

const isThere = (ranges: readonly BlockRange[]): boolean => ranges.every(([, , , block]) => block?.rows)

/** The numbers of the first value in a range, and of the first behind it. */
function rangeIn(values: readonly Scalar[], bound: Bound<Scalar>): [from: number, to: number] {
  const from = countBefore(values, bound)
  return [from, countBefore(values, bound, 1, from)]
}

const sizeOf = (offsets: ArrayLike<number>, from: number, to: number): number =>
  (offsets[to] as number) - (offsets[from] as number)

const rowsIn = ({ rows, offsets }: Block, from: number, to: number): PostingList =>
  (rows as PostingList).subarray(offsets[from], offsets[to])

const rowsAt = (block: Block, value: number): PostingList => rowsIn(block, value, value + 1)

/** The rows of every value, one behind the other, from the codes of the rows. */
function readCodes(codes: string, { packing: { base, rows } }: ValueDictionary, offsets: Int32Array): Int32Array {
  const next = offsets.slice()
  const found = new Int32Array(offsets.at(-1) as number)
  for (let at = 0; at < codes.length; at++) {
    let packed = numberOf(codes.charCodeAt(at))
    for (let row = at * rows; row < (at + 1) * rows; row++) {
      const number = packed % base
      packed = (packed - number) / base
      // What stands for no value, and behind the last row, is outside of all.
      if ((next[number] as number) < (offsets[number + 1] as number)) {
        found[next[number] as number] = row
        next[number] = (next[number] as number) + 1
      }
    }
  }
  return found
}

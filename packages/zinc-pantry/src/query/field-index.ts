import { type BlockContent, type FewValues, nameAt, numberOf, type OrderBlock, type StoredIndex } from './catalogue.ts'
import type { Scalar } from './condition.ts'
import type { Meter } from './open-site.ts'
import { remember } from './remember.ts'
import { countBefore, mergeRows, type RowSet, readStarts, readSteps, type Side } from './row-set.ts'
import { compileTest, isStretch, sidesOf, type ValueQuestion } from './test-value.ts'

/** The rows of one value. */
export interface ValueGroup {
  readonly value: Scalar
  readonly rows: RowSet
}

/** The index of a path: from values to rows. */
export interface FieldIndex {
  /** An upper bound of the rows that a test lets pass, as far as can be told without loading anything. */
  estimate(asked: ValueQuestion): number
  /** The rows with a value that passes. */
  find(asked: ValueQuestion, read: Meter): Promise<RowSet>
  /** The values that pass, in order, where all of them are there; among them are those that a test must rule out. */
  findNow(asked: ValueQuestion): readonly Piece[] | undefined
  /** The rows of values that {@link findNow} gave. */
  rowsOf(asked: ValueQuestion, pieces: readonly Piece[]): RowSet
  /** All values in order, or from the last to the first, with their rows, block after block. */
  walk(isDescending: boolean, read: Meter): AsyncGenerator<readonly ValueGroup[]>
  /** All values in order with their rows. */
  all(read: Meter): Promise<readonly ValueGroup[]>
  /** How many rows each value has, where that is known without loading anything. */
  readonly counts?: readonly (readonly [value: Scalar, count: number])[] | undefined
  /** How many pairs of a value and a row there are. */
  readonly pairs: number
  /** Entries with a value, once they were asked for. */
  readonly answers: Map<Scalar, readonly unknown[]>
}

/** Loads a part of the collection by its name. */
export type PartLoader = (name: string, read?: Meter) => Promise<unknown>

/** Some values in order and their rows, which may not be there yet. */
export interface Block {
  readonly values: readonly Scalar[]
  /** Where the rows of each value start, and the end of the last. */
  readonly starts: Int32Array
  rows?: RowSet
}

/** Values of a block, by their numbers; of a block that is not there the block itself, by its number. */
export type Piece = readonly [at: number, from: number, to: number, block?: Block]

/** Opens an index of a collection with so many rows. */
export function openIndex(
  { first, starts, block, names = '', few }: StoredIndex,
  count: number,
  loadPart: PartLoader,
): FieldIndex {
  // Of few values all is known but their rows.
  const blocks: (Block | undefined)[] = few ? [createBlock(few)] : []
  const loading = new Map<number, Promise<Block>>()
  const open = (at: number, content: BlockContent): Block => {
    const known = blocks[at] ?? createBlock(content as OrderBlock)
    blocks[at] = known
    known.rows ??= few
      ? readCodes(content as string, few, known.starts)
      : readSteps((content as OrderBlock).rows, known.starts)
    return known
  }
  if (block !== undefined) open(0, block)

  const load = async (at: number, read: Meter): Promise<Block> => {
    const known = blocks[at]
    if (known?.rows) return known
    return remember(loading, at, async () => open(at, (await loadPart(nameAt(names, at), read)) as BlockContent))
  }

  const cover = (asked: ValueQuestion): Piece[] => {
    const pieces: Piece[] = []
    for (const side of sidesOf(asked)) {
      const [before, end] = rangeIn(first, side)
      for (let at = Math.max(0, before - 1); at < end; at++) {
        const known = blocks[at]
        pieces.push(known ? [at, ...rangeIn(known.values, side), known] : [at, at, at + 1])
      }
    }
    return pieces
  }

  const rowsOf = (asked: ValueQuestion, pieces: readonly Piece[]): RowSet => {
    const passes = isStretch(asked) ? undefined : compileTest(asked)
    const lists: RowSet[] = []
    let values = 0
    for (const [, from, to, block] of pieces as Required<Piece>[]) {
      values += to - from
      // Rows of values beside each other are beside each other too.
      if (!passes && to > from + 1) lists.push(rowsIn(block, from, to))
      else
        for (let value = from; value < to; value++)
          if (!passes || passes(block.values[value] as Scalar)) lists.push(rowsAt(block, value))
    }
    return values === 1 && lists[0] ? lists[0] : mergeRows(lists, count)
  }

  const groupsAt = async (at: number, read: Meter): Promise<ValueGroup[]> => {
    const known = await load(at, read)
    return known.values.map((value, number) => ({ value, rows: rowsAt(known, number) }))
  }

  return {
    pairs: starts.at(-1) ?? 0,
    answers: new Map(),
    counts: few?.values.map((value, at) => [value, few.counts[at] as number]),
    estimate: (asked) =>
      cover(asked).reduce((sum, [, from, to, block]) => sum + sizeOf(block?.starts ?? starts, from, to), 0),
    async find(asked, read) {
      const pieces = cover(asked)
      if (isThere(pieces)) return rowsOf(asked, pieces)
      await Promise.all(pieces.map(([at]) => load(at, read)))
      return rowsOf(asked, cover(asked))
    },
    findNow(asked) {
      const pieces = cover(asked)
      return isThere(pieces) ? pieces : undefined
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
  starts: readStarts(values.length, counts),
})

const isThere = (pieces: readonly Piece[]): boolean => pieces.every(([, , , block]) => block?.rows)

/** The numbers of the first value in a stretch, and of the first behind it. */
function rangeIn(values: readonly Scalar[], side: Side<Scalar>): [from: number, to: number] {
  const from = countBefore(values, side)
  return [from, countBefore(values, side, 1, from)]
}

const sizeOf = (starts: ArrayLike<number>, from: number, to: number): number =>
  (starts[to] as number) - (starts[from] as number)

const rowsIn = ({ rows, starts }: Block, from: number, to: number): RowSet =>
  (rows as RowSet).subarray(starts[from], starts[to])

const rowsAt = (block: Block, value: number): RowSet => rowsIn(block, value, value + 1)

/** The rows of every value, one behind the other, from the codes of the rows. */
function readCodes(codes: string, { digits: { base, rows } }: FewValues, starts: Int32Array): Int32Array {
  const next = starts.slice()
  const found = new Int32Array(starts.at(-1) as number)
  for (let at = 0; at < codes.length; at++) {
    let packed = numberOf(codes.charCodeAt(at))
    for (let row = at * rows; row < (at + 1) * rows; row++) {
      const number = packed % base
      packed = (packed - number) / base
      // What stands for no value, and behind the last row, is outside of all.
      if ((next[number] as number) < (starts[number + 1] as number)) {
        found[next[number] as number] = row
        next[number] = (next[number] as number) + 1
      }
    }
  }
  return found
}

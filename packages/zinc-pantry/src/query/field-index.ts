import {
  FIRST_CODE,
  NAME_LENGTH,
  type OrderBlock,
  type StoredCodes,
  type StoredIndex,
  type StoredOrder,
} from './catalogue.ts'
import type { Operator, Scalar } from './condition.ts'
import { mergeRows, NO_ROWS, type RowSet, uniteRows } from './row-set.ts'
import { compileTest, isStretch, stretchesOf } from './test-value.ts'

/** The rows of one value. */
export interface ValueGroup {
  readonly value: Scalar
  readonly rows: RowSet
}

/** The index of a path: from values to rows. */
export interface FieldIndex {
  /** An upper bound of the rows that a test lets pass, as far as can be told without loading anything. */
  estimate(operator: Operator, values: readonly Scalar[]): number
  /** The rows with a value that passes. */
  find(operator: Operator, values: readonly Scalar[], load: PartLoader): Promise<RowSet>
  /** All values in order with their rows, block after block. */
  walk(direction: 'ascending' | 'descending', load: PartLoader): AsyncIterable<readonly ValueGroup[]>
  /** How many marked rows each value has; without marks, how many rows. */
  count(marks: Uint8Array | undefined, load: PartLoader): Promise<readonly { value: Scalar; count: number }[]>
  /** How many values there are, as far as is known, and pairs of a value and a row. */
  readonly pairs: number
}

/** Loads a part of the collection by its name. */
export type PartLoader = (name: string) => Promise<unknown>

/** Opens an index of a collection with so many rows. */
export const openIndex = (stored: StoredIndex, count: number): FieldIndex =>
  stored.kind === 'codes' ? openCodes(stored, count) : openOrder(stored, count)

function openCodes({ values, counts, codes, name = '' }: StoredCodes, count: number): FieldIndex {
  let groups: ValueGroup[] | undefined
  const load = async (loadPart: PartLoader): Promise<readonly ValueGroup[]> => {
    groups ??= groupCodes(codes ?? String(await loadPart(name)), { values, counts })
    return groups
  }
  const passing = (operator: Operator, wanted: readonly Scalar[]): number[] => {
    const test = compileTest(operator, wanted)
    return values.flatMap((value, at) => (test(value) ? [at] : []))
  }
  return {
    pairs: counts.reduce((sum, size) => sum + size, 0),
    estimate: (operator, wanted) => passing(operator, wanted).reduce((sum, at) => sum + (counts[at] ?? 0), 0),
    async find(operator, wanted, loadPart) {
      const found = passing(operator, wanted)
      if (found.length === 0) return NO_ROWS
      const all = groups ?? (await load(loadPart))
      return uniteRows(
        found.map((at) => all[at]?.rows ?? NO_ROWS),
        count,
      )
    },
    count: async (marks, loadPart) =>
      marks
        ? countGroups(groups ?? (await load(loadPart)), marks)
        : values.map((value, at) => ({ value, count: counts[at] ?? 0 })),
    async *walk(direction, loadPart) {
      const all = groups ?? (await load(loadPart))
      yield direction === 'ascending' ? all : all.toReversed()
    },
  }
}

function groupCodes(codes: string, { values, counts }: Pick<StoredCodes, 'values' | 'counts'>): ValueGroup[] {
  const groups = values.map((value, at) => ({ value, rows: new Int32Array(counts[at] ?? 0) }))
  const filled = new Int32Array(values.length)
  for (let row = 0; row < codes.length; row++) {
    const at = codes.charCodeAt(row) - FIRST_CODE - 1
    if (at < 0) continue
    const group = groups[at] as ValueGroup
    group.rows[filled[at] as number] = row
    filled[at] = (filled[at] as number) + 1
  }
  return groups
}

/** A block, its rows ready. */
interface OpenBlock {
  readonly values: readonly Scalar[]
  /** Where the rows of each value start, and the end. */
  readonly starts: Int32Array
  readonly rows: Int32Array
}

function openOrder({ first, starts, block, names = '' }: StoredOrder, count: number): FieldIndex {
  const blocks: (OpenBlock | undefined)[] = block ? [openBlock(block)] : []
  const load = async (at: number, loadPart: PartLoader): Promise<OpenBlock> => {
    blocks[at] ??= openBlock((await loadPart(names.substr(at * NAME_LENGTH, NAME_LENGTH))) as OrderBlock)
    return blocks[at]
  }
  /** The blocks that a test cannot rule out. */
  const blocksFor = (operator: Operator, wanted: readonly Scalar[]): number[] => {
    const stretches = stretchesOf(operator, wanted)
    return [...first.keys()].filter((at) => {
      const next = first[at + 1]
      return stretches.some(
        ({ before, behind }) => !behind(first[at] as Scalar) && (next === undefined || !before(next)),
      )
    })
  }
  return {
    pairs: starts.at(-1) ?? 0,
    estimate: (operator, wanted) =>
      blocksFor(operator, wanted).reduce((sum, at) => {
        const open = blocks[at]
        if (!open) return sum + (starts[at + 1] ?? 0) - (starts[at] ?? 0)
        return sum + rangesIn(open, operator, wanted).reduce((size, [from, to]) => size + sizeOf(open, from, to), 0)
      }, 0),
    async find(operator, wanted, loadPart) {
      const sets: RowSet[] = []
      const opened = await Promise.all(blocksFor(operator, wanted).map((at) => blocks[at] ?? load(at, loadPart)))
      const test = isStretch(operator) ? undefined : compileTest(operator, wanted)
      let groups = 0
      for (const open of opened)
        for (const [from, to] of rangesIn(open, operator, wanted)) {
          groups += to - from
          // Rows of values beside each other are beside each other too.
          if (!test && to > from) sets.push(open.rows.subarray(open.starts[from], open.starts[to]))
          else for (let at = from; at < to; at++) if (test?.(open.values[at] as Scalar)) sets.push(groupAt(open, at))
        }
      return groups === 1 && sets[0] ? sets[0] : mergeRows(sets, count)
    },
    async count(marks, loadPart) {
      const opened = await Promise.all([...first.keys()].map((at) => blocks[at] ?? load(at, loadPart)))
      return opened.flatMap((open) => countGroups(groupsOf(open), marks))
    },
    async *walk(direction, loadPart) {
      const numbers = [...first.keys()]
      for (const at of direction === 'ascending' ? numbers : numbers.reverse()) {
        const open = blocks[at] ?? (await load(at, loadPart))
        const groups = groupsOf(open)
        yield direction === 'ascending' ? groups : groups.reverse()
      }
    },
  }
}

const groupAt = ({ rows, starts }: OpenBlock, at: number): RowSet => rows.subarray(starts[at], starts[at + 1])

const groupsOf = (open: OpenBlock): ValueGroup[] => open.values.map((value, at) => ({ value, rows: groupAt(open, at) }))

function countGroups(groups: readonly ValueGroup[], marks: Uint8Array | undefined) {
  return groups.map(({ value, rows }) => {
    let count = 0
    if (!marks) count = rows.length
    else for (const row of rows) count += marks[row] as number
    return { value, count }
  })
}

const sizeOf = ({ starts }: OpenBlock, from: number, to: number): number =>
  to > from ? (starts[to] as number) - (starts[from] as number) : 0

function openBlock({ values, counts, rows: steps }: OrderBlock): OpenBlock {
  const starts = new Int32Array(values.length + 1)
  const rows = Int32Array.from(steps)
  for (let at = 0; at < values.length; at++) {
    const start = starts[at] as number
    const end = start + (counts?.[at] ?? 1)
    for (let next = start + 1; next < end; next++) rows[next] = (rows[next] as number) + (rows[next - 1] as number)
    starts[at + 1] = end
  }
  return { values, starts, rows }
}

/** The ranges of numbers of values that the stretches of a test cover. */
function rangesIn({ values }: OpenBlock, operator: Operator, wanted: readonly Scalar[]): [from: number, to: number][] {
  return stretchesOf(operator, wanted).map(({ before, behind }) => {
    const from = countWhile(values, before)
    return [
      from,
      Math.max(
        from,
        countWhile(values, (value) => !behind(value)),
      ),
    ]
  })
}

/** How many values at the start pass a test that none behind them pass. */
function countWhile(values: readonly Scalar[], passes: (value: Scalar) => boolean): number {
  let low = 0
  let high = values.length
  while (low < high) {
    const middle = (low + high) >> 1
    if (passes(values[middle] as Scalar)) low = middle + 1
    else high = middle
  }
  return low
}

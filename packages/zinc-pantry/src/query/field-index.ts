import { nameAt, numberOf, type OrderBlock, type StoredCodes, type StoredIndex, type StoredOrder } from './catalogue.ts'
import type { Scalar } from './condition.ts'
import { countWhile, mergeRows, NO_ROWS, type RowLists, type RowSet, readSteps, uniteRows } from './row-set.ts'
import { compileTest, isStretch, stretchesOf, type ValueQuestion } from './test-value.ts'

/** The rows of one value. */
export interface ValueGroup {
  readonly value: Scalar
  readonly rows: RowSet
}

/** The index of a path: from values to rows. */
export interface FieldIndex {
  /** An upper bound of the rows that a test lets pass, as far as can be told without loading anything. */
  estimate(asked: ValueQuestion): number
  /** The rows with a value that passes; at once where all that is needed is there. */
  find(asked: ValueQuestion, load: PartLoader): RowSet | Promise<RowSet>
  /** The same in the order of the values, where it can be told at once. */
  findOrdered(asked: ValueQuestion): readonly OrderedRows[] | undefined
  /** All values in order with their rows, block after block. */
  walk(direction: 'ascending' | 'descending', load: PartLoader): AsyncIterable<readonly ValueGroup[]>
  /** All values in order with their rows. */
  all(load: PartLoader): Promise<readonly ValueGroup[]>
  /** How many rows each value has, where that is known without loading anything. */
  readonly counts?: readonly { readonly value: Scalar; readonly count: number }[]
  /** How many values there are, as far as is known, and pairs of a value and a row. */
  readonly pairs: number
}

/** A part of the rows of a block, which stand in the order of their values. */
export type OrderedRows = readonly [rows: Int32Array, from: number, to: number]

/** Loads a part of the collection by its name. */
export type PartLoader = (name: string) => Promise<unknown>

/** Opens an index of a collection with so many rows. */
export const openIndex = (stored: StoredIndex, count: number): FieldIndex =>
  stored.kind === 'codes' ? openCodes(stored, count) : openOrder(stored, count)

function openCodes({ values, counts, codes, digits, name = '' }: StoredCodes, count: number): FieldIndex {
  let groups: ValueGroup[] | undefined
  const load = async (loadPart: PartLoader): Promise<readonly ValueGroup[]> => {
    groups ??= groupCodes(codes ?? String(await loadPart(name)), { values, counts, digits }, count)
    return groups
  }
  const passing = (asked: ValueQuestion): number[] => {
    const test = compileTest(asked)
    return values.flatMap((value, at) => (test(value) ? [at] : []))
  }
  return {
    pairs: counts.reduce((sum, size) => sum + size, 0),
    estimate: (asked) => passing(asked).reduce((sum, at) => sum + (counts[at] ?? 0), 0),
    find(asked, loadPart) {
      const found = passing(asked)
      const pick = (all: readonly ValueGroup[]): RowSet =>
        uniteRows(
          found.map((at) => all[at]?.rows ?? NO_ROWS),
          count,
        )
      return found.length === 0 ? NO_ROWS : groups ? pick(groups) : load(loadPart).then(pick)
    },
    findOrdered: () => undefined,
    all: load,
    counts: values.map((value, at) => ({ value, count: counts[at] ?? 0 })),
    async *walk(direction, loadPart) {
      const all = groups ?? (await load(loadPart))
      yield direction === 'ascending' ? all : all.toReversed()
    },
  }
}

function groupCodes(
  codes: string,
  { values, counts, digits: { base, rows } }: Pick<StoredCodes, 'values' | 'counts' | 'digits'>,
  count: number,
): ValueGroup[] {
  const groups = values.map((value, at) => ({ value, rows: new Int32Array(counts[at] ?? 0) }))
  const filled = new Int32Array(values.length + 1)
  for (let at = 0; at < codes.length; at++) {
    let packed = numberOf(codes.charCodeAt(at))
    for (let row = at * rows; row < Math.min(count, (at + 1) * rows); row++) {
      const number = packed % base
      packed = (packed - number) / base
      const group = groups[number]
      if (group) group.rows[filled[number] as number] = row
      filled[number] = (filled[number] as number) + 1
    }
  }
  return groups
}

/** A block, its rows ready. */
interface OpenBlock extends RowLists {
  /** The sets of rows that were asked for, so that the same are given again. */
  readonly sets: (RowSet | undefined)[]
  readonly values: readonly Scalar[]
}

function openOrder({ first, starts, block, names = '' }: StoredOrder, count: number): FieldIndex {
  const blocks: (OpenBlock | undefined)[] = block ? [openBlock(block)] : []
  const loading: (Promise<OpenBlock> | undefined)[] = []
  const load = (at: number, loadPart: PartLoader): Promise<OpenBlock> => {
    loading[at] ??= loadPart(nameAt(names, at)).then(
      (content) => {
        blocks[at] ??= openBlock(content as OrderBlock)
        return blocks[at]
      },
      (error) => {
        // It may be tried again.
        loading[at] = undefined
        throw error
      },
    )
    return loading[at]
  }
  /** The blocks that a test cannot rule out. */
  const blocksFor = (asked: ValueQuestion): number[] => {
    const stretches = stretchesOf(asked)
    return [...first.keys()].filter((at) => {
      const next = first[at + 1]
      return stretches.some(
        ({ before, behind }) => !behind(first[at] as Scalar) && (next === undefined || !before(next)),
      )
    })
  }
  return {
    pairs: starts.at(-1) ?? 0,
    estimate: (asked) =>
      blocksFor(asked).reduce((sum, at) => {
        const open = blocks[at]
        if (!open) return sum + (starts[at + 1] ?? 0) - (starts[at] ?? 0)
        return sum + rangesIn(open, asked).reduce((size, [from, to]) => size + sizeOf(open, from, to), 0)
      }, 0),
    find(asked, loadPart) {
      const test = isStretch(asked) ? undefined : compileTest(asked)
      const pick = (opened: readonly OpenBlock[]): RowSet => {
        const lists: Int32Array[] = []
        let values = 0
        for (const open of opened)
          for (const [from, to] of rangesIn(open, asked)) {
            values += to - from
            // Rows of values beside each other are beside each other too.
            if (!test && to > from + 1) lists.push(open.rows.subarray(open.starts[from], open.starts[to]))
            else if (!test && to > from) lists.push(groupAt(open, from))
            else for (let at = from; at < to; at++) if (test?.(open.values[at] as Scalar)) lists.push(groupAt(open, at))
          }
        return values === 1 && lists[0] ? lists[0] : lists.length === 0 ? NO_ROWS : mergeRows(lists, count)
      }
      const numbers = blocksFor(asked)
      return numbers.every((at) => blocks[at])
        ? pick(numbers.map((at) => blocks[at] as OpenBlock))
        : Promise.all(numbers.map((at) => load(at, loadPart))).then(pick)
    },
    findOrdered(asked) {
      const numbers = blocksFor(asked)
      if (!isStretch(asked) || asked.operator === 'isOneOf' || !numbers.every((at) => blocks[at])) return undefined
      return numbers.map((at) => {
        const open = blocks[at] as OpenBlock
        const [[from, to] = [0, 0]] = rangesIn(open, asked)
        return [open.rows, open.starts[from] as number, open.starts[to] as number]
      })
    },
    all: async (loadPart) =>
      (await Promise.all([...first.keys()].map((at) => blocks[at] ?? load(at, loadPart)))).flatMap(groupsOf),
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

function groupAt({ rows, starts, sets }: OpenBlock, at: number): RowSet {
  sets[at] ??= rows.subarray(starts[at], starts[at + 1])
  return sets[at]
}

const groupsOf = (open: OpenBlock): ValueGroup[] => open.values.map((value, at) => ({ value, rows: groupAt(open, at) }))

const sizeOf = ({ starts }: OpenBlock, from: number, to: number): number =>
  to > from ? (starts[to] as number) - (starts[from] as number) : 0

const openBlock = ({ values, counts, rows }: OrderBlock): OpenBlock => ({
  values,
  sets: [],
  ...readSteps(rows, values.length, counts),
})

/** The ranges of numbers of values that the stretches of a test cover. */
function rangesIn({ values }: OpenBlock, asked: ValueQuestion): [from: number, to: number][] {
  return stretchesOf(asked).map(({ before, behind }) => {
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

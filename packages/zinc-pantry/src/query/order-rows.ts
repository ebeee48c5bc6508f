import { isComputed } from '../values/computed-steps.ts'
import { BLOCK_PAIRS, nameOfOrder, nameOfSort } from './catalogue.ts'
import { compareEntries, type KeyValues } from './compare-keys.ts'
import { byScore, type Scalar, type SortKey } from './condition.ts'
import type { FieldIndex } from './field-index.ts'
import { markRows, type PostingList } from './posting-list.ts'
import type { Table } from './run.ts'
import { selectValues } from './select-values.ts'

/** How rows are ordered, and how many are wanted. */
export interface Ordering {
  readonly table: Table
  readonly sort: readonly SortKey[]
  /** Rows from the start that are wanted; undefined for all. */
  readonly end?: number | undefined
  /** How near each row of the collection is to words that were searched for. */
  readonly scores?: Float32Array | undefined
}

/** Rows in an order, as many as are wanted at least, and the index that gave it. */
export interface Ordered {
  readonly rows: readonly number[] | PostingList
  readonly order?: string
}

/** Puts rows in order: by walking an index, or by the values of the rows. */
export async function orderRows(rows: PostingList, ordering: Ordering): Promise<Ordered> {
  const [first] = ordering.sort
  if (!first || rows.length < 2) return { rows }
  if (isOwnOrder(ordering)) return { rows, order: `${ordering.table.name}.${nameOfSort(ordering.sort)}` }
  const index = walkedIndex(rows.length, ordering)
  return index
    ? {
        rows: await walk(rows, index, ordering),
        order: `${ordering.table.name}.${nameOfOrder(first.path, first.collation)}`,
      }
    : { rows: await sortRows(Array.from(rows), ordering) }
}

/** True for the first keys of the order that the rows have anyway. */
const isOwnOrder = ({ table: { order }, sort }: Ordering): boolean =>
  nameOfSort(order.slice(0, sort.length)) === nameOfSort(sort) && sort.every(({ absent }) => absent !== 'first')

/** Starts to load the index that will give the order of about so many rows, while they are being looked for. */
export function prefetchOrder(size: number, ordering: Ordering): void {
  const index = ordering.end === undefined || isOwnOrder(ordering) ? undefined : walkedIndex(size, ordering)
  // What goes wrong is said where the order is needed.
  if (index)
    walkIndex(index, ordering)
      .next()
      .catch(() => undefined)
}

const walkIndex = (index: FieldIndex, { sort, table }: Ordering) =>
  index.walk(sort[0]?.direction === 'descending', table.run.read)

/** The index that gives the order, where walking it costs less than sorting. */
function walkedIndex(size: number, { table, sort: [first], end }: Ordering): FieldIndex | undefined {
  const index = first && first.absent !== 'first' ? table.orderIndex(first) : undefined
  if (!index) return undefined
  const share = size / table.count
  if (end === undefined) return share > 1 / 8 ? index : undefined
  const blocks = Math.ceil(Math.min(index.pairs, end / share) / BLOCK_PAIRS)
  return blocks * 4 <= Math.min(size, table.chunkCount) || share > 1 / 2 ? index : undefined
}

/** Takes rows in the order of an index; those without a value come last. */
async function walk(rows: PostingList, index: FieldIndex, ordering: Ordering): Promise<number[]> {
  const { table, sort, end = rows.length } = ordering
  const left = markRows(rows, table.count)
  const taken: number[] = []
  const take = async (all: PostingList): Promise<void> => {
    const group: number[] = []
    for (const row of all) if (left[row]) group.push(row)
    const isTied = sort.length > 1 && group.length > 1
    for (const row of isTied ? await sortRows(group, { ...ordering, sort: sort.slice(1) }) : group) {
      taken.push(row)
      left[row] = 0
    }
  }
  for await (const groups of walkIndex(index, ordering))
    for (const group of groups) {
      await take(group.rows)
      if (taken.length >= end) return taken
    }
  await take(rows)
  return taken
}

/** Sorts rows by the values of their entries; equal ones stay in the order of the rows. */
async function sortRows(rows: readonly number[], ordering: Ordering): Promise<number[]> {
  const compare = compareEntries(ordering.sort)
  ordering.table.run.sorted += rows.length
  const values = await sortedValues(rows, ordering)
  const ordered = rows.map((row, at) => ({ row, values: values[at] as KeyValues }))
  return ordered.sort((a, b) => compare(a.values, b.values) || a.row - b.row).map(({ row }) => row)
}

/** The keys that rows are sorted by. */
export async function sortedValues(rows: ArrayLike<number>, { table, sort, scores }: Ordering): Promise<KeyValues[]> {
  let loaded: ReturnType<Table['entries']> | undefined
  const entries = (): ReturnType<Table['entries']> => {
    loaded ??= table.entries(rows)
    return loaded
  }
  const columns = await Promise.all(
    sort.map(async ({ path }): Promise<ArrayLike<unknown>> => {
      if (path[0] === byScore.path[0]) return Array.from(rows, (row) => scores?.[row] ?? 0)
      if (!isComputed(path)) return selectValues(table, await entries(), path)
      // What is computed of a value with an index takes no entries.
      const { valuesOfRows } = await import('./row-values.ts')
      return (await valuesOfRows(table, path, rows)).map(([value = null]) => value)
    }),
  )
  return Array.from(rows, (_, at) => columns.map((column) => column[at] as Scalar | null))
}

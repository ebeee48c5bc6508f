import { BLOCK_PAIRS } from './catalogue.ts'
import type { Scalar, SortKey } from './condition.ts'
import type { FieldIndex } from './field-index.ts'
import type { OpenCollection } from './open-collection.ts'
import { markRows, type RowSet } from './row-set.ts'
import { entriesAt, type Run } from './run.ts'
import { isOwnValue, selectValues } from './select-values.ts'
import type { Shape } from './shape.ts'

/** What is ordered, and how much of it is wanted. */
export interface Ordering {
  readonly run: Run
  readonly collection: OpenCollection
  readonly shape: Shape
  readonly keys: readonly SortKey[]
  /** Rows from the start that are wanted; undefined for all. */
  readonly wanted: number | undefined
}

/** Rows in an order, as many as are wanted at least, and the index that gave it. */
export interface Ordered {
  readonly rows: readonly number[] | RowSet
  readonly index?: string
}

/** Puts rows in order: by walking an index, or by the values of the rows. */
export async function orderRows(rows: RowSet, ordering: Ordering): Promise<Ordered> {
  const { collection, keys } = ordering
  const [first] = keys
  if (!first || rows.length < 2) return { rows }
  const index = walkedIndex(rows.length, ordering)
  return index
    ? { rows: await walk(rows, index, ordering), index: `${collection.name}.${first.path.join('.')}` }
    : { rows: await sortRows(rows, ordering) }
}

/** Starts to load the index that will give the order of about so many rows, while they are being looked for. */
export function prefetchOrder(size: number, ordering: Ordering): void {
  const { run, collection, keys, wanted } = ordering
  const index = keys[0] && wanted !== undefined ? walkedIndex(size, ordering) : undefined
  // What goes wrong is said where the order is needed.
  index
    ?.walk(keys[0]?.direction ?? 'ascending', collection.loader(run.read))
    [Symbol.asyncIterator]()
    .next()
    .catch(() => undefined)
}

/** The index that gives the order, where walking it costs less than sorting. */
function walkedIndex(size: number, { collection, keys, shape, wanted }: Ordering): FieldIndex | undefined {
  const [first] = keys
  if (!first || first.collation !== undefined || first.absent === 'first' || !isOwnValue(shape, first.path))
    return undefined
  const index = collection.index(first.path.join('.'))
  if (!index) return undefined
  const share = size / collection.count
  if (wanted === undefined) return share > 1 / 8 ? index : undefined
  const blocks = Math.ceil(Math.min(index.pairs, wanted / share) / BLOCK_PAIRS)
  return blocks * 4 <= Math.min(size, collection.partCount) || share > 1 / 2 ? index : undefined
}

/** Takes rows in the order of an index; those without a value come last. */
async function walk(rows: RowSet, index: FieldIndex, ordering: Ordering): Promise<number[]> {
  const { run, collection, keys, wanted = rows.length } = ordering
  const [first, ...rest] = keys
  const left = markRows(rows, collection.count)
  const taken: number[] = []
  const take = async (group: readonly number[]): Promise<void> => {
    const ordered = rest.length > 0 && group.length > 1 ? await sortRows(group, { ...ordering, keys: rest }) : group
    for (const row of ordered) taken.push(row)
  }
  for await (const groups of index.walk(first?.direction ?? 'ascending', collection.loader(run.read)))
    for (const { rows: all } of groups) {
      const group: number[] = []
      for (const row of all)
        if (left[row]) {
          group.push(row)
          left[row] = 0
        }
      if (group.length > 0) await take(group)
      if (taken.length >= wanted) return taken
    }
  await take([...rows].filter((row) => left[row] === 1))
  return taken
}

/** Sorts rows by the values of their entries; equal ones stay in the order of the rows. */
async function sortRows(rows: Iterable<number>, { run, collection, shape, keys }: Ordering): Promise<number[]> {
  const list = [...rows]
  const entries = await entriesAt(run, collection, list)
  const columns = await Promise.all(keys.map(({ path }) => selectValues(run, entries, { shape, path })))
  const compare = compareEntries(keys)
  const ordered = list.map((row, at) => ({ row, values: columns.map((column) => column[at] as Scalar | null) }))
  return ordered.sort((a, b) => compare(a.values, b.values) || a.row - b.row).map(({ row }) => row)
}

/** Compares entries by the values of sort keys. */
export function compareEntries(
  keys: readonly SortKey[],
): (a: readonly (Scalar | null)[], b: readonly (Scalar | null)[]) => number {
  const comparisons = keys.map(compileComparison)
  return (a, b) => {
    for (const [at, compare] of comparisons.entries()) {
      const difference = compare(a[at] ?? null, b[at] ?? null)
      if (difference !== 0) return difference
    }
    return 0
  }
}

function compileComparison({ direction, collation, absent }: SortKey): (a: Scalar | null, b: Scalar | null) => number {
  const sign = direction === 'descending' ? -1 : 1
  const nothing = absent === 'first' ? -1 : 1
  const collator = collation === undefined ? undefined : new Intl.Collator(collation)
  return (a, b) => {
    if (a === null || b === null) return a === b ? 0 : a === null ? nothing : -nothing
    if (collator && typeof a === 'string') return collator.compare(a, String(b)) * sign
    return compareScalars(a, b) * sign
  }
}

/** Compares two single values of one type; text by code unit. */
export function compareScalars(a: Scalar, b: Scalar): number {
  if (a === b) return 0
  return a < b ? -1 : 1
}

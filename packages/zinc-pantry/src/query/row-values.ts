import type { Scalar } from './condition.ts'
import type { PostingList } from './posting-list.ts'
import type { Table } from './run.ts'

/** Fewer rows are read rather than a whole index. */
const FEW_ROWS = 32

/**
 * The single values at a path of some rows, each once: from an index, where there is one of the field or of what the value is computed
 * of, so that no entries are read for them.
 */
export async function valuesOfRows(
  table: Table,
  path: readonly string[],
  rows: ArrayLike<number>,
): Promise<readonly (readonly Scalar[])[]> {
  const { run } = table
  const { followPath, selectValues, singleValues } = run.internals
  const unique = (found: unknown): readonly Scalar[] => [...new Set(singleValues(found))]
  const { crossing, isSingle } = followPath(table.shape, path)
  const isRead = rows.length <= FEW_ROWS || (crossing !== undefined && (!isSingle || crossing.targets !== undefined))
  if (isRead) return (await selectValues(table, await table.entries(rows), path)).map(unique)
  if (crossing?.target !== undefined) {
    const { before, after, target } = crossing
    const ids = await valuesOfRows(table, before, rows)
    const all = [...new Set(ids.flat())]
    const found = await selectValues({ run, shape: { kind: 'ref', target } }, all, after)
    const known = new Map(all.map((id, at) => [id, found[at]]))
    return ids.map((own) => unique(own.map((id) => known.get(id))))
  }
  const groups = await groupsAt(table, path)
  if (!groups) return (await selectValues(table, await table.entries(rows), path)).map(unique)
  const values: Scalar[][] = []
  for (const { value, rows: own } of groups)
    for (const row of own) {
      const known = values[row]
      if (known) known.push(value)
      else values[row] = [value]
    }
  return Array.from(rows, (row) => values[row] ?? [])
}

/** The rows of all values of a field with an index, or of what is computed of one. */
async function groupsAt(
  table: Table,
  path: readonly string[],
): Promise<readonly { readonly value: Scalar; readonly rows: PostingList }[] | undefined> {
  const index = table.index(path)
  if (index) return index.all(table.run.read)
  if (!table.run.internals.isComputed(path)) return undefined
  const { groupComputed } = await import('./computed-rows.ts')
  return groupComputed(table, path)
}

/** Compares values that stand together; what is not there comes last. */
export const compareTogether = (
  a: readonly (Scalar | null)[],
  b: readonly (Scalar | null)[],
  compareScalars: (a: Scalar, b: Scalar) => number,
): number =>
  a.reduce<number>((found, value, at) => {
    const other = b[at] ?? null
    if (found !== 0) return found
    return value === null || other === null ? +(value === null) - +(other === null) : compareScalars(value, other)
  }, 0)

/** Rows with the same values at some paths. */
export interface ValuesGroup {
  readonly values: readonly (Scalar | null)[]
  /** The places of the rows among those that were given. */
  readonly places: readonly number[]
}

/** Puts rows together by their values at some paths: once for each combination; null stands for none. */
export async function groupTogether(
  table: Table,
  paths: readonly (readonly string[])[],
  rows: ArrayLike<number>,
): Promise<readonly ValuesGroup[]> {
  const columns = await Promise.all(paths.map((path) => valuesOfRows(table, path, rows)))
  const groups = new Map<string, ValuesGroup & { readonly places: number[] }>()
  for (let at = 0; at < rows.length; at++)
    for (const values of combine(columns.map((column) => column[at] ?? []))) {
      const key = JSON.stringify(values)
      const group = groups.get(key) ?? { values, places: [] }
      groups.set(key, group)
      group.places.push(at)
    }
  return [...groups.values()]
}

/** All ways to take one of the values at each of some paths; null where there is none. */
const combine = (values: readonly (readonly Scalar[])[]): readonly (readonly (Scalar | null)[])[] =>
  values.reduce<readonly (readonly (Scalar | null)[])[]>(
    (all, own) => all.flatMap((before) => (own.length > 0 ? own : [null]).map((value) => [...before, value])),
    [[]],
  )

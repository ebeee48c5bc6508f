import type { Scalar } from './condition.ts'
import type { ValueGroup } from './field-index.ts'
import type { PostingList } from './posting-list.ts'
import type { Table } from './run.ts'

/**
 * The rows of each value that is computed of a field with an index, in the order of the values; undefined where there is none.
 * Entries are not read for it.
 */
export async function groupComputed(table: Table, path: readonly string[]): Promise<readonly ValueGroup[] | undefined> {
  const [before, step = ''] = [path.slice(0, -1), path.at(-1)]
  const { compareScalars, computedKind, followPath, loadComputation } = table.run.internals
  const { end, crossing } = followPath(table.shape, before)
  const item = end.item ?? end
  const index = crossing || !computedKind(item, step) || end.kind === 'map' ? undefined : table.index(before)
  if (!index) return undefined
  const compute = await loadComputation(step)
  const lists = new Map<Scalar, PostingList[]>()
  for (const { value, rows } of await index.all(table.run.read)) {
    const computed = compute?.(value) as Scalar | null
    if (computed === null || computed === undefined) continue
    const known = lists.get(computed)
    if (known) known.push(rows)
    else lists.set(computed, [rows])
  }
  const groups = [...lists].map(([value, own]) => ({ value, rows: table.mergeRows(own) }))
  return groups.sort((a, b) => compareScalars(a.value, b.value))
}

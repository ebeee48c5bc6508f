import type { ConditionTree } from './condition.ts'
import { singleValues } from './count-values.ts'
import { findRows } from './find-rows.ts'
import { markRows } from './row-set.ts'
import type { Table } from './run.ts'
import { findById, selectValues } from './select-values.ts'
import type { Shape } from './shape.ts'

/** A row and how much it has in common with another. */
export interface ScoredRow {
  readonly row: number
  readonly score: number
}

/**
 * Rows that refer to what an entry refers to, the nearest first. Each shared reference counts the more the fewer
 * entries have it: the logarithm of the number of all by that of those, plus one.
 */
export async function findRelated(
  table: Table,
  {
    id,
    condition,
    limit,
  }: { readonly id: string; readonly condition?: ConditionTree | undefined; readonly limit: number },
): Promise<ScoredRow[]> {
  const { shape, count, run } = table
  const own = await findById(table, [id])
  const entry = await table.entries(own)
  const scores = new Map<number, number>()
  for (const path of referencePaths(shape))
    for (const value of new Set(singleValues(await selectValues(table, entry, path)))) {
      const rows = (await table.index(path)?.find({ operator: 'is', values: [value] }, run.read)) ?? []
      for (const row of rows) scores.set(row, (scores.get(row) ?? 0) + Math.log(1 + count / rows.length))
    }
  const allowed = markRows(await findRows(table, condition), count)
  return [...scores]
    .map(([row, score]) => ({ row, score }))
    .filter(({ row }) => allowed[row] && row !== own[0])
    .sort((a, b) => b.score - a.score || a.row - b.row)
    .slice(0, limit)
}

/** The paths to references in entries, those in groups and lists included. */
function referencePaths(shape: Shape, above: readonly string[] = []): (readonly string[])[] {
  if (shape.kind === 'ref') return [above]
  if (shape.kind === 'list') return referencePaths(shape.item as Shape, above)
  return Object.entries(shape.fields ?? {}).flatMap(([name, inner]) => referencePaths(inner, [...above, name]))
}

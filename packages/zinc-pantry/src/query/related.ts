import { singleValues } from './count-values.ts'
import { findRows } from './find-rows.ts'
import type { Positive } from './positive.ts'
import { markRows } from './row-set.ts'
import { openFor, type Run, shapeFor } from './run.ts'
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
  run: Run,
  name: string,
  { id, condition, limit }: { readonly id: string; readonly condition: Positive | undefined; readonly limit: number },
): Promise<ScoredRow[]> {
  const collection = await openFor(run, name)
  const [self] = (await findById(run, name, [id])) ?? []
  if (self === undefined) return []
  await collection.loadRows([self], run.read)
  const entry = collection.row(self)
  const shape = shapeFor(run, name)
  const scores = new Map<number, number>()
  for (const path of referencePaths(shape)) {
    const index = collection.index(path.join('.'))
    const [found] = await selectValues(run, [entry], { shape, path })
    for (const value of new Set(singleValues(found))) {
      const rows = (await index?.find({ operator: 'is', values: [value] }, collection.loader(run.read))) ?? []
      const weight = Math.log(1 + collection.count / rows.length)
      for (const row of rows) scores.set(row, (scores.get(row) ?? 0) + weight)
    }
  }
  scores.delete(self)
  const allowed = markRows(await findRows(run, name, condition), collection.count)
  return [...scores]
    .filter(([row]) => allowed[row] === 1)
    .map(([row, score]) => ({ row, score }))
    .sort((a, b) => b.score - a.score || a.row - b.row)
    .slice(0, limit)
}

/** The paths to references in entries, those in groups and lists included. */
function referencePaths(shape: Shape, above: readonly string[] = []): (readonly string[])[] {
  if (shape.kind === 'ref') return [above]
  if (shape.kind === 'list') return referencePaths(shape.item as Shape, above)
  return Object.entries(shape.fields ?? {}).flatMap(([name, inner]) => referencePaths(inner, [...above, name]))
}

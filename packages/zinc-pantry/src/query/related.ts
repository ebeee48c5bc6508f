import type { LazyResult } from './lazy-results.ts'
import type { Shape } from './shape.ts'

/**
 * The entries that refer to what an entry refers to, the nearest first. Each shared reference counts the more the fewer
 * entries have it: the logarithm of the number of all by that of those, plus one.
 */
export const related: LazyResult<'related'> = async ({ site, settings, open }, id, { limit = 5 } = {}) => {
  const { checkCount, findById, giveRows, markRows, matchRows, QueryError, selectValues, singleValues } = site.internals
  checkCount('limit', limit, 0)
  const table = await open()
  const { shape, count, run } = table
  const own = await findById(table, [id])
  if (own.length === 0) throw new QueryError(`There is no entry ${JSON.stringify(id)} in ${table.name}`)
  const entry = await table.entries(own)
  const scores = new Map<number, number>()
  for (const path of referencePaths(shape))
    for (const value of new Set(singleValues(await selectValues(table, entry, path)))) {
      const rows = (await table.index(path)?.find({ operator: 'is', values: [value] }, run.read)) ?? []
      for (const row of rows) scores.set(row, (scores.get(row) ?? 0) + Math.log(1 + count / rows.length))
    }
  const { rows: matching } = await matchRows(table, settings)
  const allowed = markRows(matching, count)
  const nearest = [...scores]
    .filter(([row]) => allowed[row] && row !== own[0])
    .sort(([a, near], [b, nearer]) => nearer - near || a - b)
    .slice(0, limit)
  const rows = nearest.map(([row]) => row)
  const given = await giveRows(table, rows, settings.spec)
  return nearest.map(([, score], at) => ({ entry: given[at], score }))
}

/** The paths to references in entries, those in groups and lists included. */
function referencePaths(shape: Shape, above: readonly string[] = []): (readonly string[])[] {
  if (shape.kind === 'ref') return [above]
  if (shape.kind === 'list') return referencePaths(shape.item, above)
  return Object.entries(shape.fields ?? {}).flatMap(([name, inner]) => referencePaths(inner, [...above, name]))
}

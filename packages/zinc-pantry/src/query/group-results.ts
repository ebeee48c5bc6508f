import type { LazyResult } from './lazy-results.ts'

/** The entries by the value of a field, or by those of several. */
export const groupBy: LazyResult<'groupBy'> = async ({ site, settings, fields }, build, { limit } = {}) => {
  const { callWith, checkCount, compareScalars, giveRows, pathOf, runRows } = site.internals
  if (limit !== undefined) checkCount('limit of groupBy', limit, 0)
  const by = callWith<unknown>(build, fields)
  const paths = (Array.isArray(by) ? by : [by]).map(pathOf)
  const { table, rows } = await runRows(site, settings)
  const { compareTogether, groupTogether } = await import('./row-values.ts')
  const groups = await groupTogether(table, paths, rows)
  const ordered = groups.toSorted((a, b) => compareTogether(a.values, b.values, compareScalars))
  // Entries that no group shows are not read.
  const shown = [...new Set(ordered.flatMap(({ places }) => places.slice(0, limit)))].sort((a, b) => a - b)
  const given = await giveRows(
    table,
    shown.map((at) => rows[at] as number),
    settings.spec,
  )
  const entryAt = new Map(shown.map((at, position) => [at, given[position]]))
  return ordered.map(({ values, places }) => ({
    value: Array.isArray(by) ? values : values[0],
    count: places.length,
    entries: places.slice(0, limit).map((at) => entryAt.get(at)),
  })) as never
}

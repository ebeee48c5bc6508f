import type { LazyResult } from './lazy-results.ts'

/** The entries by the values of a field. */
export const groupBy: LazyResult<'groupBy'> = async ({ site, settings, fields }, build) => {
  const { callWith, compareScalars, giveRows, pathOf, runRows, selectValues, singleValues } = site.internals
  const { table, rows } = await runRows(site, settings)
  const values = await selectValues(table, await table.entries(rows), pathOf(callWith(build, fields)))
  const given = await giveRows(table, rows, settings.spec)
  const groups = new Map<unknown, unknown[]>()
  // Entries without a value have a group of their own.
  for (const [at, value] of values.entries())
    for (const one of new Set(singleValues(value).length > 0 ? singleValues(value) : [null])) {
      const group = groups.get(one) ?? []
      groups.set(one, group)
      group.push(given[at])
    }
  const ordered = [...groups].sort(([a], [b]) =>
    a === null || b === null ? +(a === null) - +(b === null) : compareScalars(a as string, b as string),
  )
  return ordered.map(([value, entries]) => ({ value, entries })) as never
}

import { countValues, findRange, withoutPath } from './count-values.ts'
import type { Asked, Later } from './later.ts'
import type { Table } from './run.ts'

/** The values of a field, each once. */
export const distinct: Later<'distinct'> = async (asked, build) => {
  const counts = await countValues(await open(asked), { ...asked.settings, path: pathOf(build(asked.fields), asked) })
  return counts.map(({ value }) => value).sort(asked.site.tools.compareScalars) as never
}

/** How many entries have each value of some fields. */
export const facets: Later<'facets'> = async (asked, build) => {
  const table = await open(asked)
  const { settings } = asked
  const counted = Object.entries(build(asked.fields)).map(async ([key, handle]) => {
    const path = pathOf(handle, asked)
    const condition = withoutPath(settings.condition, path, table.run.tools)
    return [key, await countValues(table, { ...settings, path, condition })]
  })
  return Object.fromEntries(await Promise.all(counted))
}

/** The smallest and the largest value of a field. */
export const range: Later<'range'> = async (asked, build) =>
  (await findRange(await open(asked), { ...asked.settings, path: pathOf(build(asked.fields), asked) })) as never

/** The entries by the values of a field. */
export const groupBy: Later<'groupBy'> = async (asked, build) => {
  const { site, settings, fields } = asked
  const { compareScalars, giveRows, runRows, selectValues, singleValues } = site.tools
  const { table, rows } = await runRows(site, settings)
  const values = await selectValues(table, await table.entries(rows), pathOf(build(fields), asked))
  const given = await giveRows(table, rows, settings.spec)
  const groups = new Map<unknown, unknown[]>()
  for (const [at, value] of values.entries())
    for (const one of new Set(singleValues(value))) {
      const group = groups.get(one) ?? []
      groups.set(one, group)
      group.push(given[at])
    }
  const ordered = [...groups].sort(([a], [b]) => compareScalars(a as string, b as string))
  return ordered.map(([value, entries]) => ({ value, entries })) as never
}

const open = ({ site, settings }: Asked): Promise<Table> =>
  site.tools.startRun(site, settings.locale).open(settings.collection)

/** The path of a handle to single values, lists entered. */
function pathOf(handle: unknown, asked: Asked): readonly string[] {
  const { placeOf, QueryError } = asked.site.tools
  const place = placeOf(handle)
  if (!place) throw new QueryError('This takes a field')
  return place.each === undefined ? place.path : [...place.path, ...pathOf(place.each, asked)]
}

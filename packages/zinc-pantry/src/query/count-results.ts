import { countValues, withoutPath } from './count-values.ts'
import type { Later } from './later.ts'

/** The values of a field, each once. */
export const distinct: Later<'distinct'> = async ({ site, settings, fields, open }, build) => {
  const { callWith, compareScalars, pathOf } = site.tools
  const counts = await countValues(await open(), { ...settings, path: pathOf(callWith(build, fields)) })
  return counts.map(({ value }) => value).sort(compareScalars) as never
}

/** How many entries have each value of some fields. */
export const facets: Later<'facets'> = async ({ site, settings, fields, open }, build) => {
  const { tools } = site
  const table = await open()
  const spec = tools.callWith<object>(build, fields)
  if (typeof spec !== 'object' || spec === null || tools.placeOf(spec))
    throw new tools.QueryError('facets takes an object of fields, such as { grade: trail.grade }')
  const counted = Object.entries(spec).map(async ([key, handle]) => {
    const path = tools.pathOf(handle)
    const condition = withoutPath(settings.condition, path, tools)
    return [key, await countValues(table, { ...settings, path, condition })]
  })
  return Object.fromEntries(await Promise.all(counted))
}

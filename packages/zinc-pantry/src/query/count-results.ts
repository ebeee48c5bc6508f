import { countValues, withoutPath } from './count-values.ts'
import type { LazyResult } from './lazy-results.ts'

/** The values of a field, each once. */
export const distinct: LazyResult<'distinct'> = async ({ site, settings, fields, open }, build) => {
  const { callWith, compareScalars, pathOf } = site.internals
  const counts = await countValues(await open(), { ...settings, path: pathOf(callWith(build, fields)) })
  return counts.map(({ value }) => value).sort(compareScalars) as never
}

/** How many entries have each value of some fields. */
export const facets: LazyResult<'facets'> = async ({ site, settings, fields, open }, build) => {
  const { internals } = site
  const table = await open()
  const spec = internals.callWith<object>(build, fields)
  if (typeof spec !== 'object' || spec === null || internals.placeOf(spec))
    throw new internals.QueryError('facets takes an object of fields, such as { grade: trail.grade }')
  const counted = Object.entries(spec).map(async ([key, handle]) => {
    const path = internals.pathOf(handle)
    const condition = withoutPath(settings.condition, path, internals)
    return [key, await countValues(table, { ...settings, path, condition })]
  })
  return Object.fromEntries(await Promise.all(counted))
}

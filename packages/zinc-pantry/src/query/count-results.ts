import { countTogether, countValues, labelCounts, type ValueCount, withoutPath } from './count-values.ts'
import type { LazyResult } from './lazy-results.ts'

/** The values of a field, each once. */
export const distinct: LazyResult<'distinct'> = async ({ site, settings, fields, open }, build) => {
  const { callWith, compareScalars, pathOf } = site.internals
  const counts = await countValues(await open(), { ...settings, path: pathOf(callWith(build, fields)) })
  return counts.map(({ value }) => value).sort(compareScalars) as never
}

/** How many entries have each value of some fields. */
export const facets: LazyResult<'facets'> = async ({ site, settings, fields, open }, build) => {
  const { callWith, pathOf, placeOf, QueryError } = site.internals
  const table = await open()
  const spec = callWith<object>(build, fields)
  if (typeof spec !== 'object' || spec === null || placeOf(spec))
    throw new QueryError('facets takes an object of fields, such as { grade: trail.grade }')
  const count = async (of: unknown): Promise<readonly unknown[]> => {
    const labelled = of as { readonly by: unknown; readonly label: unknown }
    const isLabelled = !Array.isArray(of) && !placeOf(of) && placeOf(labelled?.by) !== undefined
    const parts: readonly unknown[] = Array.isArray(of) ? of : [isLabelled ? labelled.by : of]
    const paths = parts.map(pathOf)
    const condition = paths.reduce((tree, path) => withoutPath(tree, path, site.internals), settings.condition)
    if (Array.isArray(of)) return countTogether(table, { ...settings, condition, paths })
    const [path = []] = paths
    const counts: readonly ValueCount[] = await countValues(table, { ...settings, path, condition })
    if (!isLabelled) return counts
    const label = pathOf(labelled.label)
    let shape = placeOf(labelled.by)?.shape
    while (shape?.kind === 'list') shape = shape.item
    if (shape?.kind !== 'ref' || path.join('.') !== label.slice(0, path.length).join('.'))
      throw new QueryError(
        'A label is a field behind a reference, such as { by: trail.region, label: trail.region.name }',
      )
    return labelCounts(table, counts, { shape, path: label.slice(path.length) })
  }
  const counted = Object.entries(spec).map(async ([key, of]) => [key, await count(of)])
  return Object.fromEntries(await Promise.all(counted))
}

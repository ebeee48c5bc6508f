import type { Scalar } from './condition.ts'
import type { LazyResult } from './lazy-results.ts'

/** The smallest and the largest value of a field; undefined where there is none. */
export const range: LazyResult<'range'> = async ({ site, settings, fields, open }, build) => {
  const { callWith, compareScalars, followPath, markRows, matchRows, pathOf, selectValues, singleValues } =
    site.internals
  const path = pathOf(callWith(build, fields))
  const table = await open()
  const { rows } = await matchRows(table, settings)
  const index = followPath(table.shape, path).crossing ? undefined : table.index(path)
  if (!index) {
    const values = singleValues(await selectValues(table, await table.entries(rows), path)).sort(compareScalars)
    return (values.length > 0 ? { minimum: values[0], maximum: values.at(-1) } : undefined) as never
  }
  const marks = markRows(rows, table.count)
  const firstOf = async (isDescending: boolean): Promise<Scalar | undefined> => {
    for await (const groups of index.walk(isDescending, table.run.read))
      for (const { value, rows: own } of groups) if (own.some((row) => marks[row])) return value
    return undefined
  }
  const minimum = await firstOf(false)
  return (minimum === undefined ? undefined : { minimum, maximum: await firstOf(true) }) as never
}

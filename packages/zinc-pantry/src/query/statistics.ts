import type { LazyResult } from './lazy-results.ts'

/** Sum, mean and bounds of the numbers at a field. */
export const statistics: LazyResult<'statistics'> = async ({ site, settings, fields, open }, build) => {
  const { callWith, markRows, matchRows, pathOf, QueryError, selectValues, singleValues } = site.internals
  const path = pathOf(callWith(build, fields))
  const table = await open()
  const { rows } = await matchRows(table, settings)
  // An index of a list has each of its values once.
  const index = table.singleIndex(path)
  let [count, sum, minimum, maximum] = [0, 0, Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY]
  const add = (value: unknown, times: number): void => {
    if (typeof value !== 'number') throw new QueryError(`${path.join('.')} is no number, so that it has no sum`)
    count += times
    sum += value * times
    minimum = Math.min(minimum, value)
    maximum = Math.max(maximum, value)
  }
  if (index) {
    const marks = markRows(rows, table.count)
    for (const { value, rows: own } of await index.all(table.run.read)) {
      const times = own.reduce((all, row) => all + (marks[row] as number), 0)
      if (times > 0) add(value, times)
    }
  } else
    for (const found of await selectValues(table, await table.entries(rows), path))
      for (const value of singleValues(found)) add(value, 1)
  return count === 0
    ? { count, sum, mean: null, minimum: null, maximum: null }
    : { count, sum, mean: sum / count, minimum, maximum }
}

import type { ValueQuestion } from './count-values.ts'
import type { LazyResult } from './lazy-results.ts'
import type { Statistics } from './query-types.ts'
import type { Table } from './run.ts'

/** Sum, mean and bounds of the numbers at a field. */
export const statistics: LazyResult<'statistics'> = async ({ site, settings, fields, open }, build) => {
  const { callWith, pathOf } = site.internals
  return computeStatistics(await open(), { ...settings, path: pathOf(callWith(build, fields)) })
}

/** Sum, mean and bounds of the numbers at a path of the entries that match. */
export async function computeStatistics(table: Table, { path, ...asked }: ValueQuestion): Promise<Statistics> {
  const { markRows, matchRows, QueryError, selectValues, singleValues } = table.run.internals
  const { rows } = await matchRows(table, asked)
  // An index of a list has each of its values once.
  const index = table.singleIndex(path)
  let [count, minimum, maximum] = [0, Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY]
  // What is lost of each addition is kept apart (Neumaier), so that the sum of decimals is what people expect.
  let [plain, lost] = [0, 0]
  const add = (value: unknown, times: number): void => {
    if (typeof value !== 'number') throw new QueryError(`${path.join('.')} is no number, so that it has no sum`)
    count += times
    const added = value * times
    const next = plain + added
    lost += Math.abs(plain) >= Math.abs(added) ? plain - next + added : added - next + plain
    plain = next
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
  const sum = plain + lost
  return count === 0
    ? { count, sum, mean: null, minimum: null, maximum: null }
    : { count, sum, mean: sum / count, minimum, maximum }
}

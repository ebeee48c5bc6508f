import type { LazyResult } from './lazy-results.ts'

/** The entries before and behind one. */
export const neighbours: LazyResult<'neighbours'> = async ({ site, settings, open }, id) => {
  const { findById, giveRows, QueryError, runRows } = site.internals
  const opened = await open()
  const [row] = await findById(opened, [id])
  if (row === undefined) throw new QueryError(`There is no entry ${JSON.stringify(id)} in ${opened.name}`)
  const { condition, search, sort = [], locale } = settings
  const isWhole = condition === undefined && search === undefined && opened.view(locale) === undefined
  if (isWhole && sort.length === 0) return give(opened, [row - 1, row + 1])
  if (isWhole && opened.clusters.length > 0) {
    const { clusterOf, rowsBeside } = await import('./cluster-rows.ts')
    const cluster = clusterOf(opened, sort)
    if (cluster) return give(opened, await rowsBeside(opened, cluster, row))
  }
  const { table, rows } = await runRows(site, { ...settings, limit: undefined, offset: 0 })
  const at = Array.prototype.indexOf.call(rows, row)
  return give(table, at === -1 ? [] : [rows[at - 1], rows[at + 1]])

  async function give(table: typeof opened, beside: readonly (number | undefined)[]) {
    const [previous, next] = await Promise.all(
      beside.map(async (other) =>
        other === undefined || other < 0 || other >= table.count
          ? undefined
          : (await giveRows(table, [other], settings.spec))[0],
      ),
    )
    return { previous, next }
  }
}

import type { LazyResult } from './lazy-results.ts'

/** The entries before and behind one. */
export const neighbours: LazyResult<'neighbours'> = async ({ site, settings }, id) => {
  const { findById, giveRows, QueryError, runRows } = site.internals
  const { table, rows } = await runRows(site, { ...settings, limit: undefined, offset: 0 })
  const [row] = await findById(table, [id])
  if (row === undefined) throw new QueryError(`There is no entry ${JSON.stringify(id)} in ${table.name}`)
  const at = Array.prototype.indexOf.call(rows, row)
  const beside = at === -1 ? [] : [rows[at - 1], rows[at + 1]]
  const [previous, next] = await Promise.all(
    beside.map(async (other) => (other === undefined ? undefined : (await giveRows(table, [other], settings.spec))[0])),
  )
  return { previous, next }
}

import { passedBy, readCursor, writeCursor } from './cursor.ts'
import type { Settings } from './give-rows.ts'
import type { Later } from './later.ts'

const wholeOf = (settings: Settings): Settings => ({ ...settings, limit: undefined, offset: 0 })

/** A page: the first, or that behind a cursor. */
export const page: Later<'page'> = async ({ site, settings }, { size, after }) => {
  const { checkCount, giveRows, runRows } = site.tools
  checkCount('size', size, 1)
  const { sort = [], spec } = settings
  const everything = wholeOf(settings)
  const cursor = after === undefined ? undefined : readCursor(after, sort, site.tools)
  const near = cursor?.[1] ?? 0
  let found = await runRows(site, { ...everything, limit: near + size })
  const paging = { ...found, sort }
  let passed = cursor ? await passedBy(cursor, found.rows, paging) : 0
  if (cursor && passed !== near) {
    found = await runRows(site, everything)
    passed = await passedBy(cursor, found.rows, paging)
  }
  const { table, total } = found
  const rows = found.rows.slice(passed, passed + size)
  const end = passed + rows.length
  const next = rows.length > 0 && end < total ? await writeCursor(rows.at(-1) as number, end, paging) : null
  return { entries: await giveRows(table, rows, spec), total, next }
}

/** The entries before and behind one. */
export const neighbours: Later<'neighbours'> = async ({ site, settings }, id) => {
  const { findById, giveRows, runRows } = site.tools
  const { table, rows } = await runRows(site, wholeOf(settings))
  const [row = -1] = await findById(table, [id])
  const at = Array.prototype.indexOf.call(rows, row)
  const beside = at === -1 ? [] : [rows[at - 1], rows[at + 1]]
  const [previous, next] = await Promise.all(
    beside.map(async (other) => (other === undefined ? undefined : (await giveRows(table, [other], settings.spec))[0])),
  )
  return { previous, next }
}

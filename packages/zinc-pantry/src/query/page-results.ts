import { passedBy, readCursor, writeCursor } from './cursor.ts'
import type { Later } from './later.ts'

/** A page: the first, or that behind a cursor. */
export const page: Later<'page'> = async ({ site, settings }, { size, after }) => {
  const { checkCount, giveRows, runRows } = site.tools
  checkCount('size', size, 1)
  const { sort = [], spec } = settings
  const everything = { ...settings, limit: undefined, offset: 0 }
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

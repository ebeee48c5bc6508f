import { isInPlace, NEIGHBOURS, passedBy, readCursor, writeCursor } from './cursor.ts'
import type { LazyResult } from './lazy-results.ts'

/** A page: the first, or that behind a cursor. */
export const page: LazyResult<'page'> = async ({ site, settings, open }, { size, after } = {} as never) => {
  const { checkCount, giveRows, QueryError, runRows } = site.internals
  checkCount('size', size, 1)
  if (after !== undefined && typeof after !== 'string') throw new QueryError('after takes the cursor of a page')
  const { order } = await open()
  // Equal ones stand in the order of the collection; those that were searched for stand by their scores.
  const keys = settings.search !== undefined && !settings.sort ? [] : [...(settings.sort ?? []), ...order]
  const everything = { ...settings, limit: undefined, offset: 0 }
  const cursor = after === undefined ? undefined : readCursor(after, keys, site.internals)
  let passed = cursor?.[0] ?? 0
  /** The rows around a place, those before left out: some behind the page are neighbours of its cursor. */
  const around = async () => {
    const from = Math.max(0, passed - NEIGHBOURS)
    const { rows, ...rest } = await runRows(site, {
      ...everything,
      offset: from,
      limit: passed + size + NEIGHBOURS - from,
    })
    return { ...rest, rows: new Array<number>(from).concat(Array.from(rows)) }
  }
  let found: Awaited<ReturnType<typeof runRows>> = await around()
  if (cursor && !(await isInPlace(cursor, found.rows, { table: found.table, sort: keys }))) {
    found = await runRows(site, everything)
    passed = await passedBy(cursor, found.rows, { table: found.table, sort: keys })
  }
  const { table, total, rows } = found
  const end = Math.min(passed + size, total)
  const next = end < total && end > passed ? await writeCursor(rows, end, { table, sort: keys }) : null
  return { entries: await giveRows(table, rows.slice(passed, end), settings.spec), total, next }
}

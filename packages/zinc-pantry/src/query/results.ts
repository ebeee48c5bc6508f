import { countValues, findRange, singleValues, withoutPath } from './count-values.ts'
import { passedBy, readCursor, writeCursor } from './cursor.ts'
import { fetchAll, giveRows, type Settings } from './give-rows.ts'
import type { Site } from './open-site.ts'
import { compareScalars } from './order-rows.ts'
import { pathOfHandle } from './pick.ts'
import type { Results } from './query.ts'
import type { Page } from './query-types.ts'
import { findRelated } from './related.ts'
import { startRun } from './run.ts'
import { checkCount, runRows } from './run-query.ts'
import { findById, selectValues } from './select-values.ts'
import { cutPages } from './static-pages.ts'

/** Makes the results of a query that are loaded when they are asked for. */
export function createResults<Entry, Fields>(site: Site, settings: Settings, fields: Fields): Results<Entry, Fields> {
  const { condition, locale, sort = [], spec } = settings
  const everything = { ...settings, limit: undefined, offset: 0 }
  const pathOf = (build: (given: Fields) => unknown): readonly string[] => pathOfHandle(build(fields))
  const open = () => startRun(site, locale).open(settings.collection)

  async function page({ size, after }: { size: number; after?: string | undefined }): Promise<Page<Entry>> {
    checkCount('size', size, 1)
    const cursor = after === undefined ? undefined : readCursor(after, sort)
    const near = cursor?.[1] ?? 0
    let found = await runRows(site, { ...everything, limit: near + size })
    const paging = { ...found, sort }
    let passed = cursor ? await passedBy(cursor, found.rows, paging) : 0
    if (cursor && passed !== near) {
      found = await runRows(site, everything)
      passed = await passedBy(cursor, found.rows, paging)
    }
    const { total } = found
    const rows = found.rows.slice(passed, passed + size)
    const end = passed + rows.length
    const next = rows.length > 0 && end < total ? await writeCursor(rows.at(-1) as number, end, paging) : null
    return { entries: (await giveRows(found.table, rows, spec)) as Entry[], total, next }
  }

  const results: Results<unknown, Fields> = {
    page,
    async distinct(build) {
      const counts = await countValues(await open(), { ...settings, path: pathOf(build) })
      return counts.map(({ value }) => value).sort(compareScalars) as never
    },
    async facets(build) {
      const table = await open()
      const counted = Object.entries(build(fields)).map(async ([key, handle]) => {
        const path = pathOfHandle(handle)
        return [key, await countValues(table, { ...settings, path, condition: withoutPath(condition, path) })]
      })
      return Object.fromEntries(await Promise.all(counted))
    },
    async range(build) {
      return (await findRange(await open(), { ...settings, path: pathOf(build) })) as never
    },
    async groupBy(build) {
      const { table, rows } = await runRows(site, settings)
      const values = await selectValues(table, await table.entries(rows), pathOf(build))
      const given = await giveRows(table, rows, spec)
      const groups = new Map<unknown, unknown[]>()
      for (const [at, value] of values.entries())
        for (const one of new Set(singleValues(value))) {
          const group = groups.get(one) ?? []
          groups.set(one, group)
          group.push(given[at])
        }
      const ordered = [...groups].sort(([a], [b]) => compareScalars(a as string, b as string))
      return ordered.map(([value, entries]) => ({ value, entries })) as never
    },
    async pages(options) {
      checkCount('size', options.size, 1)
      return cutPages(await fetchAll(site, settings), options)
    },
    async neighbours(id) {
      const { table, rows } = await runRows(site, everything)
      const [row = -1] = await findById(table, [id])
      const at = Array.prototype.indexOf.call(rows, row)
      const beside = at === -1 ? [] : [rows[at - 1], rows[at + 1]]
      const [previous, next] = await Promise.all(
        beside.map(async (other) => (other === undefined ? undefined : (await giveRows(table, [other], spec))[0])),
      )
      return { previous, next }
    },
    async hits({ limit = 10, length = 160 } = {}) {
      const { findHits } = await import('./hits.ts')
      return findHits(site, settings, { limit, length })
    },
    async related(id, { limit = 5 } = {}) {
      const table = await open()
      const scored = await findRelated(table, { id, limit, condition })
      const rows = scored.map(({ row }) => row)
      const entries = await giveRows(table, rows, spec)
      return scored.map(({ score }, at) => ({ entry: entries[at], score }))
    },
  }
  return results as Results<Entry, Fields>
}

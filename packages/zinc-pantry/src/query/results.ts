import { countValues, findRange, singleValues, withoutPath } from './count-values.ts'
import { passedBy, readCursor, writeCursor } from './cursor.ts'
import { fetchAll, giveRows, type Settings } from './give-rows.ts'
import { QueryError } from './handles.ts'
import type { Site } from './open-site.ts'
import { compareScalars } from './order-rows.ts'
import { pathOfHandle } from './pick.ts'
import { toPositive } from './positive.ts'
import type { Page, Query } from './query-types.ts'
import { findRelated } from './related.ts'
import { entriesAt, openFor, shapeFor, startRun } from './run.ts'
import { runRows } from './run-query.ts'
import { findById, selectValues } from './select-values.ts'
import { cutPages } from './static-pages.ts'

/** The results of a query beside its entries. */
export type Results<Entry, Fields> = Pick<
  Query<Entry, Fields>,
  'distinct' | 'facets' | 'range' | 'groupBy' | 'page' | 'pages' | 'neighbours' | 'related' | 'hits'
>

/** Makes the results of a query that are loaded when they are asked for. */
export function createResults<Entry, Fields>(
  site: Site,
  settings: Settings,
  fields: () => Fields,
): Results<Entry, Fields> {
  const { collection: name, condition, locale, search, sort = [] } = settings
  const pathOf = (build: (given: Fields) => unknown): readonly string[] => pathOfHandle(build(fields()))
  const allRows = () => runRows(site, { ...settings, limit: undefined, offset: 0 })

  async function page({ size, after }: { size: number; after?: string | undefined }): Promise<Page<Entry>> {
    checkSize(size)
    const cursor = after === undefined ? undefined : readCursor(after, sort)
    const near = (cursor?.passed ?? 0) + size
    let found = await runRows(site, { ...settings, offset: 0, limit: near })
    const { run } = found
    const collection = await openFor(run, name)
    const paging = { run, collection, shape: shapeFor(run, name), sort }
    let start = cursor ? await passedBy(cursor, found.rows, paging) : 0
    if (cursor && start !== cursor.passed) {
      found = await allRows()
      start = await passedBy(cursor, found.rows, paging)
    }
    const rows = found.rows.slice(start, start + size)
    const last = rows.at(-1)
    const isLast = last === undefined || start + rows.length >= found.total
    const next = isLast ? null : await writeCursor(last, start + rows.length, paging)
    return { entries: (await giveRows(run, rows, settings)) as Entry[], total: found.total, next }
  }

  return {
    page,
    async distinct(build) {
      const counts = await countValues(startRun(site, locale), name, { path: pathOf(build), condition, search })
      return counts.map(({ value }) => value).sort(compareScalars) as never
    },
    async facets(build) {
      const run = startRun(site, locale)
      const counted = Object.entries(build(fields())).map(async ([key, handle]) => {
        const path = pathOfHandle(handle)
        return [key, await countValues(run, name, { path, condition: withoutPath(condition, path), search })] as const
      })
      return Object.fromEntries(await Promise.all(counted)) as never
    },
    range: async (build) =>
      (await findRange(startRun(site, locale), name, { path: pathOf(build), condition, search })) as never,
    async groupBy(build) {
      const { run, rows } = await runRows(site, settings)
      const entries = await entriesAt(run, await openFor(run, name), rows)
      const found = await selectValues(run, entries, { shape: shapeFor(run, name), path: pathOf(build) })
      const given = await giveRows(run, rows, settings)
      const groups = new Map<unknown, unknown[]>()
      for (const [at, value] of found.entries())
        for (const one of new Set(singleValues(value))) {
          const group = groups.get(one) ?? []
          groups.set(one, group)
          group.push(given[at])
        }
      const ordered = [...groups].sort(([a], [b]) => compareScalars(a as string, b as string))
      return ordered.map(([value, group]) => ({ value, entries: group })) as never
    },
    async pages(options) {
      checkSize(options.size)
      return cutPages((await fetchAll(site, settings)) as Entry[], options)
    },
    async neighbours(id) {
      const { run, rows } = await allRows()
      const [row] = (await findById(run, name, [id])) ?? []
      const at = row === undefined ? -1 : Array.prototype.indexOf.call(rows, row)
      const beside = async (position: number): Promise<Entry | undefined> => {
        const other = at === -1 ? undefined : rows[position]
        return other === undefined ? undefined : ((await giveRows(run, [other], settings))[0] as Entry)
      }
      return { previous: await beside(at - 1), next: await beside(at + 1) }
    },
    async hits({ limit = 10, length = 160 } = {}) {
      const { findHits } = await import('./hits.ts')
      return (await findHits(site, settings, { limit, length })) as never
    },
    async related(id, { limit = 5 } = {}) {
      const run = startRun(site, locale)
      const scored = await findRelated(run, name, { id, limit, condition: condition && toPositive(condition) })
      const rows = scored.map(({ row }) => row)
      const entries = (await giveRows(run, rows, settings)) as Entry[]
      return scored.map(({ score }, at) => ({ entry: entries[at] as Entry, score }))
    },
  }
}

function checkSize(size: number): void {
  if (!Number.isSafeInteger(size) || size < 1) throw new QueryError(`size must be a whole number from 1, not ${size}`)
}

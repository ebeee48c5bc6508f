import { createCondition, type SortKey } from './condition.ts'
import { fetchAll, type Settings } from './give-rows.ts'
import { createHandle, placeOf } from './handles.ts'
import type { Site } from './open-site.ts'
import type { Query } from './query-types.ts'
import { shapeFor, startRun } from './run.ts'
import { runQuery, runRows } from './run-query.ts'

/** A query on a collection, or more that is said of one. */
export function createQuery<Entry, Fields>(site: Site, settings: Settings): Query<Entry, Fields> {
  const { collection, condition, locale } = settings
  const fields = (): Fields => createHandle(shapeFor(startRun(site, locale), collection), [], site.shapes) as Fields
  const changed = <Given = Entry>(change: Partial<Settings>) =>
    createQuery<Given, Fields>(site, { ...settings, ...change })
  const fetch = (change: Partial<Settings> = {}) => fetchAll(site, { ...settings, ...change }) as Promise<Entry[]>
  // Less usual results are loaded when they are first asked for, so that the others cost less.
  const results = async () => (await import('./results.ts')).createResults<Entry, Fields>(site, settings, fields)
  return {
    where(build) {
      const added = build(fields())
      return changed({ condition: condition ? createCondition(condition).and(added).tree : added.tree })
    },
    sort(build) {
      const keys = build(fields())
      return changed({ sort: [keys].flat().map((key) => plainKey(key as SortKey)) })
    },
    search: (search) => changed({ search }),
    limit: (limit) => changed({ limit }),
    offset: (offset) => changed({ offset }),
    pick: (build) => changed({ spec: build(fields()) }),
    toArray: () => fetch(),
    first: async () => (await fetch({ limit: 1 }))[0],
    count: async () => (await runRows(site, { ...settings, limit: 0 })).total,
    distinct: async (build) => (await results()).distinct(build),
    facets: async (build) => (await results()).facets(build),
    range: async (build) => (await results()).range(build),
    groupBy: async (build) => (await results()).groupBy(build),
    page: async (options) => (await results()).page(options),
    pages: async (options) => (await results()).pages(options),
    neighbours: async (id) => (await results()).neighbours(id),
    related: async (id, options) => (await results()).related(id, options),
    hits: async (options) => (await results()).hits(options),
    plan: async () => (await runQuery(site, settings)).plan,
    async *[Symbol.asyncIterator]() {
      yield* await fetch()
    },
  }
}

/** A key without the rest of the handle that it may be. */
function plainKey(key: SortKey): SortKey {
  const place = placeOf(key)
  return place ? { path: place.path, direction: 'ascending' } : key
}

import { type Condition, createCondition, type SortKey } from './condition.ts'
import { fetchAll, type Settings } from './give-rows.ts'
import type { Picked } from './handle-types.ts'
import { entryHandle, placeOf } from './handles.ts'
import type { Asked, Later, LaterName } from './later.ts'
import type { Site } from './open-site.ts'
import type { Query } from './query-types.ts'
import { startRun } from './run.ts'
import { runRows } from './run-query.ts'

/** A query on a collection, or more that is said of one. */
export const createQuery = <Entry, Fields>(site: Site, settings: Settings): Query<Entry, Fields> =>
  new StoredQuery(site, settings) as unknown as Query<Entry, Fields>

type Given = readonly unknown[]

const loadCounts = () => import('./count-results.ts')

/** What gives each result that is loaded later. */
const LATER: { readonly [Name in LaterName]: () => Promise<{ readonly [Key in Name]: Later<Name> }> } = {
  distinct: loadCounts,
  facets: loadCounts,
  range: () => import('./value-range.ts'),
  groupBy: () => import('./group-results.ts'),
  page: () => import('./page-results.ts'),
  neighbours: () => import('./neighbours.ts'),
  pages: () => import('./static-pages.ts'),
  related: () => import('./related.ts'),
  hits: () => import('./hits.ts'),
  plan: () => import('./plan.ts'),
}

class StoredQuery<Entry, Fields> implements Omit<Query<Entry, Fields>, LaterName> {
  readonly #site: Site
  readonly #settings: Settings

  static {
    for (const [name, load] of Object.entries(LATER))
      Reflect.set(StoredQuery.prototype, name, async function (this: StoredQuery<unknown, unknown>, ...given: Given) {
        const later = (await load()) as unknown as { [name: string]: (asked: Asked, ...given: Given) => unknown }
        const [site, settings] = [this.#site, this.#settings]
        const open = () => startRun(site, settings.locale).open(settings.collection)
        return later[name]?.({ site, settings, fields: this.#fields(), open }, ...given)
      })
  }

  constructor(site: Site, settings: Settings) {
    this.#site = site
    this.#settings = settings
  }

  #fields(): Fields {
    return entryHandle(this.#site.shapes, this.#settings.collection) as Fields
  }

  #changed<Wanted = Entry>(change: Partial<Settings>): Query<Wanted, Fields> {
    return createQuery(this.#site, { ...this.#settings, ...change })
  }

  where(build: (fields: Fields) => Condition): Query<Entry, Fields> {
    const added = build(this.#fields())
    const { condition } = this.#settings
    return this.#changed({ condition: (condition ? createCondition(condition).and(added) : added).tree })
  }

  search(search: string): Query<Entry, Fields> {
    return this.#changed({ search })
  }

  sort(build: (fields: Fields) => SortKey | readonly SortKey[]): Query<Entry, Fields> {
    return this.#changed({ sort: [build(this.#fields())].flat().map((key) => plainKey(key as SortKey)) })
  }

  limit(limit: number): Query<Entry, Fields> {
    return this.#changed({ limit })
  }

  offset(offset: number): Query<Entry, Fields> {
    return this.#changed({ offset })
  }

  pick<Spec>(build: (fields: Fields) => Spec): Query<Picked<Spec>, Fields> {
    return this.#changed({ spec: build(this.#fields()) })
  }

  toArray(): Promise<readonly Entry[]> {
    return fetchAll(this.#site, this.#settings) as Promise<readonly Entry[]>
  }

  async first(): Promise<Entry | undefined> {
    return (await this.limit(1).toArray())[0]
  }

  async count(): Promise<number> {
    return (await runRows(this.#site, { ...this.#settings, limit: 0 })).total
  }

  async *[Symbol.asyncIterator](): AsyncGenerator<Entry, void> {
    yield* await this.toArray()
  }
}

/** A key without the rest of the handle that it may be. */
function plainKey(key: SortKey): SortKey {
  const place = placeOf(key)
  return place ? { path: place.path, direction: 'ascending' } : key
}

import { type Condition, createCondition, type SortKey } from './condition.ts'
import { fetchAll, type Settings } from './give-rows.ts'
import type { Picked } from './handle-types.ts'
import { entryHandle, placeOf } from './handles.ts'
import type { Site } from './open-site.ts'
import type { Query } from './query-types.ts'
import { runQuery, runRows } from './run-query.ts'

/** A query on a collection, or more that is said of one. */
export const createQuery = <Entry, Fields>(site: Site, settings: Settings): Query<Entry, Fields> =>
  new StoredQuery(site, settings) as unknown as Query<Entry, Fields>

type Given = readonly unknown[]

/** The results that are loaded when they are first asked for, so that the others cost less. */
const LATER = ['distinct', 'facets', 'range', 'groupBy', 'page', 'pages', 'neighbours', 'related', 'hits'] as const

/** The results of a query beside its entries. */
export type Results<Entry, Fields> = Pick<Query<Entry, Fields>, (typeof LATER)[number]>

class StoredQuery<Entry, Fields> implements Omit<Query<Entry, Fields>, keyof Results<Entry, Fields>> {
  readonly #site: Site
  readonly #settings: Settings

  static {
    for (const name of LATER)
      Reflect.set(StoredQuery.prototype, name, async function (this: StoredQuery<unknown, unknown>, ...given: Given) {
        const { createResults } = await import('./results.ts')
        const results = createResults(this.#site, this.#settings, this.#fields())
        return (results[name] as (...given: Given) => Promise<unknown>)(...given)
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

  async plan() {
    return (await runQuery(this.#site, this.#settings)).plan
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

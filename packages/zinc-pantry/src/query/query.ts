import { type Condition, createCondition, type SortKey } from './condition.ts'
import { fetchAll, type Settings } from './give-rows.ts'
import type { Picked } from './handle-types.ts'
import { createHandle, placeOf } from './handles.ts'
import type { Site } from './open-site.ts'
import type { HitOptions, PageOptions, Query } from './query-types.ts'
import { runQuery, runRows } from './run-query.ts'
import type { Shape } from './shape.ts'
import type { StaticPagesOptions } from './static-pages.ts'

/** A query on a collection, or more that is said of one. */
export const createQuery = <Entry, Fields>(site: Site, settings: Settings): Query<Entry, Fields> =>
  new StoredQuery(site, settings)

class StoredQuery<Entry, Fields> implements Query<Entry, Fields> {
  readonly #site: Site
  readonly #settings: Settings

  constructor(site: Site, settings: Settings) {
    this.#site = site
    this.#settings = settings
  }

  #fields(): Fields {
    const { shapes } = this.#site
    return createHandle(shapes.get(this.#settings.collection) as Shape, [], shapes) as Fields
  }

  #changed<Given = Entry>(change: Partial<Settings>): Query<Given, Fields> {
    return new StoredQuery(this.#site, { ...this.#settings, ...change })
  }

  /** Less usual results are loaded when they are first asked for, so that the others cost less. */
  async #results() {
    const { createResults } = await import('./results.ts')
    return createResults<Entry, Fields>(this.#site, this.#settings, () => this.#fields())
  }

  where(build: (fields: Fields) => Condition): Query<Entry, Fields> {
    const added = build(this.#fields())
    const { condition } = this.#settings
    return this.#changed({ condition: condition ? createCondition(condition).and(added).tree : added.tree })
  }

  search(search: string): Query<Entry, Fields> {
    return this.#changed({ search })
  }

  sort(build: (fields: Fields) => SortKey | readonly SortKey[]): Query<Entry, Fields> {
    const keys = build(this.#fields())
    return this.#changed({ sort: [keys].flat().map((key) => plainKey(key as SortKey)) })
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

  async distinct<Handle>(build: (fields: Fields) => Handle) {
    return (await this.#results()).distinct(build)
  }

  async facets<Spec extends object>(build: (fields: Fields) => Spec) {
    return (await this.#results()).facets(build)
  }

  async range<Handle>(build: (fields: Fields) => Handle) {
    return (await this.#results()).range(build)
  }

  async groupBy<Handle>(build: (fields: Fields) => Handle) {
    return (await this.#results()).groupBy(build)
  }

  async page(options: PageOptions) {
    return (await this.#results()).page(options)
  }

  async pages(options: StaticPagesOptions) {
    return (await this.#results()).pages(options)
  }

  async neighbours(id: string) {
    return (await this.#results()).neighbours(id)
  }

  async related(id: string, options?: { readonly limit?: number }) {
    return (await this.#results()).related(id, options)
  }

  async hits(options?: HitOptions) {
    return (await this.#results()).hits(options)
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

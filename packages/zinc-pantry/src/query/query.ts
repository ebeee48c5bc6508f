import { buildCondition } from './build-condition.ts'
import { type Condition, type ConditionTree, describe, type SortKey } from './condition.ts'
import { fetchAll, type Settings } from './give-rows.ts'
import type { Picked } from './handle-types.ts'
import { entryHandle } from './handles.ts'
import type { Asked, LazyResult, LazyResultName } from './lazy-results.ts'
import type { Site } from './open-site.ts'
import { callWith, type HandlePlace, placeOf } from './place.ts'
import { QueryError } from './query-error.ts'
import type { Query } from './query-types.ts'
import { startRun } from './run.ts'
import { runRows } from './run-query.ts'
import { readSortKey } from './sort-key.ts'

/** A query on a collection, or more that is said of one. */
export const createQuery = <Entry, Fields>(site: Site, settings: Settings): Query<Entry, Fields> =>
  new StoredQuery(site, settings) as unknown as Query<Entry, Fields>

type Given = readonly unknown[]

const loadCounts = () => import('./count-results.ts')

/** The loaders of lazy results. */
const LATER: { readonly [Name in LazyResultName]: () => Promise<{ readonly [Key in Name]: LazyResult<Name> }> } = {
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

class StoredQuery<Entry, Fields> implements Omit<Query<Entry, Fields>, LazyResultName> {
  readonly #site: Site
  readonly #settings: Settings

  static {
    // One function and not ten: every page loads this module at once.
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
    const fields = this.#fields()
    const { tree } = buildCondition((placeOf(fields) as HandlePlace).root.scope, build, fields)
    const { condition } = this.#settings
    return this.#changed({ condition: condition ? joinTrees(condition, tree) : tree })
  }

  search(search: string): Query<Entry, Fields> {
    if (typeof search !== 'string') throw new QueryError(`search takes a text, not ${describe(search)}`)
    return this.#changed({ search })
  }

  sort(build: (fields: Fields) => SortKey | readonly SortKey[]): Query<Entry, Fields> {
    return this.#changed({ sort: [callWith(build, this.#fields())].flat().map(readSortKey) })
  }

  limit(limit: number): Query<Entry, Fields> {
    return this.#changed({ limit })
  }

  offset(offset: number): Query<Entry, Fields> {
    return this.#changed({ offset })
  }

  pick<Spec>(build: (fields: Fields) => Spec): Query<Picked<Spec>, Fields> {
    const spec = callWith(build, this.#fields())
    if (spec === undefined) throw new QueryError('pick takes fields, and objects of them, not undefined')
    return this.#changed({ spec })
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

const joinTrees = (...parts: ConditionTree[]): ConditionTree => ({ kind: 'and', parts })

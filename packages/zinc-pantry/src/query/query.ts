import { buildCondition } from './build-condition.ts'
import { type Condition, type ConditionTree, describe, type SortKey } from './condition.ts'
import { fetchAll } from './give-rows.ts'
import type { Picked } from './handle-types.ts'
import { entryHandle } from './handles.ts'
import type { Asked, LazyResult, LazyResultName } from './lazy-results.ts'
import type { Site } from './open-site.ts'
import { callWith, type HandlePlace, placeOf } from './place.ts'
import { QueryError } from './query-error.ts'
import type { QuerySettings } from './query-request.ts'
import type { Query } from './query-types.ts'
import { startRun } from './run.ts'
import { runRows } from './run-query.ts'
import { readSortKey } from './sort-key.ts'

/** A query on a collection, or more that is said of one. */
export const createQuery = <Entry, Fields>(site: Site, settings: QuerySettings): Query<Entry, Fields> =>
  new StoredQuery(site, settings)

type Given = readonly unknown[]
type Give = (asked: Asked, ...given: Given) => Promise<never>

const loadCounts = () => import('./count-results.ts')
const loadCompletions = () => import('./completions.ts')

/** The loaders of lazy results. */
const LOADERS: { readonly [Name in LazyResultName]: () => Promise<{ readonly [Key in Name]: LazyResult<Name> }> } = {
  distinct: loadCounts,
  facets: loadCounts,
  range: () => import('./value-range.ts'),
  statistics: () => import('./statistics.ts'),
  groupBy: () => import('./group-results.ts'),
  page: () => import('./page-results.ts'),
  neighbours: () => import('./neighbours.ts'),
  pages: () => import('./static-pages.ts'),
  related: () => import('./related.ts'),
  hits: () => import('./hits.ts'),
  completions: loadCompletions,
  correction: loadCompletions,
  plan: () => import('./plan.ts'),
}

class StoredQuery<Entry, Fields> implements Query<Entry, Fields> {
  readonly #site: Site
  readonly #settings: QuerySettings

  constructor(site: Site, settings: QuerySettings) {
    this.#site = site
    this.#settings = settings
  }

  #fields(): Fields {
    return entryHandle(this.#site.shapes, this.#settings.collection) as Fields
  }

  /** Gives a result whose code is loaded when it is first asked for. */
  async #give(name: LazyResultName, given: Given): Promise<never> {
    const { [name]: give } = (await LOADERS[name]()) as unknown as { readonly [Name in LazyResultName]: Give }
    const [site, settings] = [this.#site, this.#settings]
    const open = () => startRun(site, settings.locale).open(settings.collection)
    return give({ site, settings, fields: this.#fields(), open }, ...given)
  }

  #changed<Wanted = Entry>(change: Partial<QuerySettings>): Query<Wanted, Fields> {
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

  distinct(...given: Given): Promise<never> {
    return this.#give('distinct', given)
  }

  facets(...given: Given): Promise<never> {
    return this.#give('facets', given)
  }

  range(...given: Given): Promise<never> {
    return this.#give('range', given)
  }

  statistics(...given: Given): Promise<never> {
    return this.#give('statistics', given)
  }

  groupBy(...given: Given): Promise<never> {
    return this.#give('groupBy', given)
  }

  page(...given: Given): Promise<never> {
    return this.#give('page', given)
  }

  neighbours(...given: Given): Promise<never> {
    return this.#give('neighbours', given)
  }

  pages(...given: Given): Promise<never> {
    return this.#give('pages', given)
  }

  related(...given: Given): Promise<never> {
    return this.#give('related', given)
  }

  hits(...given: Given): Promise<never> {
    return this.#give('hits', given)
  }

  completions(...given: Given): Promise<never> {
    return this.#give('completions', given)
  }

  correction(...given: Given): Promise<never> {
    return this.#give('correction', given)
  }

  plan(...given: Given): Promise<never> {
    return this.#give('plan', given)
  }

  async *[Symbol.asyncIterator](): AsyncGenerator<Entry, void> {
    yield* await this.toArray()
  }
}

const joinTrees = (...parts: ConditionTree[]): ConditionTree => ({ kind: 'and', parts })

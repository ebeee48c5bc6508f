import { type Condition, type ConditionTree, createCondition, type SortKey } from './condition.ts'
import { createHandle, QueryError } from './handles.ts'
import type { FieldNotes, Site, StoredBody } from './open-site.ts'
import { startRun } from './run.ts'
import { type QueryPlan, runQuery } from './run-query.ts'
import { findById } from './select-values.ts'
import type { Shape } from './shape.ts'

/**
 * A question about the entries of one collection. It is plain and immutable: every method gives a new
 * one, and nothing is read before it is asked for a result.
 */
export interface Query<Entry, Fields> {
  /** Keeps the entries for which the condition holds; a second one must hold too. */
  where(build: (fields: Fields) => Condition): Query<Entry, Fields>
  /** Orders by one key or several, the first first. Default: the order of the files. */
  sort(build: (fields: Fields) => SortKey | readonly SortKey[]): Query<Entry, Fields>
  /** At most so many entries, from 0. */
  limit(count: number): Query<Entry, Fields>
  /** Leaves out so many entries at the start, from 0. */
  offset(count: number): Query<Entry, Fields>
  /** All entries that match, within limit and offset. */
  toArray(): Promise<readonly Entry[]>
  /** The first of them. */
  first(): Promise<Entry | undefined>
  /** How many match, whatever limit and offset say. */
  count(): Promise<number>
  /** How the query is answered: which indexes, how many entries looked at. */
  plan(): Promise<QueryPlan>
  [Symbol.asyncIterator](): AsyncIterator<Entry>
}

/** A compiled collection. `Id` is the union of its ids where they are few enough to be listed. */
export interface Collection<Entry, Fields, Id extends string> extends Query<Entry, Fields> {
  readonly name: string
  /** The entry with an id. An id that TypeScript knows always has one. */
  byId<Known extends string>(
    id: Known,
  ): Promise<Known extends Id ? (string extends Id ? Entry | undefined : Entry) : Entry | undefined>
  bySlug(slug: string): Promise<Entry | undefined>
  /** The text below the front matter of an entry, as written and as HTML, where the collection keeps bodies. */
  loadBody(id: string): Promise<StoredBody | undefined>
  /** Labels, help, labels of choices and hints of the fields, by path: `water.source`. */
  loadNotes(): Promise<{ readonly [path: string]: FieldNotes }>
  /** The same entries in a language (BCP 47); those that lack it stand in the site's first language. */
  inLocale(locale: string): Collection<Entry, Fields, Id>
}

/** A collection of exactly one entry. */
export interface Single<Entry> {
  readonly name: string
  get(): Promise<Entry>
  /** The text below the front matter, where the collection keeps bodies. */
  loadBody(): Promise<StoredBody | undefined>
  /** The entry in a language (BCP 47), or in the site's first where it lacks it. */
  inLocale(locale: string): Single<Entry>
}

interface Settings {
  readonly condition?: ConditionTree
  readonly sort?: readonly SortKey[]
  readonly limit?: number
  readonly offset?: number
  readonly locale?: string | undefined
}

/** Opens one collection of a site. */
export function openCollection<Entry, Fields, Id extends string>(
  site: Site,
  name: string,
  locale?: string,
): Collection<Entry, Fields, Id> {
  const stored = site.stored(name)
  const find = async (key: 'id' | 'slug', value: string): Promise<number | undefined> => {
    const rows = await findById(startRun(site, locale), name, [value], key)
    return rows?.[0]
  }
  const entryBy = async (key: 'id' | 'slug', value: string): Promise<Entry | undefined> => {
    const row = await find(key, value)
    if (row === undefined) return undefined
    const collection = await site.open(name)
    await collection.loadRows([row])
    return collection.row(row) as Entry
  }
  return {
    name,
    byId: ((id: string) => entryBy('id', id)) as Collection<Entry, Fields, Id>['byId'],
    bySlug: (slug) => entryBy('slug', slug),
    async loadBody(id) {
      const row = await find('id', id)
      return row === undefined ? undefined : (await site.open(name)).loadBody(row)
    },
    loadNotes: async () => (await stored.notes?.())?.default ?? {},
    inLocale: (wanted) => openCollection(site, name, knownLocale(site, wanted)),
    ...createQuery<Entry, Fields>(site, name, { locale }),
  }
}

/** A key without the rest of the handle it comes from. */
const plainKey = ({ path, direction, collation, absent }: SortKey): SortKey => ({
  path,
  direction,
  ...(collation === undefined ? {} : { collation }),
  ...(absent === undefined ? {} : { absent }),
})

function knownLocale({ locales }: Site, locale: string): string {
  if (locales.includes(locale)) return locale
  throw new QueryError(`There is no language ${locale}; there are ${locales.join(', ')}`)
}

/** Opens a collection of exactly one entry. */
export function openSingle<Entry>(site: Site, name: string, locale?: string): Single<Entry> {
  const collection = openCollection<Entry, unknown, string>(site, name, locale)
  return {
    name,
    get: () => collection.first() as Promise<Entry>,
    async loadBody() {
      const entry = (await collection.first()) as { readonly id: string } | undefined
      return entry && collection.loadBody(entry.id)
    },
    inLocale: (wanted) => openSingle(site, name, knownLocale(site, wanted)),
  }
}

function createQuery<Entry, Fields>(site: Site, collection: string, settings: Settings): Query<Entry, Fields> {
  const shape = site.shapes.get(collection) as Shape
  const handle = (): Fields => createHandle(shape, [], site.shapes) as Fields
  const changed = (change: Settings) => createQuery<Entry, Fields>(site, collection, { ...settings, ...change })
  const run = (change: Settings = {}) => runQuery(site, { collection, ...settings, ...change })
  const toArray = async (): Promise<readonly Entry[]> => (await run()).entries as readonly Entry[]
  return {
    where(build) {
      const added = build(handle())
      const { condition } = settings
      return changed({ condition: condition ? createCondition(condition).and(added).tree : added.tree })
    },
    sort(build) {
      const keys = build(handle())
      const list = Array.isArray(keys) ? (keys as readonly SortKey[]) : [keys as SortKey]
      return changed({ sort: list.map(plainKey) })
    },
    limit: (limit) => changed({ limit }),
    offset: (offset) => changed({ offset }),
    toArray,
    first: async () => (await run({ limit: 1 })).entries[0] as Entry | undefined,
    count: async () => (await run({ limit: 0 })).total,
    plan: async () => (await run()).plan,
    async *[Symbol.asyncIterator]() {
      yield* await toArray()
    },
  }
}

import { addTo } from '../diagnostics/add-to.ts'
import type { OrderSource, SearchSource } from '../indexing/build-collection.ts'
import type { Scalar } from '../query/condition.ts'
import type { BlockFields, Shape } from '../schema/field.ts'
import type { CollectionModel, Model } from '../schema/model.ts'
import type { Entry } from '../validate/entry.ts'
import { createStorer, type Rendering, type StoredEntry, shapesOf } from './stored-entry.ts'

/** What the texts of entries are read from. */
interface TextContext extends Rendering {
  /** The plain text of a body. */
  bodyText(entry: Entry): string
  /** Texts of the last build of the same process, by collection. */
  readonly memory?: { readonly texts: Map<string, readonly (readonly string[])[]> } | undefined
}

interface Holder {
  readonly collection: CollectionModel
  readonly entries: readonly Entry[]
}

/** Reads entries as they are stored, and those that they refer to. */
export interface EntryReaders {
  /** What full-text search is built from, of a collection that says what is searched. */
  searchOf(holder: Holder): SearchSource | undefined
  /** What the orders are built from that a collection keeps. */
  ordersOf(holder: Holder): readonly OrderSource[]
}

/** Makes readers of the entries of all collections. */
export function createEntryReaders(
  model: Pick<Model, 'blocks'>,
  collections: readonly Holder[],
  context: TextContext,
): EntryReaders {
  const readers = new Map(collections.map((one) => [one.collection.name, createReader(one, model.blocks, context)]))
  return {
    searchOf({ collection, entries }) {
      const { search } = collection
      if (search.length === 0) return undefined
      const fields = readers.get(collection.name) as EntryReader
      const texts = (row: number): readonly string[] => {
        const entry = entries[row] as Entry
        const stored = fields.read(entry)
        const textAt = (path: readonly string[]): string =>
          valuesIn(stored, { shape: fields.shape, path, locale: entry.locale }, readers).join(' · ')
        return search.map(({ path }) => (isBody(path) ? context.bodyText(entry) : textAt(path)))
      }
      const { memory } = context
      const last = memory?.texts.get(collection.name)
      const all = memory && entries.map((_, row) => texts(row))
      if (all) memory.texts.set(collection.name, all)
      return {
        places: search.map(({ path, weight }) => ({ path: path.join('.'), weight })),
        texts: all ? (row) => all[row] as readonly string[] : texts,
        isSame: () =>
          last?.length === all?.length &&
          (last ?? []).every((own, row) => own.every((text, place) => text === all?.[row]?.[place])),
      }
    },
    ordersOf({ collection, entries }) {
      const fields = readers.get(collection.name) as EntryReader
      const behind = collection.indexes
        .map((path) => path.split('.'))
        .filter((path) => path.length > 1 && leadsAway(fields.shape, path))
        .map((path) => ({ path, collation: undefined }))
      const isTranslated = collections.some((one) => one.collection.locales !== undefined)
      // What a reference leads to depends on the language that is asked for, and is put in order then.
      const own = [...behind, ...collection.sortOrders].filter(
        ({ path }) => !isTranslated || !leadsAway(fields.shape, path),
      )
      const keysOf = (entry: Entry): (Scalar | null)[] => {
        const stored = fields.read(entry)
        return own.map(({ path }) => {
          const place = { shape: fields.shape, path, locale: entry.locale }
          return (valuesIn(stored, place, readers)[0] ?? null) as Scalar | null
        })
      }
      // Every entry is stored once for all orders.
      let keys: readonly (readonly (Scalar | null)[])[] | undefined
      return own.map(({ path, collation }, at): OrderSource => {
        const value = (row: number): Scalar | null => {
          keys ??= entries.map(keysOf)
          return keys[row]?.[at] ?? null
        }
        return { path, collation, value }
      })
    },
  }
}

/** True for a path that goes on behind a reference. */
function leadsAway(shape: Shape, path: readonly string[]): boolean {
  let at: Shape | undefined = shape
  for (const name of path) {
    if (at?.kind === 'ref') return true
    at = at?.fields?.[name]
  }
  return false
}

const isBody = (path: readonly string[]): boolean => path.length === 1 && path[0] === 'body'

/** Reads entries of a collection as they are stored. */
interface EntryReader {
  readonly shape: Shape
  read(entry: Entry): StoredEntry
  byId(id: unknown, locale: string | undefined): StoredEntry | undefined
}

function createReader({ collection, entries }: Holder, blocks: BlockFields, context: Rendering): EntryReader {
  const store = createStorer(collection, blocks, context)
  const stored = new Map<Entry, StoredEntry>()
  let ids: Map<string, Entry[]> | undefined
  const read = (entry: Entry): StoredEntry => {
    const known = stored.get(entry) ?? store(entry)
    stored.set(entry, known)
    return known
  }
  return {
    shape: { kind: 'group', fields: shapesOf(collection, blocks) },
    // What is searched itself is read once; what it refers to often.
    read: store,
    byId(id, locale) {
      if (!ids) {
        ids = new Map()
        for (const entry of entries) addTo(ids, entry.id, entry)
      }
      const versions = ids.get(String(id)) ?? []
      const entry = versions.find((version) => version.locale === locale) ?? versions[0]
      return entry && read(entry)
    },
  }
}

/** The single values at a path, those of all items of lists. */
function valuesIn(
  value: unknown,
  {
    shape,
    path,
    locale,
  }: { readonly shape: Shape; readonly path: readonly string[]; readonly locale: string | undefined },
  readers: ReadonlyMap<string, EntryReader>,
): unknown[] {
  if (value === null || value === undefined) return []
  if (shape.kind === 'list')
    return Array.isArray(value)
      ? value.flatMap((item) => valuesIn(item, { shape: shape.item as Shape, path, locale }, readers))
      : []
  const [name, ...rest] = path
  if (name === undefined) return [value]
  const target = shape.kind === 'ref' ? readers.get(shape.target ?? '') : undefined
  const holder = target ? target.byId(value, locale) : value
  const inner = (target?.shape ?? shape).fields?.[name]
  if (!inner || typeof holder !== 'object' || holder === null) return []
  return valuesIn((holder as StoredEntry)[name], { shape: inner, path: rest, locale }, readers)
}

import { addTo } from '../diagnostics/add-to.ts'
import type { SearchSource } from '../indexing/build-collection.ts'
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

/** Makes what full-text search is built from, for collections that say what is searched. */
export function createSearchSources(
  model: Pick<Model, 'blocks'>,
  collections: readonly Holder[],
  context: TextContext,
): (holder: Holder) => SearchSource | undefined {
  const readers = new Map(collections.map((one) => [one.collection.name, createReader(one, model.blocks, context)]))
  return ({ collection, entries }) => {
    const { search } = collection
    if (search.length === 0) return undefined
    const fields = readers.get(collection.name) as EntryReader
    const texts = (row: number): readonly string[] => {
      const entry = entries[row] as Entry
      const stored = fields.read(entry)
      const textAt = (path: readonly string[]): string =>
        textsIn(stored, { shape: fields.shape, path, locale: entry.locale }, readers).join(' · ')
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
  }
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

/** The texts at a path, those of all items of lists. */
function textsIn(
  value: unknown,
  {
    shape,
    path,
    locale,
  }: { readonly shape: Shape; readonly path: readonly string[]; readonly locale: string | undefined },
  readers: ReadonlyMap<string, EntryReader>,
): string[] {
  if (value === null || value === undefined) return []
  if (shape.kind === 'list')
    return Array.isArray(value)
      ? value.flatMap((item) => textsIn(item, { shape: shape.item as Shape, path, locale }, readers))
      : []
  const [name, ...rest] = path
  if (name === undefined) return [String(value)]
  const target = shape.kind === 'ref' ? readers.get(shape.target ?? '') : undefined
  const holder = target ? target.byId(value, locale) : value
  const inner = (target?.shape ?? shape).fields?.[name]
  if (!inner || typeof holder !== 'object' || holder === null) return []
  return textsIn((holder as StoredEntry)[name], { shape: inner, path: rest, locale }, readers)
}

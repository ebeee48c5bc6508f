import { type ListMemory, mapAgain, memoryOf } from '../diagnostics/map-again.ts'
import { buildCollection, type OrderSource, type RowChanges, type SearchSource } from '../indexing/build-collection.ts'
import { listParts } from '../indexing/build-index.ts'
import type { CollectionModel, Model } from '../schema/model.ts'
import type { Entry } from '../validate/entry.ts'
import { BODIES_A_PART } from './bodies.ts'
import { createEntryReaders } from './entry-readers.ts'
import { collectNotes } from './field-notes.ts'
import { PACKAGE } from './heads.ts'
import { type EmittedModule, emitIndexModule } from './index-module.ts'
import { emitJsonModule } from './json-module.ts'
import { type PartKeeper, pathOfPart } from './part-keeper.ts'
import { createStorer, type Rendering, type StoredEntry, shapesOf, toldOrder } from './stored-entry.ts'
import { type CollectionIds, emitTypes } from './types.ts'

/** What comes from elsewhere. */
export interface EmitContext extends Rendering {
  /** The names of the parts that hold bodies, by collection. */
  readonly bodies: ReadonlyMap<string, readonly string[]>
  readonly parts: PartKeeper
  /** The plain text of a body, for search. */
  bodyText(entry: Entry): string
  readonly memory?: EmitMemory | undefined
}

/** What was emitted in the last build of the same process. */
export interface EmitMemory {
  readonly collections: Map<string, EmittedRows>
  /** Entries as they are stored, by collection. */
  readonly stored: Map<string, ListMemory<Entry, Stored>>
  readonly links: { readonly generation: number }
  readonly texts: Map<string, readonly (readonly string[])[]>
  readonly types: TypesMemory
}

/** A stored entry, which holds as long as links lead where they led and pictures are as they were. */
interface Stored {
  readonly generation: number
  readonly hasLinks: boolean
  /** The pictures that its body names, and what was said of their dimensions. */
  readonly pictures: readonly { readonly href: string; readonly text: string }[]
  readonly entry: StoredEntry
}

interface EmittedRows {
  readonly collection: CollectionModel
  readonly entries: readonly Entry[]
  readonly rows: readonly Stored[]
  readonly ids: readonly string[]
}

/** The version of the layout of the generated folder. */
const LAYOUT = 3

/** The entries of one collection, all of them valid. */
export interface EmittedCollection {
  readonly collection: CollectionModel
  readonly entries: readonly Entry[]
}

/** The heads of an output, and what they are made of. */
export interface EmittedSite {
  /** Texts by path, in the order in which they are to be written. */
  readonly heads: ReadonlyMap<string, string>
  readonly modules: readonly EmittedModule[]
}

/** What a manifest says; the file `manifest.json` of the generated folder. */
export interface Manifest {
  readonly layout: number
  readonly collections: Readonly<Record<string, { readonly entries: number; readonly parts: readonly string[] }>>
}

/**
 * Makes the texts of everything a build writes. Parts have their digest in their name and never change; they go to
 * the keeper. The heads that name them are given back, to be written when all parts are there.
 */
export function emitSite(model: Model, collections: readonly EmittedCollection[], context: EmitContext): EmittedSite {
  const readers = createEntryReaders(model, collections, context)
  const emitted = collections.map((one) =>
    emitCollection(model, one, { ...context, search: readers.searchOf(one), sortOrders: readers.ordersOf(one) }),
  )
  const ids = new Map(emitted.map(({ name, ids: own, isComplete }) => [name, { ids: own, isComplete }]))
  const manifest: Manifest = {
    layout: LAYOUT,
    collections: Object.fromEntries(emitted.map(({ name, count, parts }) => [name, { entries: count, parts }])),
  }
  const heads = new Map([
    ['package.json', PACKAGE],
    ['index.d.ts', emitTypesAgain(model, ids, context.memory?.types)],
    ['manifest.json', `${JSON.stringify(manifest, null, 2)}\n`],
    ['index.js', emitIndexModule(emitted, model.locales)],
  ])
  return { heads, modules: emitted }
}

const NO_IDS: CollectionIds = { ids: [], isComplete: true }

/** Types, which change with the configuration and with ids only. */
export interface TypesMemory {
  last?: { readonly model: Model; readonly ids: ReadonlyMap<string, CollectionIds>; readonly text: string }
}

function emitTypesAgain(
  model: Model,
  ids: ReadonlyMap<string, CollectionIds>,
  memory: TypesMemory | undefined,
): string {
  const { last } = memory ?? {}
  const isSame = ([name, own]: [string, CollectionIds]): boolean => {
    const known = last?.ids.get(name)
    if (known?.isComplete !== own.isComplete) return false
    return (
      known.ids === own.ids || (known.ids.length === own.ids.length && own.ids.every((id, at) => id === known.ids[at]))
    )
  }
  const text =
    last?.model === model && [...ids].every(isSame) ? last.text : emitTypes(model, (name) => ids.get(name) ?? NO_IDS)
  if (memory) memory.last = { model, ids, text }
  return text
}

function emitCollection(
  model: Model,
  { collection, entries }: EmittedCollection,
  {
    bodies,
    parts,
    search,
    sortOrders,
    memory,
    ...rendering
  }: EmitContext & { readonly search: SearchSource | undefined; readonly sortOrders: readonly OrderSource[] },
): EmittedModule & CollectionIds & { readonly count: number } {
  const { name, single } = collection
  const keep = (kind: 'indexes' | 'notes' | 'catalogues', content: unknown): string =>
    parts.keep(kind, name, emitJsonModule(content))
  const { fieldRenderer, links } = rendering
  const store = createStorer(collection, model.blocks, { fieldRenderer, links })
  const shapes = shapesOf(collection, model.blocks)
  const rows = memory && storeAgain({ collection, entries }, { model, fieldRenderer, links, memory })
  const changes = memory && rows && findChanges({ collection, entries, rows }, memory)
  const { catalogue, orderSizes } = buildCollection(
    {
      shapes,
      locales: collection.locales === undefined ? [] : model.locales,
      count: entries.length,
      entry: (row) => rows?.[row]?.entry ?? store(entries[row] as Entry),
      indexed: collection.indexes,
      order: toldOrder(collection),
      sortOrders,
      search,
      changes,
    },
    {
      rows: (rows) => parts.keepAll('rows', name, rows.map(emitJsonModule)),
      index: (content) => keep('indexes', content),
      unit: (unit, isSame, make) => parts.unit(name, unit, { isSame, make }),
    },
  )
  const ids = (changes && memory?.collections.get(name)?.ids) ?? entries.map(({ id }) => id)
  if (memory && rows) memory.collections.set(name, { collection, entries, rows, ids })
  const names = bodies.get(name)
  const stored = names && { bodies: listParts(names, BODIES_A_PART, (content) => keep('indexes', content)) }
  const head = pathOfPart('catalogues', name, keep('catalogues', { ...catalogue, ...stored }))
  const notes = collectNotes(collection)
  const noted = Object.keys(notes).length > 0 ? { notes: pathOfPart('notes', name, keep('notes', notes)) } : {}
  return {
    name,
    isSingle: single,
    shapes,
    catalogue: head,
    ...noted,
    parts: parts.pathsOf(name),
    orderSizes,
    count: entries.length,
    ids,
    isComplete: hasAllIds({ collection, entries }, model.locales[0]),
  }
}

/** True where every id is there in the first language. */
function hasAllIds({ collection, entries }: EmittedCollection, first: string | undefined): boolean {
  if (collection.locales === undefined) return true
  const known = new Set(entries.flatMap(({ id, locale }) => (locale === first ? [id] : [])))
  return entries.every(({ id }) => known.has(id))
}

/** Stores each entry once, as long as it is the same object and links in it lead where they led. */
function storeAgain(
  { collection, entries }: EmittedCollection,
  { model, fieldRenderer, links, memory }: Rendering & { readonly model: Model; readonly memory: EmitMemory },
): readonly Stored[] {
  let hasLinks = false
  let pictures: { readonly href: string; readonly text: string }[] = []
  const render = fieldRenderer(collection)
  const store = createStorer(collection, model.blocks, {
    fieldRenderer: () => (text, entry) => {
      hasLinks = true
      return render(text, entry)
    },
    links: {
      addressOf(href, entry) {
        hasLinks = true
        return links.addressOf(href, entry)
      },
      dimensionsOf(href, entry) {
        const dimensions = links.dimensionsOf(href, entry)
        pictures.push({ href, text: JSON.stringify(dimensions) })
        return dimensions
      },
    },
  })
  const { generation } = memory.links
  const make = (entry: Entry): Stored => {
    hasLinks = false
    pictures = []
    const stored = store(entry)
    return { generation, hasLinks, pictures, entry: stored }
  }
  const isRight = (known: Stored, entry: Entry): boolean =>
    (known.generation === generation || !known.hasLinks) &&
    known.pictures.every(({ href, text }) => JSON.stringify(links.dimensionsOf(href, entry)) === text)
  return mapAgain(memoryOf(memory.stored, collection.name), entries, { make, isRight })
}

/** The rows that changed since the last build; undefined where they do not stand where they stood. */
function findChanges(
  { collection, entries, rows }: Omit<EmittedRows, 'ids'>,
  memory: EmitMemory,
): RowChanges | undefined {
  const last = memory.collections.get(collection.name)
  if (last?.collection !== collection || last.entries.length !== entries.length) return undefined
  const changed = new Set<number>()
  for (let row = 0; row < rows.length; row++) {
    if (rows[row] === last.rows[row]) continue
    const [entry, old] = [entries[row], last.entries[row]]
    if (entry?.id !== old?.id || entry?.locale !== old?.locale) return undefined
    changed.add(row)
  }
  return { rows: changed, last: (row) => (last.rows[row] as Stored).entry }
}

import { buildCollection, type SearchSource } from '../indexing/build-collection.ts'
import { listParts } from '../indexing/build-index.ts'
import type { CollectionModel, Model } from '../schema/model.ts'
import type { Entry } from '../validate/entry.ts'
import { BODIES_A_PART } from './bodies.ts'
import { collectNotes } from './field-notes.ts'
import { type EmittedModule, emitIndexModule } from './index-module.ts'
import { emitJsonModule } from './json-module.ts'
import { type PartKeeper, pathOfPart } from './part-keeper.ts'
import { createSearchSources } from './search-texts.ts'
import { createStorer, type Rendering, shapesOf } from './stored-entry.ts'
import { emitTypes } from './types.ts'

/** What comes from elsewhere. */
export interface EmitContext extends Rendering {
  /** The names of the parts that hold bodies, by collection. */
  readonly bodies: ReadonlyMap<string, readonly string[]>
  readonly parts: PartKeeper
  /** The plain text of a body, for search. */
  bodyText(entry: Entry): string
}

/** The version of the layout of the generated folder. */
const LAYOUT = 2

/** The entries of one collection, all of them valid. */
export interface EmittedCollection {
  readonly collection: CollectionModel
  readonly entries: readonly Entry[]
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
export function emitSite(
  model: Model,
  collections: readonly EmittedCollection[],
  context: EmitContext,
): ReadonlyMap<string, string> {
  const searchOf = createSearchSources(model, collections, context)
  const emitted = collections.map((one) => emitCollection(model, one, { ...context, search: searchOf(one) }))
  const ids = new Map(collections.map(({ collection, entries }) => [collection.name, entries.map(({ id }) => id)]))
  const manifest: Manifest = {
    layout: LAYOUT,
    collections: Object.fromEntries(emitted.map(({ name, count, parts }) => [name, { entries: count, parts }])),
  }
  return new Map([
    ['index.d.ts', emitTypes(model, (name) => ids.get(name) ?? [])],
    ['manifest.json', `${JSON.stringify(manifest, null, 2)}\n`],
    ['index.js', emitIndexModule(emitted, model.locales)],
  ])
}

function emitCollection(
  model: Model,
  { collection, entries }: EmittedCollection,
  { bodies, parts, search, ...rendering }: EmitContext & { readonly search: SearchSource | undefined },
): EmittedModule & { readonly count: number } {
  const { name, single } = collection
  const keep = (kind: 'indexes' | 'notes' | 'catalogues', content: unknown): string =>
    parts.keep(kind, name, emitJsonModule(content))
  const store = createStorer(collection, model.blocks, rendering)
  const shapes = shapesOf(collection, model.blocks)
  const catalogue = buildCollection(
    {
      shapes,
      locales: collection.locales === undefined ? [] : model.locales,
      count: entries.length,
      entry: (row) => store(entries[row] as Entry),
      indexed: collection.indexes,
      search,
    },
    {
      rows: (rows) => parts.keepAll('rows', name, rows.map(emitJsonModule)),
      index: (content) => keep('indexes', content),
    },
  )
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
    count: entries.length,
  }
}

import type { StoredValue, World } from './evaluate.ts'
import type { CollectionIndex } from './field-index.ts'
import type { PlanWorld } from './plan.ts'
import { entryShape, type Shape, type Shapes } from './shape.ts'

/** A module of the generated folder. */
interface Module<Content> {
  readonly default: Content
}

/** One collection as the generated module describes it; its parts are loaded when a query needs them. */
export interface StoredCollection {
  readonly name: string
  readonly fields: { readonly [name: string]: Shape }
  entries(): Promise<Module<readonly StoredValue[]>>
  index(): Promise<Module<CollectionIndex>>
  /** The bodies, in the order of the entries, where the collection has them. */
  bodies?(): Promise<Module<readonly StoredBody[]>>
}

/** The text below an entry's front matter, as written. */
export interface StoredBody {
  readonly format: 'markdown' | 'mdx'
  readonly text: string
}

/** The parts of one collection that are in memory. */
export interface LoadedCollection {
  readonly entries: readonly StoredValue[]
  readonly index: CollectionIndex
  readonly positionById: ReadonlyMap<string, number>
  readonly positionBySlug: ReadonlyMap<string, number>
}

/** All collections of a site, loaded as they are needed. */
export interface Site {
  readonly shapes: Shapes
  stored(name: string): StoredCollection
  load(name: string): Promise<LoadedCollection>
  /** Loads the named collections and gives what a query needs of them. */
  world(names: readonly string[]): Promise<PlanWorld>
}

/** Opens what was compiled. Nothing is loaded yet. */
export function openSite(collections: readonly StoredCollection[]): Site {
  const byName = new Map(collections.map((collection) => [collection.name, collection]))
  const shapes = new Map(collections.map(({ name, fields }) => [name, entryShape(fields)]))
  const loading = new Map<string, Promise<LoadedCollection>>()
  const stored = (name: string): StoredCollection => {
    const found = byName.get(name)
    if (!found) throw new Error(`There is no collection ${name}`)
    return found
  }
  const load = (name: string): Promise<LoadedCollection> => {
    let promise = loading.get(name)
    if (!promise) {
      promise = loadCollection(stored(name))
      loading.set(name, promise)
      // A failed load, such as one without a network, may be tried again.
      promise.catch(() => loading.delete(name))
    }
    return promise
  }
  return {
    shapes,
    stored,
    load,
    async world(names) {
      const loaded = new Map(await Promise.all(names.map(async (name) => [name, await load(name)] as const)))
      return createWorld(shapes, loaded)
    },
  }
}

function createWorld(shapes: Shapes, loaded: ReadonlyMap<string, LoadedCollection>): PlanWorld & World {
  const collection = (name: string): LoadedCollection => loaded.get(name) as LoadedCollection
  return {
    shapes,
    find(name, id) {
      const position = collection(name).positionById.get(id)
      return position === undefined ? undefined : collection(name).entries[position]
    },
    indexOf: (name) => collection(name).index,
    entriesOf: (name) => collection(name).entries,
  }
}

async function loadCollection(stored: StoredCollection): Promise<LoadedCollection> {
  const [{ default: entries }, { default: index }] = await Promise.all([stored.entries(), stored.index()])
  return {
    entries,
    index,
    positionById: new Map(entries.map((entry, position) => [String(entry.id), position])),
    positionBySlug: new Map(entries.map((entry, position) => [String(entry.slug), position])),
  }
}

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
  /** What the configuration says of fields, by dotted path, where it says something. */
  notes?(): Promise<Module<{ readonly [path: string]: FieldNotes }>>
  /** The bodies, in the order of the entries, where the collection has them. */
  readonly bodies?: {
    /** How many bodies a part has; the last has fewer. */
    readonly size: number
    readonly parts: readonly (() => Promise<Module<readonly (StoredBody | null)[]>>)[]
  }
}

/** What a configuration says of a field, to people and to pages. */
export interface FieldNotes {
  readonly label?: string
  readonly description?: string
  /** What people see for the values of a choice. */
  readonly labels?: { readonly [value: string]: string }
  readonly hints?: { readonly [name: string]: unknown }
}

/** The text below an entry's front matter, ready to be shown. */
export interface StoredBody {
  readonly format: 'markdown' | 'mdx'
  /** The HTML of Markdown, its links leading to the pages of the site; null for MDX. */
  readonly html: string | null
  /** Compiled MDX: given a JSX runtime it gives a module with a component as its default export. */
  readonly compiled?: CompiledBody
  /** The blocks that compiled MDX uses, by the names of their components. */
  readonly components?: Readonly<Record<string, string>>
}

/** A compiled MDX body. */
export type CompiledBody = (runtime: Readonly<Record<string, unknown>>) => Promise<Readonly<Record<string, unknown>>>

/** The parts of one collection that are in memory. */
export interface LoadedCollection {
  readonly entries: readonly StoredValue[]
  readonly index: CollectionIndex
  readonly positionById: ReadonlyMap<string, number>
  readonly positionBySlug: ReadonlyMap<string, number>
  /** The positions of the entries of one language, or undefined where there is only one. */
  readonly positions: ReadonlySet<number> | undefined
}

/** All collections of a site, loaded as they are needed. */
export interface Site {
  readonly shapes: Shapes
  /** The languages of the content; others fall back to the first. Empty where there is one. */
  readonly locales: readonly string[]
  stored(name: string): StoredCollection
  load(name: string, locale?: string): Promise<LoadedCollection>
  /** Loads the named collections and gives what a query needs of them. */
  world(names: readonly string[], locale?: string): Promise<PlanWorld>
}

/** Opens what was compiled. Nothing is loaded yet. */
export function openSite(collections: readonly StoredCollection[], locales: readonly string[] = []): Site {
  const byName = new Map(collections.map((collection) => [collection.name, collection]))
  const shapes = new Map(collections.map(({ name, fields }) => [name, entryShape(fields)]))
  const loading = new Map<string, Promise<LoadedCollection>>()
  const stored = (name: string): StoredCollection => {
    const found = byName.get(name)
    if (!found) throw new Error(`There is no collection ${name}`)
    return found
  }
  const load = (name: string, locale = locales[0]): Promise<LoadedCollection> => {
    const key = locale === undefined ? name : `${name} ${locale}`
    let promise = loading.get(key)
    if (!promise) {
      promise = loadCollection(stored(name), locale === undefined ? [] : [locale, locales[0] as string])
      loading.set(key, promise)
      // A failed load, such as one without a network, may be tried again.
      promise.catch(() => loading.delete(key))
    }
    return promise
  }
  return {
    shapes,
    locales,
    stored,
    load,
    async world(names, locale) {
      const loaded = new Map(await Promise.all(names.map(async (name) => [name, await load(name, locale)] as const)))
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
    positionsOf: (name) => collection(name).positions,
  }
}

async function loadCollection(stored: StoredCollection, locales: readonly string[]): Promise<LoadedCollection> {
  const [{ default: entries }, { default: index }] = await Promise.all([stored.entries(), stored.index()])
  const positionById = new Map<string, number>()
  const localized = entries.some(({ locale }) => locale !== undefined && locales.length > 0)
  for (const [position, entry] of entries.entries()) {
    const id = String(entry.id)
    const rank = localized ? locales.indexOf(String(entry.locale)) : 0
    if (rank === -1) continue
    const known = positionById.get(id)
    if (known === undefined || rank < locales.indexOf(String(entries[known]?.locale))) positionById.set(id, position)
  }
  const positions = [...positionById.values()]
  return {
    entries,
    index,
    positionById,
    positionBySlug: new Map(positions.map((position) => [String(entries[position]?.slug), position])),
    positions: localized ? new Set(positions) : undefined,
  }
}

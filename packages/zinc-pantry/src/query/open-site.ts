import type { Catalogue } from './catalogue.ts'
import { getOrCreate } from './get-or-create.ts'
import { INTERNALS, type Internals } from './internals.ts'
import { type OpenCollection, openStored } from './open-collection.ts'
import { describeUnknown } from './query-error.ts'
import { entryShape, type Shape, type Shapes } from './shape.ts'

/** A module of the generated folder. */
export interface Module<Content> {
  readonly default: Content
}

/** A module of rows or of an index, with its size. */
export interface ChunkModule extends Module<unknown> {
  /** Bytes of its content. */
  readonly size?: number
}

/** One collection as the generated module describes it; its chunks are loaded when a query needs them. */
export interface StoredCollection {
  readonly name: string
  readonly fields: { readonly [name: string]: Shape }
  catalogue(): Promise<Module<Catalogue> & { readonly size?: number }>
  /** Loads a chunk by its kind and its name. */
  chunk(kind: 'rows' | 'indexes' | 'bodies', name: string): Promise<ChunkModule>
  /** The fields that say what there is to know of its pages, where it has any. */
  readonly pages?: StoredPages | undefined
  /** The reference to the entry above, where the collection is a tree. */
  readonly parent?: string | undefined
  /** True where what leads to its entries is kept. */
  readonly backlinks?: boolean | undefined
  /** The notes of fields, by dotted path. */
  notes?(): Promise<Module<{ readonly [path: string]: FieldNotes }>>
}

/** The names of the fields of a collection that concern its pages. */
export interface StoredPages {
  readonly address: string
  /** The addresses that a page had before. */
  readonly former?: string
  /** When it changed last. */
  readonly changed?: string
}

/** The notes of a field, or of a collection: what its configuration tells people and pages. */
export interface FieldNotes<Hints = { readonly [name: string]: unknown }> {
  readonly label?: string
  readonly description?: string
  /** The labels that people see for the values of a choice. */
  readonly labels?: { readonly [value: string]: string }
  /** The heading that it stands under. */
  readonly section?: string
  readonly hints?: Hints
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

/** All collections of a site, loaded as they are needed. */
export interface Site {
  readonly shapes: Shapes
  /** The languages of the content; others fall back to the first. Empty where there is one. */
  readonly locales: readonly string[]
  stored(name: string): StoredCollection
  /** The runtime internals, for lazy results. */
  readonly internals: Internals
  /** A collection that is open already. */
  opened(name: string): OpenCollection | undefined
  /** Opens a collection; its catalogue is loaded once. */
  open(name: string, read?: Meter): Promise<OpenCollection>
}

/** Is told of the bytes that are read. */
export type Meter = (bytes: number) => void

/**
 * Opens what was compiled. Nothing is loaded yet.
 *
 * @example
 * ```ts
 * import { openSite, type StoredCollection } from 'zinc-pantry/query'
 *
 * // What the generated module does with the collections that it holds.
 * const open = (collections: readonly StoredCollection[]) => openSite(collections, ['en', 'cy'])
 * ```
 */
export function openSite(collections: readonly StoredCollection[], locales: readonly string[] = []): Site {
  const byName = new Map(collections.map((collection) => [collection.name, collection]))
  const shapes = new Map(collections.map(({ name, fields }) => [name, entryShape(fields)]))
  const opening = new Map<string, Promise<OpenCollection>>()
  const opened = new Map<string, OpenCollection>()
  const stored = (name: string): StoredCollection => {
    const found = byName.get(name)
    if (!found) throw describeUnknown(`collection ${name}`, [...byName.keys()])
    return found
  }
  return {
    shapes,
    locales,
    stored,
    internals: INTERNALS,
    opened: (name) => opened.get(name),
    open: (name, read) =>
      getOrCreate(opening, name, async () => {
        const collection = await openStored(stored(name), shapes.get(name) as Shape, read)
        opened.set(name, collection)
        return collection
      }),
  }
}

import { BODIES_A_PART } from '../emit/bodies.ts'
import { createStorer, shapesOf, toldOrder } from '../emit/stored-entry.ts'
import { buildCollection, type OrderSource, type SearchSource } from '../indexing/build-collection.ts'
import type { LinkedCollection } from '../link/link-entries.ts'
import { type Catalogue, NAME_LENGTH } from '../query/catalogue.ts'
import type { StoredCollection } from '../query/open-site.ts'
import type { Model } from '../schema/model.ts'
import type { Entry } from '../validate/entry.ts'
import { createBodyOpener, type SiteRendering } from './rendering.ts'

/** What a collection in memory is built with. */
export interface MemoryContext {
  readonly model: Model
  readonly rendering: SiteRendering
  readonly search: SearchSource | undefined
  readonly sortOrders: readonly OrderSource[]
}

/** Opens a collection for queries as a build would write it, without writing it; indexes are built when asked for. */
export function openInMemory(
  { collection, entries }: Pick<LinkedCollection, 'collection'> & { readonly entries: readonly Entry[] },
  { model, rendering, search, sortOrders }: MemoryContext,
): StoredCollection {
  const fields = shapesOf(collection, model.blocks)
  const parts: unknown[] = []
  const keep = (content: unknown): string => nameOf(parts.push(content) - 1)
  let catalogue: Catalogue | undefined
  const build = (): Catalogue => {
    const store = createStorer(collection, model.blocks, rendering)
    const locales = collection.locales === undefined ? [] : model.locales
    const entry = (row: number) => store(entries[row] as Entry)
    const order = toldOrder(collection)
    const indexed = collection.indexes
    const { catalogue: built } = buildCollection(
      { shapes: fields, locales, count: entries.length, entry, indexed, order, sortOrders, search },
      { rows: keep, index: keep, unit: (_name, _isSame, make) => make() },
    )
    const count = collection.body ? Math.ceil(entries.length / BODIES_A_PART) : 0
    const names = Array.from({ length: count }, (_, part) => nameOf(part)).join('')
    return collection.body ? { ...built, bodies: { size: BODIES_A_PART, names } } : built
  }
  const openBody = createBodyOpener(collection, rendering)
  const bodiesOf = (part: number) =>
    Promise.all(entries.slice(part * BODIES_A_PART, (part + 1) * BODIES_A_PART).map(openBody))
  return {
    name: collection.name,
    fields,
    async catalogue() {
      catalogue ??= build()
      return { default: catalogue, size: sizeOf(catalogue) }
    },
    async part(kind, name) {
      if (kind === 'bodies') return { default: await bodiesOf(Number(name)) }
      const [number, part] = name.split('-')
      const kept = parts[Number(number)]
      const content = part === undefined ? kept : (kept as readonly unknown[])[Number(part)]
      return { default: content, size: sizeOf(content) }
    },
  }
}

/** Bytes that a part would have in the output. */
const sizeOf = (content: unknown): number => new TextEncoder().encode(JSON.stringify(content)).length

const nameOf = (part: number): string => String(part).padStart(NAME_LENGTH, '0')

import { BODIES_A_CHUNK } from '../emit/body-chunk.ts'
import { collectNotes } from '../emit/field-notes.ts'
import type { BodyResult } from '../emit/render-body.ts'
import { describePages } from '../emit/stored-pages.ts'
import { FORGETFUL } from '../memo/memo.ts'
import { type Catalogue, NAME_LENGTH } from '../query/catalogue.ts'
import type { CompiledBody, StoredBody, StoredCollection } from '../query/open-site.ts'
import { type IndexContext, indexCollection, indexSourceOf, loadLanguages } from './graph/index-collection.ts'
import type { RenderedRows, SiteRendering } from './graph/render-site.ts'

/** The surroundings of a collection in memory. */
export interface MemoryContext extends Omit<IndexContext, 'languages'> {
  readonly rendering: SiteRendering
}

/** Opens a collection for queries as a build would write it, without writing it; indexes are built when asked for. */
export function openInMemory(rows: RenderedRows, context: MemoryContext): StoredCollection {
  const { rendering } = context
  const { collection, entries, shapes } = rows
  const chunks: unknown[] = []
  const keep = (content: unknown): string => nameOf(chunks.push(content) - 1)
  let catalogue: Promise<Catalogue> | undefined
  const build = async (): Promise<Catalogue> => {
    const languages = collection.search.length === 0 ? new Map() : await loadLanguages(context.model)
    const { catalogue: built } = indexCollection(
      indexSourceOf(rows, { ...context, languages }),
      FORGETFUL,
      (_name, _inputs, make) => make({ rows: keep, index: keep }),
    )
    const count = collection.body ? Math.ceil(entries.length / BODIES_A_CHUNK) : 0
    const names = Array.from({ length: count }, (_, chunk) => nameOf(chunk)).join('')
    return collection.body ? { ...built, bodies: { size: BODIES_A_CHUNK, names } } : built
  }
  let bodies: ReturnType<SiteRendering['bodies']> | undefined
  const bodiesOf = (chunk: number): Promise<(StoredBody | null)[]> => {
    bodies ??= rendering.bodies({ collection, entries })
    const own = bodies.slice(chunk * BODIES_A_CHUNK, (chunk + 1) * BODIES_A_CHUNK)
    return Promise.all(own.map(async (body) => openBody((await body.render()).body)))
  }
  return {
    name: collection.name,
    fields: shapes,
    ...describePages(collection),
    notes: async () => ({ default: collectNotes(collection, context.model.hints) }),
    async catalogue() {
      catalogue ??= build()
      const content = await catalogue
      return { default: content, size: sizeOf(content) }
    },
    async chunk(kind, name) {
      if (kind === 'bodies') return { default: await bodiesOf(Number(name)) }
      const [number, part] = name.split('-')
      const kept = chunks[Number(number)]
      const content = part === undefined ? kept : (kept as readonly unknown[])[Number(part)]
      return { default: content, size: sizeOf(content) }
    },
  }
}

/** Bytes that a chunk would have in the output. */
const sizeOf = (content: unknown): number => new TextEncoder().encode(JSON.stringify(content)).length

const nameOf = (chunk: number): string => String(chunk).padStart(NAME_LENGTH, '0')

const AsyncFunction = (async () => undefined).constructor as new (code: string) => unknown

/** A rendered body as a page is given it. */
function openBody(body: BodyResult['body']): StoredBody | null {
  if (!body) return null
  if (body.format === 'markdown') return { format: 'markdown', html: JSON.parse(body.htmlJson) as string }
  // The code is that of a function, as the generated module has it.
  const compiled = new AsyncFunction(body.code) as CompiledBody
  return { format: 'mdx', html: null, compiled, components: body.components }
}

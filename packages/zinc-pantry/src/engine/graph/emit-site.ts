import { appendAll } from '../../diagnostics/append-all.ts'
import type { Diagnostic } from '../../diagnostics/diagnostic.ts'
import { BODIES_A_CHUNK, emitBodies, emitBody, type RenderedBody } from '../../emit/body-chunk.ts'
import { pathOfChunk } from '../../emit/chunk.ts'
import { configurationImport, findDeclaredTypes } from '../../emit/declared-types.ts'
import { type EntryFiles, emitEntryFiles, type Standalone } from '../../emit/entry-files.ts'
import { createEntryReaders, type EntryReaders } from '../../emit/entry-readers.ts'
import { collectNotes } from '../../emit/field-notes.ts'
import { emitJsonChunk } from '../../emit/json-chunk.ts'
import type { BodyResult } from '../../emit/render-body.ts'
import { type EmittedCollection, emitSiteModule, OUTPUT_FORM } from '../../emit/site-module.ts'
import { createStandaloneForm, STANDALONE_TYPES } from '../../emit/standalone-module.ts'
import { describePages } from '../../emit/stored-pages.ts'
import { type CollectionIds, emitTypes } from '../../emit/types.ts'
import { listChunks } from '../../indexing/build-index.ts'
import type { LinkedCollection } from '../../link/link-entry.ts'
import { FORGETFUL, type Memo } from '../../memo/memo.ts'
import { NAME_LENGTH } from '../../query/catalogue.ts'
import type { Rendition } from '../../schema/image-sources.ts'
import type { CollectionModel, Model } from '../../schema/model.ts'
import type { Entry } from '../../validate/entry.ts'
import { concatenate } from '../../values/concatenate.ts'
import type { Bodies } from '../bodies.ts'
import { type ChunkWriter, createChunkWriter } from '../chunk-writer.ts'
import type { Publisher } from '../publish.ts'
import { inOrder } from '../threads/in-order.ts'
import type { BacklinkFinder } from './find-backlinks.ts'
import type { Holder } from './holder.ts'
import { indexCollection, indexSourceOf, type Languages, loadLanguages } from './index-collection.ts'
import type { LazyBody, RenderedRows, SiteRendering } from './render-site.ts'

/** The surroundings of the emission of an output. */
export interface EmitContext {
  readonly model: Model
  /** Relative to the root of the site. */
  readonly configurationFile: string
  readonly memo: Memo
  readonly rendering: SiteRendering
  readonly bodies: Bodies
  readonly publisher: Publisher
  digest(text: string): string
  /** The query runtime as files, by their names, where pages are to load it without a bundler. */
  readonly runtime?: ReadonlyMap<string, string> | undefined
}

/**
 * An output whose chunks are written: what its module is made of, and the entry files, which are still to be written.
 */
export interface EmittedSite {
  readonly entryFiles: EntryFiles
  readonly collections: readonly EmittedCollection[]
  /** The chunks with the bodies of each collection; without the bodies where nothing is remembered. */
  readonly bodies: ReadonlyMap<string, readonly BodyChunk[]>
  /** Files of the content folder that what is published names. */
  assets(): ReadonlySet<string>
  /** The images that are made of those that what is published names. */
  renditions(): readonly Rendition[]
  /** Of bodies that cannot be rendered. Where there are any, the output is not whole. */
  readonly diagnostics: readonly Diagnostic[]
}

/** Bodies that are loaded together. */
export interface BodyChunk {
  readonly name: string
  readonly bodies: readonly (RenderedBody | undefined)[]
}

/** Makes an output, and hands its chunks on as they come: of thousands of bodies they would not fit into memory. */
export async function emitSite(collections: readonly LinkedCollection[], context: EmitContext): Promise<EmittedSite> {
  const { model, memo, rendering, publisher, digest, configurationFile } = context
  const writers = new Map(
    collections.map(({ collection: { name } }) => [name, createChunkWriter(name, { memo, publisher, digest })]),
  )
  const writerOf = ({ name }: CollectionModel): ChunkWriter => writers.get(name) as ChunkWriter
  const named = new Set<string>()
  const shown: Rendition[] = []
  const bodies = new Map<string, readonly BodyChunk[]>()
  const diagnostics: Diagnostic[] = []
  for (const holder of collections) {
    if (!holder.collection.body) continue
    const emitted = await emitAllBodies(holder, { ...context, writer: writerOf(holder.collection) })
    bodies.set(holder.collection.name, emitted.chunks)
    appendAll(diagnostics, emitted.diagnostics)
    for (const file of emitted.files) named.add(file)
    appendAll(shown, emitted.renditions)
  }
  const stored = collections.map((one) => rendering.storedRows(one, { isHeld: memo.isKept }))
  const assets = (): ReadonlySet<string> => {
    const inFields = collections.flatMap(({ entries }) => entries.flatMap((entry) => entry.assets))
    return new Set([...inFields, ...named, ...stored.flatMap((rows) => rows.named().flatMap(({ files }) => files))])
  }
  let made: readonly Rendition[] | undefined
  const renditions = (): readonly Rendition[] => {
    made ??= gatherRenditions([
      ...collections.map(({ collection, entries }) =>
        renditionsOf(entries, memo.within(collection.name).within('fields')),
      ),
      [shown],
      ...stored.map((rows) => renditionsOf(rows.named(), memo.within(rows.collection.name).within('texts'))),
    ])
    return made
  }
  const nothing = { entryFiles: new Map<string, string>(), collections: [], bodies, assets, renditions, diagnostics }
  if (diagnostics.length > 0) return nothing
  const readers = createEntryReaders(stored)
  const languages = await loadLanguages(model)
  const backlinks = rendering.backlinks(collections)
  const emitted = stored.map((rows) => {
    const writer = writerOf(rows.collection)
    const names = bodies.get(rows.collection.name)?.map(({ name }) => name)
    return emitCollection(rows, { ...context, writer, readers, names, languages, backlinks })
  })
  const ids = new Map(emitted.map(({ module: { name }, ids: own }) => [name, own]))
  const idLists = [...ids.values()].flatMap(({ ids: own, isComplete }) => [own, isComplete])
  const modules = emitted.map(({ module }) => module)
  const entryFiles = emitEntryFiles({
    types: memo.value('types', [model, ...idLists], () => {
      const declared = findDeclaredTypes(model, configurationImport(configurationFile, model.output))
      return emitTypes(model, { declared, idsOf: (name) => ids.get(name) ?? NO_IDS })
    }),
    module: emitSiteModule(modules, model.locales, OUTPUT_FORM),
    images: renditions().map(({ file }) => file),
    standalone: context.runtime && (await emitStandalone(collections, { modules, context, languages })),
    collections: Object.fromEntries(
      emitted.map(({ module: { name, chunks }, count }) => [name, { entries: count, chunks }]),
    ),
  })
  return { ...nothing, entryFiles, collections: modules }
}

const renditionsOf = (list: readonly Pick<Entry, 'renditions'>[], memo: Memo): readonly Entry['renditions'][] =>
  memo.map('renditions', list, { make: ({ renditions }) => renditions })

/** The images that are made for anything, each once. Most of thousands of things have none. */
function gatherRenditions(lists: readonly (readonly Entry['renditions'][])[]): readonly Rendition[] {
  const byFile = new Map<string, Rendition>()
  for (const list of lists)
    for (const renditions of list) if (renditions) for (const one of renditions) byFile.set(one.file, one)
  return [...byFile.values()]
}

/** Sites of fewer entries have their chunks in the module that pages load. */
const FEW_ENTRIES = 100

interface StandaloneSource {
  readonly modules: readonly EmittedCollection[]
  readonly context: EmitContext
  readonly languages: Languages
}

/** Makes what pages load without a bundler, and writes the query runtime. */
async function emitStandalone(
  collections: readonly LinkedCollection[],
  { modules, context, languages }: StandaloneSource,
): Promise<Standalone> {
  const { model, publisher, digest } = context
  const runtime = new Map([...(context.runtime ?? [])].filter(([name]) => isNeeded(name, languages)))
  const folder = `runtime/${digest([...runtime].flat().join('\n')).slice(0, NAME_LENGTH)}`
  for (const [name, text] of runtime) publisher.write(`${folder}/${name}`, text)
  const texts = new Map<string, string>()
  if (collections.reduce((count, { entries }) => count + entries.length, 0) < FEW_ENTRIES) {
    // Chunks that are written already are nowhere else: they are made once more, which is little for so few entries.
    const write = (path: string, text: string): void => void texts.set(path, text)
    const collector: Publisher = Object.assign(Object.create(publisher), { write, keep: () => undefined })
    await emitSite(collections, { ...context, memo: FORGETFUL, publisher: collector, runtime: undefined })
  }
  return {
    module: emitSiteModule(modules, model.locales, createStandaloneForm(`./${folder}/query.js`, texts)),
    types: STANDALONE_TYPES,
    runtime: [...runtime.keys()].map((name) => `${folder}/${name}`),
  }
}

/** True for a file of the query runtime that a site may ask for: of the stemmers only those of its languages. */
function isNeeded(name: string, languages: Languages): boolean {
  if (name === 'stemmers.js') return languages.size > 0
  const [, language] = /^lunr\.(\w+)\./.exec(name) ?? []
  if (language === 'stemmer') return [...languages.keys()].some((one) => one !== 'en')
  return language === undefined || languages.has(language)
}

const NO_IDS: CollectionIds = { ids: [], isComplete: true }

interface BodyTarget extends EmitContext {
  readonly writer: ChunkWriter
}

/** What bodies give beside their chunks. */
interface EmittedBodies extends Pick<EmittedSite, 'diagnostics'> {
  readonly chunks: BodyChunk[]
  /** Files that Markdown in the properties of their blocks leads to. */
  readonly files: ReadonlySet<string>
  readonly renditions: readonly Rendition[]
}

async function emitAllBodies(
  { collection, entries }: Holder,
  { model, memo, rendering, publisher, writer }: BodyTarget,
): Promise<EmittedBodies> {
  const rendered = rendering.bodies({ collection, entries })
  const gathered = memo.within(collection.name).within('gathered bodies')
  const chunks: BodyChunk[] = []
  const diagnostics: Diagnostic[] = []
  const files = new Set<string>()
  const renditions: Rendition[] = []
  const starts = Array.from({ length: Math.ceil(entries.length / BODIES_A_CHUNK) }, (_, at) => at * BODIES_A_CHUNK)
  const gather = async (start: number) => {
    const own = rendered.slice(start, start + BODIES_A_CHUNK)
    return { start, chunk: await gathered.value(`from ${start}`, memo.isKept ? own : [], () => gatherBodies(own)) }
  }
  for await (const { start, chunk } of inOrder(starts, gather, rendering.atOnce)) {
    for (const one of chunk.diagnostics) diagnostics.push(one)
    for (const file of chunk.files) files.add(file)
    for (const one of chunk.renditions) renditions.push(one)
    const { written } = publisher
    const name = writer.node(
      `bodies from ${start}`,
      () => chunk.bodies,
      (all) => all.add('bodies', emitBodies(chunk.bodies.map((body) => emitBody(body, model.output)))),
    )
    chunks.push({ name, bodies: memo.isKept ? chunk.bodies : [] })
    // Of thousands of chunks that are there already nothing is on its way.
    if (publisher.written > written) await publisher.drain()
  }
  return { chunks, diagnostics, files, renditions }
}

/** What is said of the bodies of a chunk, once they are rendered. */
async function gatherBodies(own: readonly LazyBody[]) {
  const results: BodyResult[] = []
  // Waiting for thousands of bodies that are there already takes its time too.
  for (const body of own) results.push(body.result ?? (await body.render()))
  const bodies = results.map(({ body }) => body)
  return {
    bodies,
    diagnostics: concatenate(results.map((one) => one.diagnostics)),
    files: bodies.flatMap((body) => body?.named ?? []),
    renditions: bodies.flatMap((body) => body?.made?.map(([, one]) => one) ?? []),
  }
}

interface CollectionContext extends Pick<EmitContext, 'model' | 'memo' | 'bodies'> {
  readonly writer: ChunkWriter
  readonly readers: EntryReaders
  readonly languages: Languages
  readonly backlinks: BacklinkFinder
  /** The names of the chunks with bodies. */
  readonly names: readonly string[] | undefined
}

function emitCollection(
  rows: RenderedRows,
  { model, memo, bodies, writer, readers, names, languages, backlinks }: CollectionContext,
): { readonly module: EmittedCollection; readonly ids: CollectionIds; readonly count: number } {
  const { collection, entries, shapes } = rows
  const { name, single } = collection
  const source = indexSourceOf(rows, {
    model,
    readers,
    bodyText: ({ body }) => (body ? bodies.textOf(body) : ''),
    languages,
    backlinks,
  })
  const { catalogue, orderSizes } = indexCollection(source, memo.within(name).within('indexes'), (unit, inputs, make) =>
    writer.node(unit, inputs, (chunks) =>
      make({
        rows: (all) => chunks.addAll('rows', all.map(emitJsonChunk)),
        index: (content) => chunks.add('indexes', emitJsonChunk(content)),
      }),
    ),
  )
  const stored = writer.node(
    'catalogue',
    () => [{}],
    (chunks) => {
      const index = (content: unknown): string => chunks.add('indexes', emitJsonChunk(content))
      const ofBodies = names && { bodies: listChunks(names, BODIES_A_CHUNK, index) }
      const notes = collectNotes(collection, model.hints)
      return {
        catalogue: pathOfChunk(
          'catalogues',
          name,
          chunks.add('catalogues', emitJsonChunk({ ...catalogue, ...ofBodies })),
        ),
        ...(Object.keys(notes).length > 0
          ? { notes: pathOfChunk('notes', name, chunks.add('notes', emitJsonChunk(notes))) }
          : {}),
      }
    },
  )
  const ids = memo.within(name).map('ids', entries, { make: ({ id }) => id })
  return {
    module: {
      name,
      isSingle: single,
      shapes,
      ...describePages(collection),
      ...stored,
      chunks: writer.paths(),
      orderSizes,
    },
    ids: { ids, isComplete: hasAllIds({ collection, entries }, model.locales[0]) },
    count: entries.length,
  }
}

/** True where every id is there in the first language. */
function hasAllIds({ collection, entries }: Holder, first: string | undefined): boolean {
  if (collection.locales === undefined) return true
  const known = new Set(entries.flatMap(({ id, locale }) => (locale === first ? [id] : [])))
  return entries.every(({ id }) => known.has(id))
}

import { setOwn } from '../../diagnostics/own-key.ts'
import type { EntryReaders } from '../../emit/entry-readers.ts'
import { toldOrder } from '../../emit/stored-entry.ts'
import {
  buildCluster,
  type ClusterSource,
  clusterChunks,
  isClustered,
  layOutCluster,
  orderRowsBy,
} from '../../indexing/build-cluster.ts'
import { buildCube, type CubeField } from '../../indexing/build-cube.ts'
import { buildIndex, listChunks } from '../../indexing/build-index.ts'
import { buildOrder, type OrderSource } from '../../indexing/build-order.ts'
import { buildSearch } from '../../indexing/build-texts.ts'
import { buildTrigrams } from '../../indexing/build-trigrams.ts'
import { createValueReaders } from '../../indexing/collect-values.ts'
import { layOutRows } from '../../indexing/row-blocks.ts'
import { splitIntoChunks } from '../../indexing/split-into-chunks.ts'
import { buildLocaleRows } from '../../indexing/visible-rows.ts'
import { areSame, areSameLists } from '../../memo/are-same.ts'
import type { Memo } from '../../memo/memo.ts'
import type { StoredBacklink } from '../../query/backlinks.ts'
import {
  type Catalogue,
  type ChunkNames,
  nameOfOrder,
  nameOfSort,
  type StoredCluster,
  type StoredIndex,
} from '../../query/catalogue.ts'
import type { SortKey } from '../../query/condition.ts'
import type { StoredCube } from '../../query/cube-format.ts'
import { followPath } from '../../query/shape.ts'
import { type Language, loadLanguage, stemmedLanguage } from '../../query/stemmers.ts'
import type { CollectionModel, Model } from '../../schema/model.ts'
import type { Shape } from '../../schema/shape.ts'
import type { Entry } from '../../validate/entry.ts'
import { listRows, mapRows, type RowList, sliceRows } from '../../values/row-list.ts'
import { COUNT_STEP } from '../../values/steps.ts'
import type { BacklinkFinder } from './find-backlinks.ts'
import type { RenderedRows } from './render-site.ts'

type Values = Readonly<Record<string, unknown>>

/** Keeps the chunks of a collection and gives their names. */
export interface ChunkKeeper {
  /** Chunks of rows, which share a name. */
  rows(chunks: readonly unknown[]): string
  index(content: unknown): string
}

/** Where chunks go: something and its chunks are made again where an input is another one. */
export type ChunkNode = <Value>(
  name: string,
  inputs: () => readonly unknown[],
  make: (keep: ChunkKeeper) => Value,
) => Value

/** The source of the indexes of a collection. */
export interface IndexSource {
  readonly collection: CollectionModel
  /** That of the model. */
  readonly outline: object
  readonly entries: readonly Pick<Entry, 'id' | 'locale'>[]
  /** The entries as they are stored. */
  readonly rows: RowList<Values>
  readonly shapes: Readonly<Record<string, Shape>>
  /** The languages of the site, where the collection has several. */
  readonly locales: readonly string[]
  /** The keys of the order of the entries, up to the first that is private. */
  readonly order: readonly SortKey[]
  /** Orders that are kept ready beside those of the indexes. */
  readonly sortOrders: readonly OrderSource[]
  /** Orders in which rows are stored once more. */
  readonly clusters: readonly ClusterSource[]
  /** The texts of a row; undefined where nothing is searched. */
  readonly texts: ((row: number) => readonly string[]) | undefined
  readonly synonyms: readonly (readonly string[])[]
  readonly languages: Languages
  /** The language of a row, where that is one with known stems. */
  languageOf(row: number): string | undefined
  /** What leads to each row, where that is kept. */
  readonly backlinks: readonly (readonly StoredBacklink[])[] | undefined
}

/** The surroundings of a collection that is indexed. */
export interface IndexContext {
  readonly model: Model
  readonly readers: EntryReaders
  bodyText(entry: Entry): string
  readonly languages: Languages
  readonly backlinks: BacklinkFinder
}

/** What is known of the languages of a site whose stemmers are there, by their names. */
export type Languages = ReadonlyMap<string, Language>

/** The languages of the words of a site, in which nothing says otherwise. */
const USUAL_LANGUAGE = 'en'

/** Loads what is known of the languages of a site, where anything is searched. */
export async function loadLanguages({ collections, locales }: Model): Promise<Languages> {
  if (collections.every(({ search }) => search.length === 0)) return new Map()
  const names = (locales.length > 0 ? locales : [USUAL_LANGUAGE]).flatMap((locale) => stemmedLanguage(locale) ?? [])
  return new Map(await Promise.all([...new Set(names)].map(async (name) => [name, await loadLanguage(name)] as const)))
}

/** The source of the indexes of rendered rows. */
export function indexSourceOf(
  rows: RenderedRows,
  { model, readers, bodyText, languages, backlinks }: IndexContext,
): IndexSource {
  const { collection, entries, shapes } = rows
  return {
    collection,
    outline: model.outline,
    entries,
    rows: rows.rows(),
    shapes,
    locales: collection.locales === undefined ? [] : model.locales,
    order: toldOrder(collection),
    sortOrders: readers.ordersOf(rows),
    clusters: readers.clustersOf(rows),
    texts: collection.search.length === 0 ? undefined : readers.textsOf(rows, bodyText),
    synonyms: model.synonyms,
    languages,
    backlinks: backlinks(collection.name),
    languageOf: (row) => stemmedLanguage(entries[row]?.locale ?? model.locales[0] ?? USUAL_LANGUAGE),
  }
}

/** The catalogue of a collection, and how large the orders are that it keeps, by their names, in bytes. */
export interface IndexedCollection {
  readonly catalogue: Catalogue
  readonly orderSizes: Readonly<Record<string, number>>
}

/** Makes the chunks of a collection, and the catalogue that leads to them. */
export function indexCollection(source: IndexSource, memo: Memo, node: ChunkNode): IndexedCollection {
  const { entries, rows, locales, order } = source
  const count = rows.length
  const { size, group, bounds } = layOutRows(count)
  const names = bounds.slice(1).map((end, at) => {
    const start = bounds[at] as number
    const own = (): Values[] => sliceRows(rows, start, end)
    return node(`rows from ${start}`, own, (keep) => keep.rows(splitIntoChunks(own(), size)))
  })
  const indexes: Record<string, StoredIndex> = {}
  for (const [path, index] of indexValues(source, memo, node)) setOwn(indexes, path, index)
  const orderSizes: Record<string, number> = {}
  for (const one of source.sortOrders) {
    const name = nameOfOrder(one.path, one.collation)
    const keys = memo.keepEqual(`keys of ${name}`, one.keys(), areSame)
    const { index, sizeBytes } = node(
      `order of ${name}`,
      () => [keys],
      (keep) => buildOrder(keys, one, keep.index),
    )
    setOwn(indexes, name, index)
    setOwn(orderSizes, name, sizeBytes)
  }
  const clusters = isClustered(count) ? source.clusters.map((one) => clusterRows(one, rows, memo, node)) : []
  const cube = isClustered(count) ? storeCube(source, indexes, node) : undefined
  const search = searchTexts(source, memo, node)
  const backlinks = storeBacklinks(source, node)
  const catalogue: Catalogue = {
    count,
    rows: { size, group, names: names.join('') },
    indexes,
    ...(clusters.length > 0 ? { clusters } : {}),
    ...(backlinks ? { backlinks } : {}),
    ...(cube ? { cube } : {}),
    ...(order.length > 0 ? { order } : {}),
    ...(search === undefined ? {} : { search }),
    ...(locales.length > 0 ? { locales: buildLocaleRows(entries, locales) } : {}),
  }
  return { catalogue, orderSizes }
}

/** The indexes of all paths that have any. */
function indexValues(
  { collection, outline, rows, shapes }: IndexSource,
  memo: Memo,
  node: ChunkNode,
): (readonly [path: string, index: StoredIndex])[] {
  const readers = createValueReaders(shapes, collection.indexes)
  const values = memo.isKept
    ? memo.map('values', listRows(rows), { inputs: [outline], make: readers.valuesOf, isEqual: areSameLists })
    : []
  return readers.paths.flatMap((path, at) => {
    const valuesAt = (): readonly unknown[] =>
      memo.map(`values at ${path}`, values, {
        inputs: [outline],
        make: (own) => own[at] ?? [],
        isEqual: areSame,
      })
    const index = node(
      `index of ${path}`,
      () => [outline, valuesAt()],
      (keep) => {
        const postings = readers.postings(path, rows)
        const built = postings && buildIndex(postings, rows.length, keep.index)
        // What is in one or two blocks is read as soon.
        if (!built || built.dictionary || built.offsets.length <= 3 || !collection.trigrams.includes(path)) return built
        return {
          ...built,
          trigrams: buildTrigrams(mapRows(rows, readers.readerAt(path)), keep.index),
        }
      },
    )
    return index ? [[path, index] as const] : []
  })
}

/** Counts the combinations of the values of fields that have one of few values each. */
function storeCube(
  { collection, rows, shapes }: IndexSource,
  indexes: Readonly<Record<string, StoredIndex>>,
  node: ChunkNode,
): StoredCube | undefined {
  const readers = createValueReaders(shapes, collection.indexes)
  const isOwn = (path: string): boolean => {
    const { crossing, isSingle, end } = followPath({ kind: 'group', fields: shapes }, path.split('.'))
    // Numbers of items are seldom asked for together with values, and would leave no room for others.
    return !crossing && isSingle && end.kind !== 'group' && !path.endsWith(COUNT_STEP)
  }
  const paths = new Set(readers.paths.filter(isOwn))
  const few = Object.entries(indexes).flatMap(([path, { dictionary }]) =>
    dictionary && paths.has(path) ? [{ path, dictionary }] : [],
  )
  return node(
    'cube',
    () => few.flatMap(({ path, dictionary }) => [path, dictionary, indexes[path]?.names, indexes[path]?.block]),
    (keep) => {
      const fields = few.map(({ path, dictionary: { values } }): CubeField => {
        const read = readers.readerAt(path)
        return { path, size: values.length, valueAt: (row) => read(rows.at(row) as Values)[0] ?? null }
      })
      const cube = buildCube(fields, rows.length)
      return cube && { paths: cube.paths, chunk: keep.index(cube) }
    },
  )
}

/** The number of rows whose backlinks are loaded together. */
const BACKLINKS_A_CHUNK = 16

/** Stores what leads to each row. */
function storeBacklinks({ backlinks }: IndexSource, node: ChunkNode): ChunkNames | undefined {
  return (
    backlinks &&
    node(
      'backlinks',
      () => [backlinks],
      (keep) =>
        listChunks(splitIntoChunks(backlinks, BACKLINKS_A_CHUNK).map(keep.index), BACKLINKS_A_CHUNK, keep.index),
    )
  )
}

/** Stores rows once more, in an order. */
function clusterRows(
  { sort, columns }: ClusterSource,
  rows: RowList<Values>,
  memo: Memo,
  node: ChunkNode,
): StoredCluster {
  const name = nameOfSort(sort)
  const keys = memo.keepEqual(`keys of rows by ${name}`, columns(), areSameLists)
  const order = memo.value(`rows by ${name}`, [keys], () => orderRowsBy(keys, sort))
  const { size, group, bounds } = layOutCluster(rows.length)
  const names = bounds.slice(1).map((end, at) => {
    const own = order.subarray(bounds[at], end)
    return node(
      `rows by ${name} from ${bounds[at]}`,
      () => [...own, ...Array.from(own, (row) => rows.at(row))],
      (keep) => keep.rows(clusterChunks(own, rows, size)),
    )
  })
  return node(
    `places by ${name}`,
    () => [order, ...names],
    (keep) => buildCluster(order, { sort, rows: { size, group, names: names.join('') } }, keep.index),
  )
}

/** The name of the chunk that a full-text search loads first. */
function searchTexts(source: IndexSource, memo: Memo, node: ChunkNode): string | undefined {
  const { collection, outline, rows, texts, synonyms, languages, languageOf } = source
  if (!texts) return undefined
  const all = memo.isKept
    ? memo.keepEqual(
        'texts',
        mapRows(rows, (_, row) => [...texts(row), languageOf(row) ?? '']),
        areSameLists,
      )
    : undefined
  const places = collection.search.map(({ path, weight }) => ({ path: path.join('.'), weight }))
  const textsAt = all ? (row: number) => (all[row] as readonly string[]).slice(0, -1) : texts
  const settings = { places, synonyms, languages, count: rows.length, languageOf, texts: textsAt }
  return node(
    'search',
    () => [outline, all],
    (keep) => keep.index(buildSearch(settings, keep.index)),
  )
}

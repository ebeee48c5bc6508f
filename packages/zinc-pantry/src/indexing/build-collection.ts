import { addTo } from '../diagnostics/add-to.ts'
import { setOwn } from '../diagnostics/own-key.ts'
import { type Catalogue, nameOfOrder, type StoredIndex } from '../query/catalogue.ts'
import type { Scalar, SortKey } from '../query/condition.ts'
import type { SearchHead } from '../query/search-format.ts'
import type { Shape } from '../schema/field.ts'
import { buildIndex, listParts, toSteps } from './build-index.ts'
import { createSearchBuilder, type SearchedPlace } from './build-search.ts'
import { createValueCollector, type Postings, type ValueCollector } from './collect-values.ts'

type Values = Readonly<Record<string, unknown>>

/** Keeps parts of a collection and gives their names. */
export interface PartKeeper {
  /** Parts that share a name. */
  rows(parts: readonly (readonly Values[])[]): string
  index(content: unknown): string
  /** Makes something with its parts, or takes it and them from the last time, where nothing in it changed. */
  unit<Made>(name: string, isSame: boolean, make: () => Made): Made
}

/** What a collection is built from. */
export interface CollectionSource {
  readonly shapes: Readonly<Record<string, Shape>>
  /** The languages of the site, where the collection has several. */
  readonly locales: readonly string[]
  readonly count: number
  /** The entry of a row as it is stored. */
  entry(row: number): Values
  /** Dotted paths of fields that have an index whatever is in them. */
  readonly indexed: readonly string[]
  /** What the entries are ordered by, as far as all of it may be told. */
  readonly order: readonly SortKey[]
  /** Orders that are kept ready beside those of the indexes. */
  readonly sortOrders: readonly OrderSource[]
  readonly search?: SearchSource | undefined
  /** What is different from the last time; undefined where everything may be, or there was none. */
  readonly changes?: RowChanges | undefined
}

/** Rows that changed, while all stand where they stood. */
export interface RowChanges {
  readonly rows: ReadonlySet<number>
  /** The entry of a row the last time. */
  last(row: number): Values
}

/** What full-text search is built from. */
export interface SearchSource {
  readonly places: readonly SearchedPlace[]
  /** The texts of a row, in the order of the places. */
  texts(row: number): readonly string[]
  /** True where all texts are those of the last time. */
  isSame(): boolean
}

/** Rows of a part, where there are many: few, since a page of a list needs one here and one there. */
const ROWS_A_PART = 16
/**
 * About so many names of parts are in the catalogue; of more parts some share a name, and all of those are written again
 * where one changes.
 */
const MOST_NAMES = 384
/** So few rows stay together. */
const TOGETHER = 128

/** What an order is built from. */
export interface OrderSource {
  readonly path: readonly string[]
  /** The language by whose rules texts are ordered; undefined for code units. */
  readonly collation: string | undefined
  value(row: number): Scalar | null
}

/** The catalogue of a collection, and how large the orders are that it keeps, by their names, in bytes. */
export interface BuiltCollection {
  readonly catalogue: Catalogue
  readonly orderSizes: Readonly<Record<string, number>>
}

/** Builds the parts of a collection, one after the other, and the catalogue that leads to them. */
export function buildCollection(source: CollectionSource, keep: PartKeeper): BuiltCollection {
  const { shapes, locales, count, entry, indexed, order, sortOrders, search, changes } = source
  const values = createValueCollector(shapes, indexed)
  const versions: { id: string; locale: string }[] = []
  const add = (one: Values, row: number): void => {
    if (!changes) values.add(one, row)
    if (locales.length > 0) versions.push({ id: String(one.id), locale: String(one.locale) })
  }
  const rows = buildRows(source, keep, add)
  const differing = changes && compareRows(source, changes, values)
  if (differing && differing.size > 0) for (let row = 0; row < count; row++) values.add(entry(row), row, differing)
  const indexes: Record<string, StoredIndex> = {}
  for (const path of values.paths) {
    const index = keep.unit(`index of ${path}`, differing?.has(path) === false, () => {
      const postings = values.postings(path)
      return postings && buildIndex(postings, count, keep.index)
    })
    if (index) setOwn(indexes, path, index)
  }
  const orderSizes: Record<string, number> = {}
  for (const one of sortOrders) {
    let sizeBytes = 0
    const measured = (content: unknown): string => {
      sizeBytes += JSON.stringify(content).length
      return keep.index(content)
    }
    const name = nameOfOrder(one.path, one.collation)
    const index = buildIndex(orderPostings(one, count), count, measured)
    setOwn(indexes, name, index)
    setOwn(orderSizes, name, sizeBytes + JSON.stringify(index).length)
  }
  const head =
    search &&
    keep.unit('search', changes !== undefined && search.isSame(), () => keep.index(buildWords(search, count, keep)))
  const views = Object.fromEntries(locales.map((locale) => [locale, toSteps(rowsSeen(versions, [locale, locales[0]]))]))
  const catalogue: Catalogue = {
    count,
    rows,
    indexes,
    ...(order.length > 0 ? { order } : {}),
    ...(head === undefined ? {} : { search: head }),
    ...(locales.length > 0 ? { locales: views } : {}),
  }
  return { catalogue, orderSizes }
}

/** The rows by their values; by the rules of a language, by the ranks of their values. */
function orderPostings({ path, collation, value }: OrderSource, count: number): Postings {
  const rows = new Map<Scalar, number[]>()
  for (let row = 0; row < count; row++) {
    const own = value(row)
    if (own !== null) addTo(rows, own, row)
  }
  const name = path.join('.')
  if (collation === undefined) return { path: name, isSingle: true, rows }
  const { compare } = new Intl.Collator(collation)
  const texts = [...rows.keys()].sort((a, b) => compare(String(a), String(b)))
  const ranked = new Map<Scalar, number[]>()
  let rank = -1
  for (const [at, text] of texts.entries()) {
    if (at === 0 || compare(String(texts[at - 1]), String(text)) !== 0) rank++
    ranked.set(rank, [...(ranked.get(rank) ?? []), ...(rows.get(text) ?? [])])
  }
  for (const own of ranked.values()) own.sort((a, b) => a - b)
  return { path: name, isSingle: true, rows: ranked }
}

/** Builds the parts with the rows, and hands on each entry. */
function buildRows(
  { count, entry, changes, locales }: CollectionSource,
  keep: PartKeeper,
  add: (entry: Values, row: number) => void,
): Catalogue['rows'] {
  const isSmall = count <= TOGETHER
  const size = isSmall ? Math.max(1, count) : ROWS_A_PART
  const group = Math.max(1, Math.ceil(count / size / MOST_NAMES))
  let names = ''
  for (let start = 0; start < count; start += size * group) {
    const end = Math.min(count, start + size * group)
    const all = Array.from({ length: end - start }, (_, at) => start + at)
    const isSame = changes !== undefined && !all.some((row) => changes.rows.has(row))
    const entries = isSame && locales.length === 0 ? undefined : all.map(entry)
    for (const [at, one] of entries?.entries() ?? []) add(one, start + at)
    names += keep.unit(`rows from ${start}`, isSame, () => {
      const own = entries ?? all.map(entry)
      const parts = Array.from({ length: Math.ceil(own.length / size) }, (_, part) =>
        own.slice(part * size, (part + 1) * size),
      )
      return keep.rows(parts)
    })
  }
  return { size, group, names }
}

/** The paths at which something changed. */
function compareRows({ entry }: CollectionSource, changes: RowChanges, values: ValueCollector): ReadonlySet<string> {
  const differing = new Set<string>()
  for (const row of changes.rows) values.compare(changes.last(row), entry(row), differing)
  return differing
}

/** So many texts of bodies have a part of their own. */
const TEXTS_A_PART = 16

/** Builds the index of words, and keeps the texts of bodies for what is shown of them. */
function buildWords({ places, texts }: SearchSource, count: number, keep: PartKeeper): SearchHead {
  const builder = createSearchBuilder(places)
  const body = places.findIndex(({ path }) => path === 'body')
  const names: string[] = []
  let part: string[] = []
  for (let row = 0; row < count; row++) {
    const own = texts(row)
    builder.add(row, own)
    if (body === -1) continue
    part.push(own[body] ?? '')
    if (part.length < TEXTS_A_PART && row < count - 1) continue
    names.push(keep.index(part))
    part = []
  }
  const head = builder.finish(count, keep.index)
  if (body === -1) return head
  return { ...head, texts: listParts(names, TEXTS_A_PART, keep.index) }
}

/** Of every id the row in the first of some languages that has it. */
function rowsSeen(
  versions: readonly { readonly id: string; readonly locale: string }[],
  wanted: readonly (string | undefined)[],
): number[] {
  const best = new Map<string, { row: number; rank: number }>()
  for (const [row, { id, locale }] of versions.entries()) {
    const rank = wanted.indexOf(locale)
    const known = best.get(id)
    if (rank !== -1 && (!known || rank < known.rank)) best.set(id, { row, rank })
  }
  return [...best.values()].map(({ row }) => row).sort((a, b) => a - b)
}

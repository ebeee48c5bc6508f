import { setOwn } from '../diagnostics/own-key.ts'
import type { Catalogue, StoredIndex } from '../query/catalogue.ts'
import type { SortKey } from '../query/condition.ts'
import type { SearchHead } from '../query/search-format.ts'
import type { Shape } from '../schema/field.ts'
import { buildIndex, listParts, toSteps } from './build-index.ts'
import { createSearchBuilder, type SearchedPlace } from './build-search.ts'
import { createValueCollector, type ValueCollector } from './collect-values.ts'

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

/** Builds the parts of a collection, one after the other, and the catalogue that leads to them. */
export function buildCollection(source: CollectionSource, keep: PartKeeper): Catalogue {
  const { shapes, locales, count, entry, indexed, order, search, changes } = source
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
  const head =
    search &&
    keep.unit('search', changes !== undefined && search.isSame(), () => keep.index(buildWords(search, count, keep)))
  const views = Object.fromEntries(locales.map((locale) => [locale, toSteps(rowsSeen(versions, [locale, locales[0]]))]))
  return {
    count,
    rows,
    indexes,
    ...(order.length > 0 ? { order } : {}),
    ...(head === undefined ? {} : { search: head }),
    ...(locales.length > 0 ? { locales: views } : {}),
  }
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

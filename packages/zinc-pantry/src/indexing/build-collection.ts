import { setOwn } from '../diagnostics/own-key.ts'
import type { Catalogue, StoredIndex } from '../query/catalogue.ts'
import type { SearchHead } from '../query/search-format.ts'
import type { Shape } from '../schema/field.ts'
import { buildIndex, listParts, toSteps } from './build-index.ts'
import { createSearchBuilder, type SearchedPlace } from './build-search.ts'
import { createValueCollector } from './collect-values.ts'

type Values = Readonly<Record<string, unknown>>

/** Keeps parts of a collection and gives their names. */
export interface PartKeeper {
  /** Parts that share a name. */
  rows(parts: readonly (readonly Values[])[]): string
  index(content: unknown): string
}

/** What a collection is built from. */
export interface CollectionSource {
  readonly shapes: Readonly<Record<string, Shape>>
  /** The languages of the site, where the collection has several. */
  readonly locales: readonly string[]
  readonly count: number
  /** The entry of a row as it is stored; asked for once, row after row. */
  entry(row: number): Values
  /** Dotted paths of fields that have an index whatever is in them. */
  readonly indexed: readonly string[]
  readonly search?: SearchSource | undefined
}

/** What full-text search is built from. */
export interface SearchSource {
  readonly places: readonly SearchedPlace[]
  /** The texts of a row, in the order of the places. */
  texts(row: number): readonly string[]
}

/** Rows of a part, where there are many: few, since a page of a list needs one here and one there. */
const ROWS_A_PART = 16
/** Parts that share a name: many, since all names are in the catalogue. */
const PARTS_A_NAME = 16
/** So few rows stay together. */
const TOGETHER = 128

/** Builds the parts of a collection, one after the other, and the catalogue that leads to them. */
export function buildCollection(
  { shapes, locales, count, entry, indexed, search }: CollectionSource,
  keep: PartKeeper,
): Catalogue {
  const size = count <= TOGETHER ? Math.max(1, count) : ROWS_A_PART
  const values = createValueCollector(shapes, indexed)
  const versions: { id: string; locale: string }[] = []
  const group = count <= TOGETHER ? 1 : PARTS_A_NAME
  let names = ''
  let parts: Values[][] = []
  for (let start = 0; start < count; start += size) {
    const rows: Values[] = []
    for (let row = start; row < Math.min(count, start + size); row++) {
      const one = entry(row)
      rows.push(one)
      values.add(one, row)
      if (locales.length > 0) versions.push({ id: String(one.id), locale: String(one.locale) })
    }
    parts.push(rows)
    if (parts.length < group && start + size < count) continue
    names += keep.rows(parts)
    parts = []
  }
  const indexes: Record<string, StoredIndex> = {}
  for (const postings of values.finish()) setOwn(indexes, postings.path, buildIndex(postings, count, keep.index))
  const head = search && keep.index(buildWords(search, count, keep))
  const views = Object.fromEntries(locales.map((locale) => [locale, toSteps(rowsSeen(versions, [locale, locales[0]]))]))
  return {
    count,
    rows: { size, group, names },
    indexes,
    ...(head === undefined ? {} : { search: head }),
    ...(locales.length > 0 ? { locales: views } : {}),
  }
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

import { addTo } from '../diagnostics/add-to.ts'
import type { ClusterSource } from '../indexing/build-cluster.ts'
import type { OrderSource } from '../indexing/build-order.ts'
import type { Scalar } from '../query/condition.ts'
import type { CollectionModel } from '../schema/model.ts'
import type { Shape } from '../schema/shape.ts'
import type { Entry } from '../validate/entry.ts'
import { mapRows, type RowList } from '../values/row-list.ts'
import { ofMany, readStep } from '../values/steps.ts'
import type { StoredEntry } from './stored-entry.ts'

/** A collection, and its entries as they are stored, in the same places. */
export interface StoredRows {
  readonly collection: CollectionModel
  readonly entries: readonly Entry[]
  readonly shapes: Readonly<Record<string, Shape>>
  rows(): RowList<StoredEntry>
}

/** Reads entries as they are stored, and those that they refer to. */
export interface EntryReaders {
  /** Gives the texts of a row that full-text search is built from, in the order of the places that are searched. */
  textsOf(rows: StoredRows, bodyText: (entry: Entry) => string): (row: number) => readonly string[]
  /** The sources of the orders that a collection keeps. */
  ordersOf(rows: StoredRows): readonly OrderSource[]
  /** The sources of the orders in which rows are stored once more. */
  clustersOf(rows: StoredRows): readonly ClusterSource[]
}

/** Makes readers of the entries of all collections. */
export function createEntryReaders(collections: readonly StoredRows[]): EntryReaders {
  const readers = new Map(collections.map((one) => [one.collection.name, createReader(one)]))
  const isTranslated = collections.some((one) => one.collection.locales !== undefined)
  /** What a reference leads to depends on the language that is asked for, and is put in order then. */
  const isSettled = ({ shape }: EntryReader, path: readonly string[]): boolean =>
    !isTranslated || !leadsAway(shape, path)
  /** The single value of each row at a path. */
  const keysAt = ({ collection, entries, rows }: StoredRows, path: readonly string[]): (Scalar | null)[] => {
    const { shape } = readers.get(collection.name) as EntryReader
    return mapRows(rows(), (stored, row) => {
      const place = { shape, path, locale: entries[row]?.locale }
      return (valuesIn(stored, place, readers)[0] ?? null) as Scalar | null
    })
  }
  return {
    textsOf({ collection, entries, rows }, bodyText) {
      const { shape } = readers.get(collection.name) as EntryReader
      return (row) => {
        const [stored, entry] = [rows().at(row), entries[row] as Entry]
        const textAt = (path: readonly string[]): string =>
          valuesIn(stored, { shape, path, locale: entry.locale }, readers).join(' · ')
        return collection.search.map(({ path }) => (isBody(path) ? bodyText(entry) : textAt(path)))
      }
    },
    ordersOf(rows) {
      const { collection } = rows
      const reader = readers.get(collection.name) as EntryReader
      const behind = collection.indexes
        .map((path) => path.split('.'))
        .filter((path) => path.length > 1 && leadsAway(reader.shape, path))
        .map((path) => ({ path, collation: undefined }))
      return [...behind, ...collection.sortOrders]
        .filter(({ path }) => isSettled(reader, path))
        .map(({ path, collation }): OrderSource => ({ path, collation, keys: () => keysAt(rows, path) }))
    },
    clustersOf(rows) {
      const reader = readers.get(rows.collection.name) as EntryReader
      return rows.collection.clustered
        .filter((sort) => sort.every(({ path }) => isSettled(reader, path)))
        .map((keys) => ({
          sort: keys.map(({ path, direction, collation }) => ({
            path,
            direction,
            ...(collation ? { collation } : {}),
          })),
          columns: () => keys.map(({ path }) => keysAt(rows, path)),
        }))
    },
  }
}

/** True for a path that goes on behind a reference. */
function leadsAway(shape: Shape, path: readonly string[]): boolean {
  let at: Shape | undefined = shape
  for (const name of path) {
    if (at?.kind === 'ref') return true
    at = at?.fields?.[name]
  }
  return false
}

const isBody = (path: readonly string[]): boolean => path.length === 1 && path[0] === 'body'

/** Reads entries of a collection as they are stored. */
interface EntryReader {
  readonly shape: Shape
  byId(id: unknown, locale: string | undefined): StoredEntry | undefined
}

function createReader({ entries, shapes, rows }: StoredRows): EntryReader {
  let ids: Map<string, number[]> | undefined
  return {
    shape: { kind: 'group', fields: shapes },
    byId(id, locale) {
      if (!ids) {
        ids = new Map()
        for (const [row, entry] of entries.entries()) addTo(ids, entry.id, row)
      }
      const versions = ids.get(String(id)) ?? []
      const row = versions.find((version) => entries[version]?.locale === locale) ?? versions[0]
      return row === undefined ? undefined : rows().at(row)
    },
  }
}

/** The single values at a path, those of all items of lists. */
function valuesIn(
  value: unknown,
  {
    shape,
    path,
    locale,
  }: { readonly shape: Shape; readonly path: readonly string[]; readonly locale: string | undefined },
  readers: ReadonlyMap<string, EntryReader>,
): unknown[] {
  if (value === null || value === undefined) return []
  const many = path[0] === undefined ? undefined : (ofMany(shape, path[0]) as Shape | undefined)
  if (many) return valuesIn(readStep(value, path[0] as string), { shape: many, path: path.slice(1), locale }, readers)
  if (shape.kind === 'list')
    return Array.isArray(value)
      ? value.flatMap((item) => valuesIn(item, { shape: shape.item, path, locale }, readers))
      : []
  const [name, ...rest] = path
  if (name === undefined) return [value]
  const target = shape.kind === 'ref' ? readers.get(shape.target) : undefined
  const holder = target ? target.byId(value, locale) : value
  const inner = (target?.shape ?? shape).fields?.[name]
  if (!inner || typeof holder !== 'object' || holder === null) return []
  return valuesIn((holder as StoredEntry)[name], { shape: inner, path: rest, locale }, readers)
}

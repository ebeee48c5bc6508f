import { type Catalogue, nameAt, partNameOf } from './catalogue.ts'
import { type FieldIndex, openIndex, type PartLoader } from './field-index.ts'
import type { Meter, StoredBody, StoredCollection } from './open-site.ts'
import { markRows, type RowSet, readSteps } from './row-set.ts'
import type { StoredValue } from './shape.ts'

/** A collection whose catalogue is there. */
export interface OpenCollection {
  readonly name: string
  readonly count: number
  /** The index of a path, where there is one. */
  index(path: string): FieldIndex | undefined
  /** The part with the head of the index of words. */
  readonly search: string | undefined
  /** Makes something once and keeps it with the collection. */
  keep<Kept>(name: string, make: () => Promise<Kept>): Promise<Kept>
  /** Loads parts of indexes for a query. */
  loader(read: Meter | undefined): PartLoader
  /** Loads rows, so that `row` has them. */
  loadRows(rows: Iterable<number>, read?: Meter): Promise<void>
  /** How many parts would have to be loaded for rows, at most. */
  readonly partCount: number
  row(row: number): StoredValue
  /** Entries of rows, where all of them are there; those of a set that will be asked for again are kept. */
  rowsNow(rows: ArrayLike<number>, isKept?: boolean): readonly StoredValue[] | undefined
  /** The body of a row, where the collection has bodies. */
  loadBody(row: number): Promise<StoredBody | undefined>
  /** The rows that are seen in a language; undefined where all are. */
  view(locale: string | undefined): View | undefined
}

/** The rows that are seen in a language. */
export interface View {
  readonly rows: RowSet
  readonly marks: Uint8Array
}

/** Loads the catalogue of a collection. */
export async function openStored(stored: StoredCollection, read?: Meter): Promise<OpenCollection> {
  const { default: catalogue, size = 0 } = await stored.catalogue()
  read?.(size)
  const indexes = new Map<string, FieldIndex>()
  const views = new Map<string, View>()
  const kept = new Map<string, Promise<unknown>>()
  return {
    name: stored.name,
    count: catalogue.count,
    index(path) {
      const known = indexes.get(path)
      if (known || !Object.hasOwn(catalogue.indexes, path)) return known
      const opened = openIndex(catalogue.indexes[path] as never, catalogue.count)
      indexes.set(path, opened)
      return opened
    },
    search: catalogue.search,
    keep<Kept>(name: string, make: () => Promise<Kept>) {
      const promise = (kept.get(name) as Promise<Kept> | undefined) ?? make()
      kept.set(name, promise)
      promise.catch(() => kept.delete(name))
      return promise
    },
    loader: (meter) => (name) => loadPart(stored, 'indexes', name, meter),
    ...createRows(stored, catalogue),
    async loadBody(row) {
      const { bodies } = catalogue
      if (!bodies) return undefined
      const name = await partNameOf(bodies, row, (list) => loadPart(stored, 'indexes', list, undefined))
      const part = (await stored.part('bodies', name)).default as readonly (StoredBody | null)[]
      return part[row % bodies.size] ?? undefined
    },
    view(locale) {
      const steps = locale === undefined ? undefined : catalogue.locales?.[locale]
      if (!steps || locale === undefined) return undefined
      const known = views.get(locale)
      if (known) return known
      const { rows } = readSteps(steps, 1, [steps.length])
      const view = { rows, marks: markRows(rows, catalogue.count) }
      views.set(locale, view)
      return view
    },
  }
}

async function loadPart(
  stored: StoredCollection,
  kind: 'rows' | 'indexes',
  name: string,
  read: Meter | undefined,
): Promise<unknown> {
  const { default: content, size = 0 } = await stored.part(kind, name)
  read?.(size)
  return content
}

function createRows(
  stored: StoredCollection,
  { count, rows: { size, group, names } }: Catalogue,
): Pick<OpenCollection, 'loadRows' | 'row' | 'rowsNow' | 'partCount'> {
  /** Every entry at the number of its row; those of parts that are not loaded are missing. */
  const entries = new Array<StoredValue | undefined>(count)
  const loading = new Map<number, Promise<void>>()
  /** What was found for sets of rows; those of a single value are asked for again and again. */
  const gathered = new WeakMap<object, readonly StoredValue[]>()
  const load = (part: number, read: Meter | undefined): Promise<void> => {
    let promise = loading.get(part)
    if (!promise) {
      const name = nameAt(names, Math.floor(part / group))
      promise = loadPart(stored, 'rows', `${name}-${part % group}`, read).then((rows) => {
        for (const [at, row] of (rows as readonly StoredValue[]).entries()) entries[part * size + at] = freeze(row)
      })
      loading.set(part, promise)
      promise.catch(() => loading.delete(part))
    }
    return promise
  }
  return {
    partCount: Math.ceil(count / size),
    async loadRows(rows, read) {
      const wanted = new Set<number>()
      for (const row of rows) if (entries[row] === undefined) wanted.add(Math.floor(row / size))
      if (wanted.size > 0) await Promise.all([...wanted].map((part) => load(part, read)))
    },
    row: (row) => entries[row] as StoredValue,
    rowsNow(rows, isKept) {
      const known = isKept && gathered.get(rows)
      if (known) return known
      const found = new Array<StoredValue>(rows.length)
      for (let at = 0; at < rows.length; at++) {
        const entry = entries[rows[at] as number]
        // Not a look at the entry itself, which would have to be fetched from memory.
        if (entry === undefined) return undefined
        found[at] = entry
      }
      if (isKept) gathered.set(rows, found)
      return found
    },
  }
}

/** Makes an entry and all in it read-only, once, when it first leaves the store. */
function freeze<Value extends object>(value: Value): Value {
  if (Object.isFrozen(value)) return value
  for (const part of Object.values(value)) if (typeof part === 'object' && part !== null) freeze(part)
  return Object.freeze(value)
}

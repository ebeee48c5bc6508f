import {
  type Catalogue,
  type ChunkNames,
  chunkNameOf,
  nameOfOrder,
  nameOfRows,
  type StoredCluster,
} from './catalogue.ts'
import type { SortKey } from './condition.ts'
import type { StoredCube } from './cube-format.ts'
import { type FieldIndex, openIndex } from './field-index.ts'
import { getOrCreate } from './get-or-create.ts'
import type { Meter, StoredBody, StoredCollection } from './open-site.ts'
import { createRowMerger, decodeDeltas, markRows, type PostingList, type RowMerger } from './posting-list.ts'
import { followPath, type Shape, type StoredValue } from './shape.ts'

/** A collection whose catalogue is there. */
export interface OpenCollection {
  readonly name: string
  /** The shape of the entries. */
  readonly shape: Shape
  readonly count: number
  /** The index of a path, where there is one. */
  index(path: readonly string[]): FieldIndex | undefined
  /** The same, where the path leads to a single value of the entry itself. */
  singleIndex(path: readonly string[]): FieldIndex | undefined
  /** The index that gives the order of a key, where one does. */
  orderIndex(key: SortKey): FieldIndex | undefined
  /** The keys of the order of the rows; empty where they are in the order of the files. */
  readonly order: readonly SortKey[]
  /** The orders in which rows are stored once more. */
  readonly clusters: readonly StoredCluster[]
  /** The chunk with the head of the index of words. */
  readonly search: string | undefined
  /** Makes something once and keeps it with the collection. */
  keep<Kept>(name: string, make: () => Promise<Kept>): Promise<Kept>
  readonly mergeRows: RowMerger
  /** Loads a chunk of an index by its name. */
  loadChunk(name: string, read?: Meter): Promise<unknown>
  /** Loads a chunk of rows by its name. */
  loadRowChunk(name: string, read?: Meter): Promise<unknown>
  /** Keeps the entries of some rows, which came from elsewhere. */
  keepRows(rows: ArrayLike<number>, entries: readonly StoredValue[]): void
  /** The entries of rows, which are loaded where they are not there. */
  loadRows(rows: ArrayLike<number>, read?: Meter): Promise<readonly StoredValue[]>
  /** How many chunks would have to be loaded for rows, at most. */
  readonly chunkCount: number
  /** Entries of rows, where all of them are there; those of a set that will be asked for again are kept. */
  rowsNow(rows: ArrayLike<number>, isKept?: boolean): readonly StoredValue[] | undefined
  /** The counts of the combinations of values of some fields. */
  readonly cube: StoredCube | undefined
  /** The chunks with what leads to each row, where that is kept. */
  readonly backlinks: ChunkNames | undefined
  /** The body of a row, where the collection has bodies. */
  loadBody(row: number): Promise<StoredBody | undefined>
  /** The rows that are seen in a language; undefined where all are. */
  view(locale: string | undefined): View | undefined
}

/** The rows that are seen in a language. */
export interface View {
  readonly rows: PostingList
  readonly marks: Uint8Array
}

/** Loads the catalogue of a collection. */
export async function openStored(stored: StoredCollection, shape: Shape, read?: Meter): Promise<OpenCollection> {
  const { default: catalogue, size = 0 } = await stored.catalogue()
  read?.(size)
  const { count, bodies, locales } = catalogue
  const indexes = new Map<string, FieldIndex | undefined>()
  const singles = new WeakMap<readonly string[], FieldIndex | undefined>()
  const views = new Map<string, View | undefined>()
  const kept = new Map<string, Promise<unknown>>()
  const loadChunk = createLoader(stored, 'indexes')
  const mergeRows = createRowMerger(count)
  const index = (path: readonly string[]): FieldIndex | undefined => {
    const name = path.join('.')
    return getOrCreate(indexes, name, () => {
      const found = Object.hasOwn(catalogue.indexes, name) ? catalogue.indexes[name] : undefined
      return found && openIndex(found, mergeRows, loadChunk)
    })
  }
  const singleIndex: OpenCollection['singleIndex'] = (path) =>
    // Handles give the same path every time.
    getOrCreate(singles, path, () => {
      const { end, crossing, isSingle } = followPath(shape, path)
      return crossing || !isSingle || end.item || end.kind === 'group' ? undefined : index(path)
    })
  return {
    name: stored.name,
    shape,
    count,
    index,
    orderIndex({ path, collation }) {
      const { crossing, isSingle } = followPath(shape, path)
      if (!isSingle) return undefined
      return crossing || collation !== undefined ? index([nameOfOrder(path, collation)]) : singleIndex(path)
    },
    singleIndex,
    order: catalogue.order ?? [],
    clusters: catalogue.clusters ?? [],
    search: catalogue.search,
    backlinks: catalogue.backlinks,
    cube: catalogue.cube,
    keep<Kept>(name: string, make: () => Promise<Kept>) {
      return getOrCreate(kept, name, make) as Promise<Kept>
    },
    loadChunk,
    mergeRows,
    ...createRows(catalogue, createLoader(stored, 'rows')),
    async loadBody(row) {
      if (!bodies) return undefined
      const chunk = (await stored.chunk('bodies', await chunkNameOf(bodies, row, loadChunk))).default
      return (chunk as readonly (StoredBody | null)[])[row % bodies.size] ?? undefined
    },
    view: (locale = '') =>
      locales &&
      getOrCreate(views, locale, () => {
        const steps = locales[locale]
        const rows = steps && decodeDeltas(steps, Int32Array.of(0, steps.length))
        return rows && { rows, marks: markRows(rows, count) }
      }),
  }
}

const createLoader =
  (stored: StoredCollection, kind: 'rows' | 'indexes') =>
  async (name: string, read?: Meter): Promise<unknown> => {
    const { default: content, size = 0 } = await stored.chunk(kind, name)
    read?.(size)
    return content
  }

function createRows(
  { count, rows: chunks }: Catalogue,
  loadRowChunk: OpenCollection['loadRowChunk'],
): Pick<OpenCollection, 'loadRows' | 'rowsNow' | 'chunkCount' | 'loadRowChunk' | 'keepRows'> {
  const { size } = chunks
  /** Every entry at the number of its row; those of chunks that are not loaded are missing. */
  const entries = new Array<StoredValue | undefined>(count)
  const loading = new Map<number, Promise<void>>()
  /** The entries of posting lists that are asked for again. */
  const gathered = new WeakMap<object, readonly StoredValue[]>()
  const keepRows: OpenCollection['keepRows'] = (rows, own) => {
    // Whoever has an entry already keeps the very same.
    for (const [at, entry] of own.entries()) entries[rows[at] as number] ??= freeze(entry)
  }
  const load = async (chunk: number, read: Meter | undefined): Promise<void> => {
    const rows = (await loadRowChunk(nameOfRows(chunks, chunk), read)) as readonly StoredValue[]
    keepRows(
      rows.map((_, at) => chunk * size + at),
      rows,
    )
  }
  const rowsNow: OpenCollection['rowsNow'] = (rows, isKept) => {
    const known = isKept && gathered.get(rows)
    if (known) return known
    const found = new Array<StoredValue>(rows.length)
    for (let at = 0; at < rows.length; at++) {
      const entry = entries[rows[at] as number]
      // Not a look at the entry itself, which would have to be fetched from memory.
      if (entry === undefined) return undefined
      found[at] = entry
    }
    // A frozen list would be slow to copy from.
    if (isKept) gathered.set(rows, found)
    return found
  }
  return {
    chunkCount: Math.ceil(count / size),
    loadRowChunk,
    keepRows,
    rowsNow,
    async loadRows(rows, read) {
      const found = rowsNow(rows)
      if (found) return found
      const wanted = new Set<number>()
      for (let at = 0; at < rows.length; at++)
        if (!entries[rows[at] as number]) wanted.add(Math.floor((rows[at] as number) / size))
      await Promise.all([...wanted].map((chunk) => getOrCreate(loading, chunk, () => load(chunk, read))))
      return rowsNow(rows) as readonly StoredValue[]
    },
  }
}

/** Makes an entry and all in it read-only, once, when it first leaves the store. */
function freeze<Value extends object>(value: Value): Value {
  if (Object.isFrozen(value)) return value
  for (const chunk of Object.values(value)) if (typeof chunk === 'object' && chunk !== null) freeze(chunk)
  return Object.freeze(value)
}

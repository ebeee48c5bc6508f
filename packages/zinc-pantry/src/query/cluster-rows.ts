import type { ClusterChunk, StoredCluster } from './catalogue.ts'
import type { SortKey } from './condition.ts'
import type { PostingList } from './posting-list.ts'
import type { Table } from './run.ts'

/** Which rows of an order are wanted. */
export interface Stretch {
  /** The first place, from 0. */
  readonly start: number
  /** The place behind the last. */
  readonly end: number
}

/** The order in which rows are stored once more, where that of some keys is. */
export function clusterOf({ clusters, run }: Table, sort: readonly SortKey[]): StoredCluster | undefined {
  if (sort.some(({ absent }) => absent === 'first')) return undefined
  const { nameOfSort } = run.internals
  const name = nameOfSort(sort)
  return clusters.find((one) => nameOfSort(one.sort) === name)
}

/** True where few of the numbers of rows in an order have to be read for those that are wanted. */
const isWorthwhile = (
  wanted: number,
  end: number,
  { count, size }: { readonly count: number; readonly size: number },
) => (end * count) / wanted / size < Math.max(2, wanted)

/** Of rows of a collection those at some places of an order in which rows are stored once more; their entries are there then. */
export async function readStretch(
  table: Table,
  cluster: StoredCluster,
  { rows, start, end }: Stretch & { readonly rows: PostingList },
): Promise<{ readonly rows: readonly number[]; readonly order: string } | undefined> {
  const last = Math.min(end, rows.length)
  if (!isWorthwhile(rows.length, last, { count: table.count, size: cluster.order.size })) return undefined
  const order = `${table.name}.${table.run.internals.nameOfSort(cluster.sort)}`
  return { rows: start >= last ? [] : await readRows(table, cluster, { rows, start, end: last }), order }
}

async function readRows(
  table: Table,
  cluster: StoredCluster,
  { rows, start, end }: Stretch & { readonly rows: PostingList },
): Promise<readonly number[]> {
  if (rows.length === table.count) return readPlaces(table, cluster, { start, end })
  const found = await findPlaces(table, cluster, { rows, end })
  const wanted = found.slice(start)
  if (!table.rowsNow(wanted.map(({ row }) => row)))
    await loadChunks(
      table,
      cluster,
      wanted.map(({ place }) => place),
    )
  return wanted.map(({ row }) => row)
}

/** The rows at places of an order, which are there then. */
export async function readPlaces(
  table: Table,
  cluster: StoredCluster,
  { start, end }: Stretch,
): Promise<readonly number[]> {
  if (start >= end) return []
  const places = Array.from({ length: end - start }, (_, at) => start + at)
  const chunks = await loadChunks(table, cluster, places)
  const first = start % cluster.rows.size
  return chunks.flatMap(([own]) => own).slice(first, first + end - start)
}

/** The first of some rows in an order, with their places. */
async function findPlaces(
  table: Table,
  { order }: StoredCluster,
  { rows, end }: { readonly rows: PostingList; readonly end: number },
): Promise<{ readonly row: number; readonly place: number }[]> {
  const marks = table.run.internals.markRows(rows, table.count)
  const found: { row: number; place: number }[] = []
  for (let from = 0; found.length < end; from += order.size)
    for (const [at, row] of ((await table.loadChunkOf(order, from)) as readonly number[]).entries())
      if (marks[row]) found.push({ row, place: from + at })
  return found.slice(0, end)
}

/** The rows beside one in an order. */
export async function rowsBeside(
  table: Table,
  cluster: StoredCluster,
  row: number,
): Promise<readonly [before: number | undefined, behind: number | undefined]> {
  const { places } = cluster
  const place = (await table.loadChunkOf(places, row))[row % places.size] as number
  const start = Math.max(0, place - 1)
  const around = await readPlaces(table, cluster, { start, end: Math.min(table.count, place + 2) })
  const at = place - start
  return [around[at - 1], around[at + 1]]
}

/** Loads the chunks with some places, which are in order; their entries are there then. */
async function loadChunks(
  table: Table,
  { rows }: StoredCluster,
  places: readonly number[],
): Promise<readonly ClusterChunk[]> {
  const { nameOfRows } = table.run.internals
  const wanted = [...new Set(places.map((place) => Math.floor(place / rows.size)))]
  const chunks = await Promise.all(
    wanted.map((chunk) => {
      const name = nameOfRows(rows, chunk)
      return table.keep(`rows ${name}`, () => table.loadRowChunk(name, table.run.read)) as Promise<ClusterChunk>
    }),
  )
  for (const [own, entries] of chunks) table.keepRows(own, entries)
  return chunks
}

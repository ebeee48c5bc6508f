import { type ChunkNames, chunkNameOf } from './catalogue.ts'
import type { ConditionTree } from './condition.ts'
import type { Internals } from './internals.ts'
import type { OpenCollection } from './open-collection.ts'
import type { Meter, Site } from './open-site.ts'
import { describeUnknown } from './query-error.ts'
import type { SearchFound } from './search-format.ts'
import type { StoredValue } from './shape.ts'

/** How a part of a condition was answered. */
export interface PlanStep {
  /** The part, with paths from the entry. */
  readonly part: ConditionTree
  /** The index that served it, as `collection.path`. */
  readonly index: string
  /** Rows that the index gave. */
  readonly rows: number
}

/** One query under way: what it reads is counted, what it uses is noted. */
export interface Run {
  readonly locale: string | undefined
  readonly read: Meter
  readonly internals: Internals
  readonly steps: PlanStep[]
  /** Bytes read so far; what was there before is not counted. */
  bytes: number
  /** Rows on which a condition was tested. */
  examined: number
  /** Rows that were put in order by the values of their entries. */
  sorted: number
  /** The result of the words that the query searches for, once they were looked for. */
  searched?: Promise<SearchFound>
  /** Opens a collection. */
  open(name: string): Promise<Table>
}

/** A collection as a query under way sees it. */
export interface Table extends OpenCollection {
  readonly run: Run
  /** Loads a chunk of an index by its name. */
  load(name: string): Promise<unknown>
  /** Loads the chunk with something of a row. */
  loadChunkOf(chunks: ChunkNames, row: number): Promise<readonly unknown[]>
  /** The entries of rows, which are loaded where they are not there. */
  entries(rows: ArrayLike<number>): Promise<readonly StoredValue[]>
}

/** Starts a query. */
export function startRun(site: Site, locale = site.locales[0]): Run {
  if (locale !== undefined && !site.locales.includes(locale))
    throw describeUnknown(`language ${locale} in this site`, site.locales)
  const read: Meter = (bytes) => {
    run.bytes += bytes
  }
  const run: Run = {
    locale,
    internals: site.internals,
    steps: [],
    bytes: 0,
    examined: 0,
    sorted: 0,
    read,
    async open(name) {
      const collection = await site.open(name, read)
      const entries: Table['entries'] = (rows) => collection.loadRows(rows, read)
      const load: Table['load'] = (chunk) => collection.loadChunk(chunk, read)
      const loadChunkOf: Table['loadChunkOf'] = async (chunks, row) =>
        (await load(await chunkNameOf(chunks, row, load))) as readonly unknown[]
      // A copy would call the getters by which a page that is worked on notes what it asked for.
      return Object.assign(Object.create(collection) as OpenCollection, { run, entries, load, loadChunkOf })
    },
  }
  return run
}

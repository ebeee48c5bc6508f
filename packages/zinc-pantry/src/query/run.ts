import type { ConditionTree } from './condition.ts'
import { QueryError } from './handles.ts'
import type { OpenCollection } from './open-collection.ts'
import type { Meter, Site } from './open-site.ts'
import type { RowSet } from './row-set.ts'
import type { SearchFound } from './search-format.ts'
import type { Shape, StoredValue } from './shape.ts'

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
  readonly site: Site
  readonly locale: string | undefined
  readonly read: Meter
  readonly steps: PlanStep[]
  /** Bytes read so far; what was there before is not counted. */
  bytes: number
  /** Rows on which a condition was tested. */
  examined: number
  /** What the words that the query searches for gave, once they were looked for. */
  searched?: Promise<SearchFound>
}

/** Starts a query. */
export function startRun(site: Site, locale: string | undefined): Run {
  const run: Run = {
    site,
    locale: locale ?? site.locales[0],
    steps: [],
    bytes: 0,
    examined: 0,
    read: (bytes) => {
      run.bytes += bytes
    },
  }
  return run
}

/** Opens a collection for a query. */
export const openFor = ({ site, read }: Run, name: string): Promise<OpenCollection> => site.open(name, read)

/** The shape of the entries of a collection. */
export function shapeFor({ site }: Run, name: string): Shape {
  const shape = site.shapes.get(name)
  if (!shape) throw new QueryError(`There is no collection ${name}; there are ${[...site.shapes.keys()].join(', ')}`)
  return shape
}

/** The entries of rows, which are loaded first. */
export async function entriesAt(
  run: Run,
  collection: OpenCollection,
  rows: Iterable<number>,
): Promise<readonly StoredValue[]> {
  const list = Array.isArray(rows) || rows instanceof Int32Array ? (rows as ArrayLike<number>) : [...rows]
  const present = collection.rowsNow(list)
  if (present) return present
  await collection.loadRows(rows, run.read)
  return Array.from(list, collection.row)
}

/** Of rows those that are seen in the language of a query. */
export function seenRows({ locale }: Run, collection: OpenCollection, rows: RowSet): RowSet {
  const view = collection.view(locale)
  return view ? rows.filter((row) => view.marks[row] === 1) : rows
}

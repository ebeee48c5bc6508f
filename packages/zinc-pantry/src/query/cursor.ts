import type { Scalar, SortKey } from './condition.ts'
import { QueryError } from './handles.ts'
import type { OpenCollection } from './open-collection.ts'
import { compareEntries } from './order-rows.ts'
import { entriesAt, type Run } from './run.ts'
import { findById, selectValues } from './select-values.ts'
import type { Shape } from './shape.ts'

/** Where a page ended: the last entry, what it was ordered by, and how many stood before the next one. */
interface Cursor {
  readonly id: string
  readonly keys: readonly (Scalar | null)[]
  readonly passed: number
}

/** What a cursor is made for. */
export interface Paging {
  readonly run: Run
  readonly collection: OpenCollection
  readonly shape: Shape
  readonly sort: readonly SortKey[]
}

/** The cursor behind a row. */
export async function writeCursor(
  row: number,
  passed: number,
  { run, collection, shape, sort }: Paging,
): Promise<string> {
  const [entry] = await entriesAt(run, collection, [row])
  const keys = await Promise.all(
    sort.map(async ({ path }) => (await selectValues(run, [entry], { shape, path }))[0] as Scalar | null),
  )
  const cursor: Cursor = { id: String(entry?.id), keys, passed }
  const bytes = new TextEncoder().encode(JSON.stringify([cursor.id, cursor.passed, ...keys]))
  return btoa(String.fromCharCode(...bytes))
    .replaceAll('+', '-')
    .replaceAll('/', '_')
    .replaceAll('=', '')
}

/** Reads a cursor that {@link writeCursor} made. */
export function readCursor(text: string, { length }: readonly SortKey[]): Cursor {
  try {
    const bytes = Uint8Array.from(atob(text.replaceAll('-', '+').replaceAll('_', '/')), (letter) =>
      letter.charCodeAt(0),
    )
    const [id, passed, ...keys] = JSON.parse(new TextDecoder().decode(bytes)) as [string, number, ...Scalar[]]
    if (typeof id === 'string' && Number.isSafeInteger(passed) && passed > 0 && keys.length === length)
      return { id, passed, keys }
  } catch {
    // Said below.
  }
  throw new QueryError(`This cursor is none of a query in this order: ${text}`)
}

/**
 * How many of ordered rows a cursor passes. Content may have changed since it was made: then its entry is looked for,
 * and where that is gone, the first that would stand behind it.
 */
export async function passedBy(cursor: Cursor, rows: ArrayLike<number>, paging: Paging): Promise<number> {
  const { run, collection, shape, sort } = paging
  const [row] = (await findById(run, collection.name, [cursor.id])) ?? []
  if (row !== undefined) {
    if (rows[cursor.passed - 1] === row) return cursor.passed
    const at = Array.prototype.indexOf.call(rows, row)
    if (at !== -1) return at + 1
  }
  if (sort.length === 0) return Math.min(cursor.passed, rows.length)
  const entries = await entriesAt(run, collection, Array.from(rows))
  const columns = await Promise.all(sort.map(({ path }) => selectValues(run, entries, { shape, path })))
  const compare = compareEntries(sort)
  // Of those that are equal some may come a second time; none is left out.
  const behind = entries.findIndex(
    (_, at) => compare(columns.map((column) => column[at]) as Scalar[], cursor.keys) >= 0,
  )
  return behind === -1 ? rows.length : behind
}

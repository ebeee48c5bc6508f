import type { Scalar, SortKey } from './condition.ts'
import type { Ordering } from './order-rows.ts'
import type { Tools } from './tools.ts'

/** Where a page ended: the last entry, how many stood before the next one, and what the last was ordered by. */
type Cursor = readonly [id: string, passed: number, ...keys: (Scalar | null)[]]

/** The cursor behind a row. */
export async function writeCursor(row: number, passed: number, ordering: Ordering): Promise<string> {
  const { sortedValues } = ordering.table.run.tools
  const [[entry], [keys = []]] = await Promise.all([ordering.table.entries([row]), sortedValues([row], ordering)])
  // Nothing that an address would change, however often it is decoded.
  return encodeURIComponent(JSON.stringify([entry?.id, passed, ...keys]))
    .replaceAll('~', '%7E')
    .replaceAll('%', '~')
}

/** Reads a cursor that {@link writeCursor} made for an order. */
export function readCursor(text: string, sort: readonly SortKey[], { QueryError }: Tools): Cursor {
  try {
    const cursor = JSON.parse(decodeURIComponent(text.replaceAll('~', '%'))) as Cursor
    const [id, passed] = cursor
    if (typeof id === 'string' && Number.isSafeInteger(passed) && passed > 0 && cursor.length === sort.length + 2)
      return cursor
  } catch {
    // Said below.
  }
  throw new QueryError(`This cursor is none of a query in this order: ${text}`)
}

/**
 * How many of ordered rows a cursor passes. Content may have changed since it was made: then its entry is looked for,
 * and where that is gone, the first that would stand behind it.
 */
export async function passedBy(
  [id, passed, ...keys]: Cursor,
  rows: ArrayLike<number>,
  ordering: Ordering,
): Promise<number> {
  const { table, sort } = ordering
  const { compareEntries, findById, sortedValues } = table.run.tools
  const [row] = await findById(table, [id])
  if (row !== undefined) {
    if (rows[passed - 1] === row) return passed
    const at = Array.prototype.indexOf.call(rows, row)
    if (at !== -1) return at + 1
  }
  if (sort.length === 0) return Math.min(passed, rows.length)
  const compare = compareEntries(sort)
  // Of those that are equal some may come a second time; none is left out.
  const behind = (await sortedValues(rows, ordering)).findIndex((values) => compare(values, keys) >= 0)
  return behind === -1 ? rows.length : behind
}

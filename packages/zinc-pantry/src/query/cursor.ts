import type { Scalar, SortKey } from './condition.ts'
import type { Internals } from './internals.ts'
import type { Ordering } from './order-rows.ts'

/**
 * Where a page ended: how many entries stood before that place, what the last of them was ordered by, and the ids of some
 * that were equal in that: the last ones before the place, the nearest first, and the first ones behind it.
 */
type Cursor = readonly [
  passed: number,
  keys: readonly (Scalar | null)[],
  before: readonly string[],
  behind: readonly string[],
]

/**
 * The number of neighbours on each side that tell the place among entries that are equal in the order, while one of
 * them is left.
 */
export const NEIGHBOURS = 6

type Rows = ArrayLike<number>

/** The cursor of a place among ordered rows, of which those around it must be there. */
export async function writeCursor(rows: Rows, passed: number, ordering: Ordering): Promise<string> {
  const { compareEntries, sortedValues } = ordering.table.run.internals
  const from = Math.max(0, passed - NEIGHBOURS)
  const around = Array.prototype.slice.call(rows, from, passed + NEIGHBOURS) as number[]
  const [entries, values] = await Promise.all([ordering.table.entries(around), sortedValues(around, ordering)])
  const keys = values[passed - from - 1] ?? []
  const compare = compareEntries(ordering.sort)
  const ids = entries.map(({ id }, at) => (compare(values[at] ?? [], keys) === 0 ? String(id) : ''))
  const cursor: Cursor = [
    passed,
    keys,
    ids
      .slice(0, passed - from)
      .reverse()
      .filter(Boolean),
    ids.slice(passed - from).filter(Boolean),
  ]
  // Nothing that an address would change, however often it is decoded.
  return encodeURIComponent(JSON.stringify(cursor)).replaceAll('~', '%7E').replaceAll('%', '~')
}

/** Reads a cursor that {@link writeCursor} made for an order. */
export function readCursor(text: string, sort: readonly SortKey[], { QueryError }: Internals): Cursor {
  try {
    const cursor = JSON.parse(decodeURIComponent(text.replaceAll('~', '%'))) as Cursor
    const [passed, keys, ...sides] = cursor
    const isText = (id: unknown): boolean => typeof id === 'string'
    if (Number.isSafeInteger(passed) && passed > 0 && keys.length === sort.length && sides.length === 2)
      if (sides.every((ids) => ids.every(isText))) return cursor
  } catch {
    // Said below.
  }
  throw new QueryError(`This cursor is none of a query in this order: ${text}`)
}

/** True where the rows around the place of a cursor are those of the time when it was made. */
export async function isInPlace(
  [passed, keys, before, behind]: Cursor,
  rows: Rows,
  ordering: Ordering,
): Promise<boolean> {
  const { compareEntries, sortedValues } = ordering.table.run.internals
  const around = [...before.map((_, at) => passed - 1 - at), ...behind.map((_, at) => passed + at)].map(
    (at) => rows[at],
  )
  if (around.includes(undefined)) return false
  const [entries, values] = await Promise.all([
    ordering.table.entries(around as number[]),
    sortedValues(around as number[], ordering),
  ])
  const compare = compareEntries(ordering.sort)
  return [...before, ...behind].every((id, at) => entries[at]?.id === id && compare(values[at] ?? [], keys) === 0)
}

/**
 * How many of ordered rows stand before the place of a cursor, whatever changed since it was made: all that come before
 * what its last entry was ordered by, and of those that are equal in it, those before its neighbours.
 */
export async function passedBy(
  [passed, keys, before, behind]: Cursor,
  rows: Rows,
  ordering: Ordering,
): Promise<number> {
  const { table, sort } = ordering
  const { compareEntries, findById, sortedValues } = table.run.internals
  const compare = compareEntries(sort)
  /** How many rows come before the keys, or before what is behind them. */
  const count = async (edge: 0 | 1): Promise<number> => {
    let [low, high] = [0, sort.length > 0 ? rows.length : edge * rows.length]
    if (sort.length === 0) return high
    while (low < high) {
      const middle = (low + high) >> 1
      const [values = []] = await sortedValues([rows[middle] as number], ordering)
      if (compare(values, keys) < edge) low = middle + 1
      else high = middle
    }
    return low
  }
  const [first, end] = [await count(0), await count(1)]
  const rowOf = async (id: string): Promise<number> => {
    const [row = -1] = await findById(table, [id])
    const at = Array.prototype.indexOf.call(rows, row)
    return at < first || at >= end ? -1 : at
  }
  const places = async (ids: readonly string[]): Promise<number[]> =>
    (await Promise.all(ids.map(rowOf))).filter((at) => at !== -1)
  const [left, right] = [await places(before), await places(behind)]
  if (left.length + right.length === 0) return Math.min(end, Math.max(first, passed))
  // One that moved is outvoted by those that did not; where nobody is, rather one comes twice than never.
  const votes = (place: number): number =>
    left.filter((at) => at < place).length + right.filter((at) => at >= place).length
  const all = [...left.map((at) => at + 1), ...right].sort((a, b) => a - b)
  return all.reduce((best, place) => (votes(place) > votes(best) ? place : best))
}

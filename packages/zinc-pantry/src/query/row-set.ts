/** Numbers of rows in order, each once. Sets are never changed. */
export type RowSet = Int32Array

export const NO_ROWS: RowSet = new Int32Array(0)

/** The rows of several sets, of `count` rows in all. */
export function uniteRows(sets: readonly RowSet[], count: number): RowSet {
  return sets.length === 1 ? (sets[0] as RowSet) : mergeRows(sets, count)
}

/** The rows of several lists in any order. */
export function mergeRows(lists: readonly Int32Array[], count: number): RowSet {
  // A bit a row: quicker than a sort, and rows that stand in several lists count once.
  const bits = new Uint32Array((count + 31) >> 5)
  let total = 0
  for (const list of lists) {
    total += list.length
    for (let at = 0; at < list.length; at++) {
      const row = list[at] as number
      bits[row >> 5] = (bits[row >> 5] as number) | (1 << (row & 31))
    }
  }
  const rows = new Int32Array(total)
  let size = 0
  for (let word = 0; word < bits.length; word++)
    for (let left = bits[word] as number; left !== 0; left &= left - 1)
      rows[size++] = (word << 5) + 31 - Math.clz32(left & -left)
  return rows.subarray(0, size)
}

/** Marks the rows of a set among `count`. */
export function markRows(set: RowSet, count: number): Uint8Array {
  const marks = new Uint8Array(count)
  for (const row of set) marks[row] = 1
  return marks
}

/** The rows that both sets have. */
export function intersectRows(a: RowSet, b: RowSet): RowSet {
  const rows = new Int32Array(Math.min(a.length, b.length))
  let size = 0
  let right = 0
  for (const row of a) {
    while (right < b.length && (b[right] as number) < row) right++
    if (b[right] === row) rows[size++] = row
  }
  return rows.subarray(0, size)
}

/** All rows but those of a set. */
export function otherRows(set: RowSet, count: number): RowSet {
  const rows = new Int32Array(count - set.length)
  let size = 0
  let next = 0
  for (let row = 0; row < count; row++)
    if (set[next] === row) next++
    else rows[size++] = row
  return rows
}

/** Every row. */
export const allRows = (count: number): RowSet => Int32Array.from({ length: count }, (_, row) => row)

/** Lists of rows one behind the other. */
export interface RowLists {
  /** Where each list starts, and the end of the last. */
  readonly starts: Int32Array
  readonly rows: Int32Array
}

/** Reads lists of rows that are written as steps from one to the next; without counts each has one row. */
export function readSteps(steps: readonly number[], size: number, counts?: readonly number[]): RowLists {
  const starts = new Int32Array(size + 1)
  const rows = Int32Array.from(steps)
  for (let at = 0; at < size; at++) {
    const start = starts[at] as number
    const end = start + (counts?.[at] ?? 1)
    for (let next = start + 1; next < end; next++) rows[next] = (rows[next] as number) + (rows[next - 1] as number)
    starts[at + 1] = end
  }
  return { starts, rows }
}

/** How many of sorted things stand at the start for which a test holds; it holds for none behind them. */
export function countWhile<Thing>(things: readonly Thing[], holds: (thing: Thing) => boolean): number {
  let low = 0
  let high = things.length
  while (low < high) {
    const middle = (low + high) >> 1
    if (holds(things[middle] as Thing)) low = middle + 1
    else high = middle
  }
  return low
}

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

/** Rows from steps. */
export function rowsFromSteps(steps: readonly number[]): RowSet {
  const rows = Int32Array.from(steps)
  for (let at = 1; at < rows.length; at++) rows[at] = (rows[at] as number) + (rows[at - 1] as number)
  return rows
}

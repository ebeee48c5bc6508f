/** Numbers of rows in order, each once. Sets are never changed. */
export type RowSet = Int32Array

export const NO_ROWS: RowSet = new Int32Array(0)

/** Below so many rows a sort is cheaper than a mark for every row of the collection. */
const FEW = 2048

/** The rows of several sets, of `count` rows in all. */
export function uniteRows(sets: readonly RowSet[], count: number): RowSet {
  return sets.length === 1 ? (sets[0] as RowSet) : mergeRows(sets, count)
}

/** The rows of several lists in any order. */
export function mergeRows(sets: readonly Int32Array[], count: number): RowSet {
  if (sets.length === 0) return NO_ROWS
  const total = sets.reduce((sum, set) => sum + set.length, 0)
  if (total <= FEW) {
    const all = new Int32Array(total)
    let at = 0
    for (const set of sets) {
      all.set(set, at)
      at += set.length
    }
    all.sort()
    return all.filter((row, position) => position === 0 || row !== all[position - 1])
  }
  const marks = new Uint8Array(count)
  for (const set of sets) for (const row of set) marks[row] = 1
  return markedRows(marks)
}

/** Marks the rows of a set among `count`. */
export function markRows(set: RowSet, count: number): Uint8Array {
  const marks = new Uint8Array(count)
  for (const row of set) marks[row] = 1
  return marks
}

/** The rows whose mark is set. */
export function markedRows(marks: Uint8Array): RowSet {
  let size = 0
  for (const mark of marks) size += mark
  const rows = new Int32Array(size)
  let at = 0
  for (let row = 0; row < marks.length; row++) if (marks[row]) rows[at++] = row
  return rows
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

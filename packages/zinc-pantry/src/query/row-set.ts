/** Numbers of rows in order, each once. Sets are never changed. */
export type RowSet = Int32Array

/** Bits that are all 0 between two calls: memory that is asked for anew each time would cost as much as all the rest. */
let bits = new Int32Array(0)

/** The rows of several lists in any order, of `count` rows in all. */
export function mergeRows(lists: readonly Int32Array[], count: number): RowSet {
  // A bit a row, and behind them one for each 32 of those: quicker than a sort, and a row in several lists counts once.
  const behind = (count >> 5) + 1
  const end = behind + (count >> 10) + 1
  if (bits.length < end) bits = new Int32Array(end)
  let total = 0
  for (const list of lists) {
    total += list.length
    for (let at = 0; at < list.length; at++) {
      const row = list[at] as number
      setBit(row)
      setBit((behind << 5) + (row >> 5))
    }
  }
  const rows = new Int32Array(total)
  let size = 0
  for (let at = behind; at < end; at++) {
    for (let words = bits[at] as number; words !== 0; words &= words - 1) {
      const word = ((at - behind) << 5) + lowestBit(words)
      for (let left = bits[word] as number; left !== 0; left &= left - 1) rows[size++] = (word << 5) + lowestBit(left)
      bits[word] = 0
    }
    bits[at] = 0
  }
  return rows.subarray(0, size)
}

function setBit(at: number): void {
  bits[at >> 5] = (bits[at >> 5] as number) | (1 << at)
}

const lowestBit = (bits: number): number => 31 - Math.clz32(bits & -bits)

/** Marks the rows of a set among `count`. */
export function markRows(set: RowSet, count: number): Uint8Array {
  const marks = new Uint8Array(count)
  for (const row of set) marks[row] = 1
  return marks
}

/** Of rows those that are marked, or with a mark of 0 those that are not. */
export const keepMarked = (rows: RowSet, marks: Uint8Array, mark = 1): RowSet =>
  rows.filter((row) => marks[row] === mark)

/** Every row. */
export const allRows = (count: number): RowSet => Int32Array.from({ length: count }, (_, row) => row)

/** Where lists of so many rows start, one behind the other, and the end of the last; without counts each has one row. */
export function readStarts(size: number, counts?: readonly number[]): Int32Array {
  const starts = new Int32Array(size + 1)
  for (let at = 0; at < size; at++) starts[at + 1] = (starts[at] as number) + (counts?.[at] ?? 1)
  return starts
}

/** Reads lists of rows that are written as steps from one to the next. */
export function readSteps(steps: readonly number[], starts: Int32Array): Int32Array {
  const rows = Int32Array.from(steps)
  let list = 0
  for (let at = 0; at < rows.length; at++) {
    while ((starts[list] as number) < at) list++
    if (starts[list] !== at) rows[at] = (rows[at] as number) + (rows[at - 1] as number)
  }
  return rows
}

/** Where a thing lies beside a stretch of sorted things: -1 before it, 0 in it, 1 behind it. */
export type Side<Thing> = (thing: Thing) => number

/** How many of sorted things lie before a stretch, or with an edge of 1 before its end; at least `low`. */
export function countBefore<Thing>(things: readonly Thing[], side: Side<Thing>, edge = 0, low = 0): number {
  let high = things.length
  while (low < high) {
    const middle = (low + high) >> 1
    if (side(things[middle] as Thing) < edge) low = middle + 1
    else high = middle
  }
  return low
}

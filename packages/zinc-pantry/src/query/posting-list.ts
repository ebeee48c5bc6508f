/** A posting list: numbers of rows in order, each once. It is never changed. */
export type PostingList = Int32Array

/** Merges posting lists into one. */
export type RowMerger = (lists: readonly PostingList[]) => PostingList

/**
 * Makes a merger of lists of rows of a collection with `count` of them. Its bits are all 0 between two calls: memory that
 * is asked for anew each time was measured at as much as all the rest of a query.
 */
export function createRowMerger(count: number): RowMerger {
  // A bit a row, and behind them one for each 32 of those: quicker than a sort, and a row in several lists counts once.
  const behind = (count >> 5) + 1
  const end = behind + (count >> 10) + 1
  let bits: Int32Array | undefined
  return (lists) => {
    bits ??= new Int32Array(end)
    let total = 0
    for (const list of lists) {
      total += list.length
      for (let at = 0; at < list.length; at++) {
        const row = list[at] as number
        setBit(bits, row)
        setBit(bits, (behind << 5) + (row >> 5))
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
}

function setBit(bits: Int32Array, at: number): void {
  bits[at >> 5] = (bits[at >> 5] as number) | (1 << at)
}

const lowestBit = (bits: number): number => 31 - Math.clz32(bits & -bits)

/** Marks the rows of a set among `count`. */
export function markRows(set: PostingList, count: number): Uint8Array {
  const marks = new Uint8Array(count)
  for (const row of set) marks[row] = 1
  return marks
}

/** Of rows those that are marked, or with a mark of 0 those that are not. */
export const keepMarked = (rows: PostingList, marks: Uint8Array, mark = 1): PostingList =>
  rows.filter((row) => marks[row] === mark)

/** Every row. */
export const allRows = (count: number): PostingList => Int32Array.from({ length: count }, (_, row) => row)

/**
 * Where lists of so many rows start, one behind the other, and the end of the last; without counts each has one row.
 */
export function readOffsets(size: number, counts?: readonly number[]): Int32Array {
  const offsets = new Int32Array(size + 1)
  for (let at = 0; at < size; at++) offsets[at + 1] = (offsets[at] as number) + (counts?.[at] ?? 1)
  return offsets
}

/** Reads lists of rows that are written as steps from one to the next. */
export function decodeDeltas(steps: readonly number[], offsets: Int32Array): Int32Array {
  const rows = Int32Array.from(steps)
  let list = 0
  for (let at = 0; at < rows.length; at++) {
    while ((offsets[list] as number) < at) list++
    if (offsets[list] !== at) rows[at] = (rows[at] as number) + (rows[at - 1] as number)
  }
  return rows
}

/** Where a thing lies beside a range of sorted things: -1 before it, 0 in it, 1 behind it. */
export type Bound<Thing> = (thing: Thing) => number

/** How many of sorted things lie before a range, or with an edge of 1 before its end; at least `low`. */
export function countBefore<Thing>(things: readonly Thing[], bound: Bound<Thing>, edge = 0, low = 0): number {
  let high = things.length
  while (low < high) {
    const middle = (low + high) >> 1
    if (bound(things[middle] as Thing) < edge) low = middle + 1
    else high = middle
  }
  return low
}

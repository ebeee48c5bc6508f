/** A word of a dictionary and how many mistakes lead to it. */
export interface NearWord {
  readonly word: string
  readonly distance: number
}

/** Mistakes that are forgiven in a word: letters too many, missing, wrong, or two that changed places. */
export const forgivenIn = (word: string): number => (word.length < 4 ? 0 : word.length < 8 ? 1 : 2)

/**
 * Finds the words of a sorted dictionary that are at most so many mistakes away. Words that begin alike share the work,
 * and those behind a beginning that is too far away are passed over.
 */
export function findNearWords(dictionary: readonly string[], wanted: string, most: number): NearWord[] {
  const width = wanted.length + 1
  const rows: Uint8Array[] = [Uint8Array.from({ length: width }, (_, at) => at)]
  const found: NearWord[] = []
  let before = ''
  let at = 0
  while (at < dictionary.length) {
    const word = dictionary[at] as string
    let depth = sharedLength(before, word, rows.length - 1)
    rows.length = depth + 1
    let isNear = true
    for (; depth < word.length && isNear; depth++) {
      const row = nextRow(rows, word, wanted)
      rows.push(row)
      isNear = row.some((distance) => distance <= most)
    }
    before = word
    if (isNear) {
      const distance = rows[word.length]?.[wanted.length] ?? most + 1
      if (distance <= most) found.push({ word, distance })
      at++
    } else at = skip(dictionary, at, word.slice(0, depth))
  }
  return found
}

function sharedLength(a: string, b: string, most: number): number {
  let shared = 0
  while (shared < most && shared < a.length && shared < b.length && a[shared] === b[shared]) shared++
  return shared
}

function nextRow(rows: readonly Uint8Array[], word: string, wanted: string): Uint8Array {
  const depth = rows.length - 1
  const above = rows[depth] as Uint8Array
  const row = new Uint8Array(wanted.length + 1)
  row[0] = depth + 1
  for (let at = 1; at <= wanted.length; at++) {
    const isSame = word[depth] === wanted[at - 1]
    let distance = Math.min(
      (above[at] as number) + 1,
      (row[at - 1] as number) + 1,
      (above[at - 1] as number) + (isSame ? 0 : 1),
    )
    if (depth > 0 && at > 1 && word[depth] === wanted[at - 2] && word[depth - 1] === wanted[at - 1])
      distance = Math.min(distance, ((rows[depth - 1] as Uint8Array)[at - 2] as number) + 1)
    row[at] = distance
  }
  return row
}

/** The first word behind those with a beginning. */
function skip(dictionary: readonly string[], start: number, beginning: string): number {
  let low = start + 1
  let step = 1
  while (low + step < dictionary.length && dictionary[low + step]?.startsWith(beginning)) {
    low += step
    step *= 2
  }
  let high = Math.min(dictionary.length, low + step)
  while (low < high) {
    const middle = (low + high) >> 1
    if (dictionary[middle]?.startsWith(beginning)) low = middle + 1
    else high = middle
  }
  return low
}

import { FIRST_IMPACT, MOST_IMPACT, nearnessOf, rarityOf, type SearchShard } from '../query/search-format.ts'
import { encodeDeltas } from './build-index.ts'

/** Words whose beginning is asked for are in so many shards at most; of more the uses are summed up. */
const MOST_SHARDS = 6
/** The number of steps of the impact of a beginning: few, since the chunks are large. */
const STEPS = 15

/** Beginnings that the same words have, and the uses of those. */
interface SummedBeginnings {
  readonly beginnings: readonly string[]
  readonly shard: SearchShard
}

/** Numbers of sorted words, from the first up to that behind the last. */
export type Span = readonly [from: number, to: number]

/** The rows of a word in order, and how much it says of each. */
export interface WeighedUses {
  readonly rows: readonly number[]
  readonly impacts: readonly number[]
  /** What the largest impact of the word counts. */
  readonly scale: number
  /** Rows that have it in the place in which it is rarest. */
  readonly rarest: number
}

/** All words of an index in order, their uses, and the shards that they are cut into. */
interface WordTable {
  readonly words: readonly string[]
  readonly uses: readonly WeighedUses[]
  readonly shards: readonly Span[]
  /** Rows of the collection. */
  readonly count: number
}

/**
 * Sums up the uses of the words behind each beginning that stands in many shards, so that one chunk answers for all of
 * them: as-you-type search would else have to load half of the index for the first letter, or leave something out.
 */
export function sumBeginnings(table: WordTable): SummedBeginnings[] {
  const { words, shards } = table
  const shardOf = new Int32Array(words.length)
  for (const [number, [from, to]] of shards.entries()) shardOf.fill(number, from, to)
  const found: SummedBeginnings[] = []
  const visit = ([from, to]: Span, length: number): void => {
    for (let at = from; at < to; ) {
      const beginning = (words[at] as string).slice(0, length)
      let end = at + 1
      while (end < to && (words[end] as string).startsWith(beginning)) end++
      if ((shardOf[end - 1] as number) - (shardOf[at] as number) >= MOST_SHARDS) {
        // Longer beginnings that all of them share have the same uses.
        const shared = sharedLength(words[at] as string, words[end - 1] as string)
        const longest = (words[at] as string).slice(0, shared)
        const beginnings = Array.from({ length: shared - length + 1 }, (_, more) => longest.slice(0, length + more))
        found.push({ beginnings, shard: sumUp(longest, [at, end], table) })
        // A word that ends here has no longer beginning.
        visit([words[at] === longest ? at + 1 : at, end], shared + 1)
      }
      at = end
    }
  }
  visit([0, words.length], 1)
  return found
}

function sharedLength(a: string, b: string): number {
  let length = 0
  while (length < a.length && a[length] === b[length]) length++
  return length
}

function sumUp(beginning: string, [from, to]: Span, { words, uses, count }: WordTable): SearchShard {
  const scores = new Float64Array(count)
  for (let at = from; at < to; at++) {
    const { rows, impacts, scale: own, rarest } = uses[at] as WeighedUses
    const weight = (own / MOST_IMPACT) * rarityOf(rarest, count) * nearnessOf(words[at] as string, beginning)
    for (let use = 0; use < rows.length; use++) {
      const row = rows[use] as number
      scores[row] = (scores[row] as number) + weight * (impacts[use] as number)
    }
  }
  const rows: number[] = []
  let highest = 0
  for (let row = 0; row < count; row++)
    if (scores[row]) {
      rows.push(row)
      highest = Math.max(highest, scores[row] as number)
    }
  const scale = highest / STEPS
  const impacts = rows.map((row) => Math.max(1, Math.round((scores[row] as number) / scale)))
  return {
    words: [beginning],
    counts: [rows.length],
    rows: encodeDeltas(rows),
    impacts: writeImpacts(impacts),
    scales: '',
    scale,
  }
}

/** A character an impact. */
export const writeImpacts = (impacts: readonly number[]): string =>
  new TextDecoder().decode(Uint8Array.from(impacts, (impact) => FIRST_IMPACT + impact))

import { FIRST_IMPACT, MOST_IMPACT, type SearchHead, type SearchShard } from '../query/search-format.ts'
import { findWords } from '../query/words.ts'
import { type KeepPart, toSteps } from './build-index.ts'

/** So many pairs of a word and a row have a part of their own. */
const SHARD_PAIRS = 3000
/** How soon more of the same word counts no more, and how much long texts count less (BM25). */
const SATURATION = 1.2
const LENGTH_SHARE = 0.75

/** A place that is searched and how much it weighs. */
export interface SearchedPlace {
  readonly path: string
  readonly weight: number
}

/** Gathers the words of entries, row after row. */
export interface SearchBuilder {
  /** Adds the texts of a row, in the order of the places. */
  add(row: number, texts: readonly string[]): void
  /** Builds the parts and gives the head that leads to them. */
  finish(count: number, keep: KeepPart): SearchHead
}

/** The rows of a word: for each use its row, its place, and how often. */
interface Uses {
  readonly rows: number[]
  readonly places: number[]
  readonly counts: number[]
}

/** Makes a builder of the index of words. */
export function createSearchBuilder(places: readonly SearchedPlace[]): SearchBuilder {
  const words = new Map<string, Uses>()
  const lengths = places.map((): number[] => [])
  return {
    add(row, texts) {
      for (const [place, text] of texts.entries()) {
        const counts = new Map<string, number>()
        const found = findWords(text)
        for (const { word } of found) counts.set(word, (counts.get(word) ?? 0) + 1)
        const own = lengths[place] as number[]
        own[row] = found.length
        for (const [word, count] of counts) {
          const uses = words.get(word) ?? { rows: [], places: [], counts: [] }
          if (uses.rows.length === 0) words.set(word, uses)
          uses.rows.push(row)
          uses.places.push(place)
          uses.counts.push(count)
        }
      }
    },
    finish(count, keep) {
      const averages = lengths.map((own) => own.reduce((sum, length) => sum + length, 0) / Math.max(1, count) || 1)
      const total = places.reduce((sum, { weight }) => sum + weight, 0)
      /** How much a word says of a row, from 1. */
      const impactOf = (place: number, row: number, uses: number): number => {
        const share = (lengths[place]?.[row] ?? 0) / (averages[place] ?? 1)
        const damping = SATURATION * (1 - LENGTH_SHARE + LENGTH_SHARE * share)
        return ((places[place]?.weight ?? 0) / total) * (uses / (uses + damping))
      }
      const sorted = [...words.keys()].sort()
      const shards = cutShards(sorted, (word) => words.get(word)?.rows.length ?? 0)
      const names = shards.map((shard) => keep(createShard(shard, words, impactOf))).join('')
      return {
        count,
        places: places.map(({ path }) => path),
        first: shards.map(([word]) => word as string),
        names,
        dictionary: keep(sorted.join('\n')),
      }
    },
  }
}

function cutShards(words: readonly string[], sizeOf: (word: string) => number): string[][] {
  const shards: string[][] = []
  let size = SHARD_PAIRS
  for (const word of words) {
    if (size >= SHARD_PAIRS) {
      shards.push([])
      size = 0
    }
    shards.at(-1)?.push(word)
    size += sizeOf(word)
  }
  return shards
}

function createShard(
  words: readonly string[],
  uses: ReadonlyMap<string, Uses>,
  impactOf: (place: number, row: number, uses: number) => number,
): SearchShard {
  const counts: number[] = []
  const steps: number[] = []
  const impacts: number[] = []
  for (const word of words) {
    const { rows, places, counts: times } = uses.get(word) as Uses
    const byRow = new Map<number, number>()
    for (const [at, row] of rows.entries())
      byRow.set(row, (byRow.get(row) ?? 0) + impactOf(places[at] as number, row, times[at] as number))
    counts.push(byRow.size)
    for (const step of toSteps([...byRow.keys()])) steps.push(step)
    for (const impact of byRow.values()) impacts.push(FIRST_IMPACT + Math.max(1, Math.round(impact * MOST_IMPACT)))
  }
  return { words, counts, rows: steps, impacts: new TextDecoder().decode(Uint8Array.from(impacts)) }
}

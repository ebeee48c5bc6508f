import type { PostingList } from './posting-list.ts'
import { FIRST_IMPACT, type FoundWord, type WordRelation } from './search-format.ts'
import type { WordUses } from './search-index.ts'

/** Rows that a word of a search was found in, and what it says of each. */
export interface Credit {
  /** The word that was searched for. */
  readonly asked: string
  /** The word that was found. */
  readonly word: string
  readonly relation: WordRelation
  /** In order. */
  readonly rows: ArrayLike<number>
  /** By the number of the row among them. */
  scoreAt(use: number): number
}

/** Adds up what the words of a search say of the rows of a collection. */
export interface WordScorer {
  /** Adds what was found for some of the asked words, by their numbers. */
  add(credit: Credit, positions: readonly number[]): void
  /** Adds what words say that do not decide what is found. */
  addLight(credit: Credit): void
  /** The rows that were found; those that have more of the words stand above those that have fewer. */
  finish(): PostingList
  readonly scores: Float32Array
  /** The words of a row whose scores make up its own, the largest first. */
  explain(row: number): readonly FoundWord[]
}

/** What was found for a word, as large as a factor says. */
export const creditOf = (
  { word, rows, impacts, start, weight, rarity, relation }: WordUses,
  asked: string,
  { factor = 1, as = relation }: { readonly factor?: number; readonly as?: WordRelation } = {},
): Credit => ({
  asked,
  word,
  relation: as,
  rows,
  scoreAt: (use) => factor * weight * rarity * (impacts.charCodeAt(start + use) - FIRST_IMPACT),
})

/** Makes a scorer for a search for so many words in a collection of so many rows. */
export function createScorer(count: number, askedCount: number): WordScorer {
  const scores = new Float32Array(count)
  const matched = new Uint8Array(count)
  const seen = Array.from({ length: askedCount }, () => new Uint8Array(count))
  const credits: Credit[] = []
  const shareOf = (row: number): number => (askedCount > 1 ? ((matched[row] as number) / askedCount) ** 2 : 1)
  return {
    scores,
    add(credit, positions) {
      credits.push(credit)
      for (let use = 0; use < credit.rows.length; use++) {
        const row = credit.rows[use] as number
        scores[row] = (scores[row] as number) + credit.scoreAt(use)
        for (const position of positions) {
          const own = seen[position] as Uint8Array
          if (own[row]) continue
          own[row] = 1
          matched[row] = (matched[row] as number) + 1
        }
      }
    },
    addLight(credit) {
      credits.push(credit)
      for (let use = 0; use < credit.rows.length; use++) {
        const row = credit.rows[use] as number
        if (matched[row]) scores[row] = (scores[row] as number) + credit.scoreAt(use)
      }
    },
    finish() {
      const rows: number[] = []
      for (let row = 0; row < count; row++) {
        if (!matched[row]) continue
        rows.push(row)
        scores[row] = (scores[row] as number) * shareOf(row)
      }
      return Int32Array.from(rows)
    },
    explain(row) {
      const found = credits.flatMap(({ asked, word, relation, rows, scoreAt }): FoundWord[] => {
        const use = indexOfSorted(rows, row)
        return use === -1 ? [] : [{ asked, word, relation, score: scoreAt(use) * shareOf(row) }]
      })
      return found.sort((a, b) => b.score - a.score)
    },
  }
}

function indexOfSorted(rows: ArrayLike<number>, row: number): number {
  let [low, high] = [0, rows.length]
  while (low < high) {
    const middle = (low + high) >> 1
    if ((rows[middle] as number) < row) low = middle + 1
    else high = middle
  }
  return rows[low] === row ? low : -1
}

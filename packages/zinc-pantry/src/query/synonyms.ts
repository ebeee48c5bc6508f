import type { ChunkLoader } from './field-index.ts'
import { type Credit, creditOf } from './score-words.ts'
import type { AskedWord, SearchIndex } from './search-index.ts'
import { findWords } from './words.ts'

/** How much a word counts that another one stands for. */
const SYNONYM = 0.7

/** What was found for a synonym of some of the asked words, by their numbers. */
export interface SynonymCredit {
  readonly credit: Credit
  readonly positions: readonly number[]
}

/** The words of a text as they are asked for. */
export const askedWords = (text: string): AskedWord[] =>
  findWords(text).map(({ word, start, end }) => ({
    word,
    written: text.slice(start, end).toLowerCase(),
    isLast: false,
  }))

/** Finds what stands for words, or several in a row, that are asked for. */
export async function findSynonyms(
  asked: readonly AskedWord[],
  { head, stemsOf, findFamily }: SearchIndex,
  load: ChunkLoader,
): Promise<SynonymCredit[]> {
  const isSame = async (one: AskedWord, other: AskedWord): Promise<boolean> => {
    if (one.word === other.word) return true
    const [stems, others] = await Promise.all([stemsOf(one), stemsOf(other)])
    return others.some((stem) => stems.includes(stem))
  }
  /** Where some words stand beside each other among those that are asked for. */
  const placeOf = async (words: readonly AskedWord[]): Promise<number> => {
    for (let start = 0; start + words.length <= asked.length; start++) {
      const same = await Promise.all(words.map((word, at) => isSame(word, asked[start + at] as AskedWord)))
      if (words.length > 0 && same.every(Boolean)) return start
    }
    return -1
  }
  const creditsOf = async (words: readonly AskedWord[], of: string): Promise<Credit[]> => {
    const found = await Promise.all(words.map((word) => findFamily(word, load)))
    const credits = found.map((uses) => uses.map((one) => creditOf(one, of, { factor: SYNONYM, as: 'synonym' })))
    return credits.length === 1 ? (credits[0] ?? []) : [joinCredits(credits, words, of)]
  }
  const found: SynonymCredit[] = []
  for (const group of head.synonyms ?? []) {
    const members = group.map(askedWords)
    const places = await Promise.all(members.map(placeOf))
    for (const [number, start] of places.entries()) {
      if (start === -1) continue
      const length = members[number]?.length ?? 0
      const positions = Array.from({ length }, (_, at) => start + at)
      const of = positions.map((at) => asked[at]?.word).join(' ')
      for (const [other, words] of members.entries())
        if (other !== number && words.length > 0)
          for (const credit of await creditsOf(words, of)) found.push({ credit, positions })
    }
  }
  return found
}

/** What is found for several words together: the rows that have all of them. */
function joinCredits(all: readonly (readonly Credit[])[], words: readonly AskedWord[], asked: string): Credit {
  const sums = all.map((credits) => {
    const scores = new Map<number, number>()
    for (const { rows, scoreAt } of credits)
      for (let use = 0; use < rows.length; use++) {
        const row = rows[use] as number
        scores.set(row, (scores.get(row) ?? 0) + scoreAt(use))
      }
    return scores
  })
  const [first = new Map<number, number>(), ...others] = sums
  const rows = [...first.keys()].filter((row) => others.every((scores) => scores.has(row))).sort((a, b) => a - b)
  return {
    asked,
    word: words.map(({ word }) => word).join(' '),
    relation: 'synonym',
    rows,
    scoreAt: (use) => sums.reduce((sum, scores) => sum + (scores.get(rows[use] as number) ?? 0), 0) / sums.length,
  }
}

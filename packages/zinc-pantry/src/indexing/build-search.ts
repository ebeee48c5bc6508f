import { largest, smallest } from '../diagnostics/extremes.ts'
import { codeOf, MOST_CODES } from '../query/catalogue.ts'
import { getOrCreate } from '../query/get-or-create.ts'
import {
  type FamilyList,
  MOST_IMPACT,
  rarityOf,
  SCALE_STEP,
  type SearchHead,
  type SearchShard,
  type WordList,
} from '../query/search-format.ts'
import type { Language } from '../query/stemmers.ts'
import { findWordsAndPaths } from '../query/words.ts'
import { type AddChunk, encodeDeltas } from './build-index.ts'
import { splitIntoChunks } from './split-into-chunks.ts'
import { type Span, sumBeginnings, type WeighedUses, writeImpacts } from './sum-beginnings.ts'
import { buildFamilies, foldedStopWords } from './word-families.ts'

/** The number of pairs of a word and a row in a chunk. */
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
  /** Adds the texts of a row, in the order of the places, and their language, where that is one with known stems. */
  add(row: number, texts: readonly string[], language: string | undefined): void
  /** Builds the chunks and gives the head that leads to them. */
  finish(count: number, addChunk: AddChunk): SearchHead
}

/** The rows of a word: for each use its row, its place, and how often. */
interface Uses {
  readonly rows: number[]
  readonly places: number[]
  readonly counts: number[]
}

/** The settings of an index of words. */
export interface SearchSettings {
  readonly places: readonly SearchedPlace[]
  /** Groups of words that stand for each other. */
  readonly synonyms: readonly (readonly string[])[]
  /** What is known of the languages of the texts. */
  readonly languages: ReadonlyMap<string, Language>
}

/** Makes a builder of the index of words. */
export function createSearchBuilder({ places, synonyms, languages }: SearchSettings): SearchBuilder {
  /** By language the words, with a way in which each is written. */
  const written = new Map<string, Map<string, string>>()
  const words = new Map<string, Uses>()
  const lengths = places.map((): number[] => [])
  return {
    add(row, texts, language) {
      const ofLanguage =
        language === undefined ? undefined : getOrCreate(written, language, () => new Map<string, string>())
      for (const [place, text] of texts.entries()) {
        const counts = new Map<string, number>()
        const found = findWordsAndPaths(text)
        for (const { word, start, end } of found) {
          counts.set(word, (counts.get(word) ?? 0) + 1)
          if (ofLanguage && !ofLanguage.has(word)) ofLanguage.set(word, text.slice(start, end).toLowerCase())
        }
        const own = lengths[place] as number[]
        own[row] = found.length
        for (const [word, count] of counts) {
          const uses = getOrCreate(words, word, (): Uses => ({ rows: [], places: [], counts: [] }))
          uses.rows.push(row)
          uses.places.push(place)
          uses.counts.push(count)
        }
      }
    },
    finish(count, addChunk) {
      const averages = lengths.map((own) => own.reduce((sum, length) => sum + length, 0) / Math.max(1, count) || 1)
      const total = places.reduce((sum, { weight }) => sum + weight, 0)
      /** How much a word says of a row, from 1. */
      const impactOf = (place: number, row: number, uses: number): number => {
        const share = (lengths[place]?.[row] ?? 0) / (averages[place] ?? 1)
        const damping = SATURATION * (1 - LENGTH_SHARE + LENGTH_SHARE * share)
        return ((places[place]?.weight ?? 0) / total) * (uses / (uses + damping))
      }
      const sorted = [...words.keys()].sort()
      const weighed = sorted.map((word) => weigh(words.get(word) as Uses, { count, impactOf }))
      const shards = cutShards(weighed)
      const chunk = ([from, to]: Span): string => addChunk(createShard(sorted.slice(from, to), weighed.slice(from, to)))
      const beginnings = sumBeginnings({ words: sorted, uses: weighed, shards, count }).map((one) => ({
        words: one.beginnings,
        names: addChunk(one.shard).repeat(one.beginnings.length),
      }))
      const lists = createWordLists(sorted, addChunk)
      const families: Record<string, FamilyList> = {}
      const stopWords = new Set<string>()
      for (const [name, own] of written) {
        const language = languages.get(name) as Language
        const family = buildFamilies(own, language, addChunk)
        if (family) families[name] = family
        for (const word of foldedStopWords(language)) if (own.has(word)) stopWords.add(word)
      }
      return {
        count,
        places: places.map(({ path }) => path),
        first: shards.map(([from]) => sorted[from] as string),
        names: shards.map(chunk).join(''),
        beginnings: {
          words: beginnings.flatMap((one) => one.words),
          names: beginnings.map(({ names }) => names).join(''),
        },
        ...lists,
        ...(Object.keys(families).length > 0 ? { families } : {}),
        ...(stopWords.size > 0 ? { stopWords: [...stopWords].sort() } : {}),
        ...(synonyms.length > 0 ? { synonyms } : {}),
      }
    },
  }
}

/** Sums up what a word says of each row: a place in which it is rare counts more, as a title beside a body. */
function weigh(
  { rows, places, counts }: Uses,
  { count, impactOf }: { readonly count: number; impactOf(place: number, row: number, uses: number): number },
): WeighedUses {
  const byPlace = new Map<number, number>()
  for (const place of places) byPlace.set(place, (byPlace.get(place) ?? 0) + 1)
  const rarest = smallest(byPlace.values(), Number)
  const shares = new Map(Array.from(byPlace, ([place, own]) => [place, rarityOf(own, count) / rarityOf(rarest, count)]))
  const byRow = new Map<number, number>()
  for (const [at, row] of rows.entries()) {
    const place = places[at] as number
    const impact = impactOf(place, row, counts[at] as number) * (shares.get(place) as number)
    byRow.set(row, (byRow.get(row) ?? 0) + impact)
  }
  // Each word has steps of its own: what stands in bodies alone says little beside what stands in titles.
  const step = largest(byRow.values(), Number) / MOST_IMPACT
  const impacts = Array.from(byRow.values(), (impact) => Math.max(1, Math.round(impact / step)))
  return { rows: [...byRow.keys()], impacts, scale: step * MOST_IMPACT, rarest }
}

function cutShards(uses: readonly WeighedUses[]): Span[] {
  const offsets: number[] = []
  let size = SHARD_PAIRS
  for (const [at, { rows }] of uses.entries()) {
    if (size >= SHARD_PAIRS) {
      offsets.push(at)
      size = 0
    }
    size += rows.length
  }
  return offsets.map((from, at) => [from, offsets[at + 1] ?? uses.length])
}

function createShard(words: readonly string[], uses: readonly WeighedUses[]): SearchShard {
  return {
    words,
    counts: uses.map(({ rows }) => rows.length),
    scales: writeScales(uses),
    ...(uses.some(({ rows, rarest }) => rarest < rows.length) ? { rarest: uses.map(({ rarest }) => rarest) } : {}),
    rows: uses.flatMap(({ rows }) => encodeDeltas(rows)),
    impacts: writeImpacts(uses.flatMap(({ impacts }) => impacts)),
  }
}

/** The scales of words, a character each. */
const writeScales = (uses: readonly WeighedUses[]): string =>
  new TextDecoder().decode(
    Uint8Array.from(uses, ({ scale }) =>
      codeOf(Math.min(MOST_CODES - 1, Math.max(0, Math.round(Math.log(scale) / Math.log(SCALE_STEP))))),
    ),
  )

/** The number of words in a chunk. */
const LIST_WORDS = 4096

/** The lists of all words: one chunk where they are few, and else from their beginnings and from their ends. */
function createWordLists(words: readonly string[], addChunk: AddChunk): Pick<SearchHead, 'dictionary' | 'reversed'> {
  const dictionary = createWordList(words, addChunk)
  if (dictionary.first.length <= 1) return { dictionary }
  const turned = words.map((word) => word.split('').reverse().join('')).sort()
  return { dictionary, reversed: createWordList(turned, addChunk) }
}

function createWordList(words: readonly string[], addChunk: AddChunk): WordList {
  const chunks = words.length > 0 ? splitIntoChunks(words, LIST_WORDS) : [words]
  return { first: chunks.map(([word = '']) => word), names: chunks.map((chunk) => addChunk(chunk.join('\n'))).join('') }
}

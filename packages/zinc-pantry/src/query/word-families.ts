import type { ChunkLoader } from './field-index.ts'
import type { Internals } from './internals.ts'
import type { FamilyList, SearchHead, WordList } from './search-format.ts'
import type { Language } from './stemmers.ts'

/** The words that have a stem in common with one, and the compounds of which a part has it. */
export interface WordFamily {
  readonly words: ReadonlySet<string>
  readonly compounds: ReadonlySet<string>
}

/** Of sorted things in chunks those chunks in which what begins with a text can be. */
type ChunkFinder = (list: Pick<WordList, 'first' | 'names'>, beginning: string) => readonly string[]

/** Finds the families of words in all languages of an index. */
export interface FamilyFinder {
  /** The stems of a word as it is compared, and as it was written. */
  stemsOf(word: WrittenWord): Promise<readonly string[]>
  find(word: WrittenWord, load: ChunkLoader): Promise<WordFamily>
}

/** A word as it is compared, and in lower case as it was written. */
export interface WrittenWord {
  readonly word: string
  readonly written: string
}

/** Makes a finder of families. */
export function createFamilyFinder(
  families: NonNullable<SearchHead['families']>,
  chunksWith: ChunkFinder,
  getOrCreate: Internals['getOrCreate'],
): FamilyFinder {
  const languages = Object.keys(families)
  const chunks = new Map<string, Promise<ReadonlyMap<string, string>>>()
  const openChunk = (name: string, load: () => Promise<unknown>): Promise<ReadonlyMap<string, string>> =>
    getOrCreate(chunks, name, async () => readLines(String(await load())))
  const loaded = new Map<string, Promise<Language>>()
  const lineOf = async (language: string, stem: string, load: ChunkLoader): Promise<string | undefined> => {
    const { lines, first = [], names = '' } = families[language] as FamilyList
    if (lines !== undefined) return (await openChunk(language, async () => lines)).get(stem)
    // The chunk in which the stem itself stands is the first of those with what begins so.
    const [name] = chunksWith({ first, names }, stem)
    return name === undefined ? undefined : (await openChunk(name, () => load(name))).get(stem)
  }
  const stemsIn = async ({ word, written }: WrittenWord, language: string): Promise<readonly string[]> => {
    const { loadLanguage, stemsOf } = await import('./stemmers.ts')
    return [...stemsOf(word, written, await getOrCreate(loaded, language, () => loadLanguage(language)))]
  }
  return {
    stemsOf: async (word) => (await Promise.all(languages.map((language) => stemsIn(word, language)))).flat(),
    async find(word, load) {
      const found = await Promise.all(
        languages.map(async (language) => {
          const stems = await stemsIn(word, language)
          // The family of a stem that is its only word is not kept.
          return Promise.all(stems.map(async (stem) => (await lineOf(language, stem, load)) ?? `${stem}\t`))
        }),
      )
      const parts = found.flat().map((line) => line.split('\t').map((list) => list.split(' ').filter(Boolean)))
      return {
        words: new Set(parts.flatMap(([words = []]) => words)),
        compounds: new Set(parts.flatMap(([, compounds = []]) => compounds)),
      }
    },
  }
}

/** The lines of families by their stems. */
const readLines = (lines: string): Map<string, string> =>
  new Map(
    lines.split('\n').map((line) => {
      const tab = line.indexOf('\t')
      return [line.slice(0, tab), line.slice(tab + 1)]
    }),
  )

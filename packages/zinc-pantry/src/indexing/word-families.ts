import { getOrCreate } from '../query/get-or-create.ts'
import type { FamilyList } from '../query/search-format.ts'
import { isInflected, type Language, stemsOf } from '../query/stemmers.ts'
import { foldText } from '../query/words.ts'
import type { AddChunk } from './build-index.ts'
import { splitIntoChunks } from './split-into-chunks.ts'

/** Families whose lines are so long together that they have chunks of their own. */
const INLINE_LENGTH = 4096
const LINES_A_CHUNK = 1024
/** The number of letters of a compound's parts, at least. */
const SHORTEST_PART = 3
/** The number of letters of a compound, at least. */
const SHORTEST_COMPOUND = 7
/** What joins the parts of compounds in the languages that build them. */
const JOINTS = ['', 's', 'e', 'n', 'en', 'es', 'er', 'ens', 'u', 'a', '-']

/** The words of a language: as they are compared, with one way in which each is written, in lower case. */
export type WrittenWords = ReadonlyMap<string, string>

interface Family {
  readonly words: Set<string>
  readonly compounds: Set<string>
}

/** Brings together the words of a language that have a stem, or a part, in common. */
export function buildFamilies(written: WrittenWords, language: Language, addChunk: AddChunk): FamilyList | undefined {
  const families = new Map<string, Family>()
  const familyOf = (stem: string): Family =>
    getOrCreate(families, stem, () => ({ words: new Set<string>(), compounds: new Set<string>() }))
  for (const [word, text] of written)
    if (isInflected(word)) for (const stem of stemsOf(word, text, language)) familyOf(stem).words.add(word)
  if (language.hasCompounds) {
    const stops = foldedStopWords(language)
    // A part may have another ending than it has anywhere by itself.
    const parts = new Map<string, boolean>()
    const isPart = (word: string): boolean =>
      getOrCreate(
        parts,
        word,
        () => !stops.has(word) && [...stemsOf(word, word, language)].some((stem) => families.has(stem)),
      )
    const partsOf = createSplitter(isPart)
    for (const word of written.keys())
      for (const part of partsOf(word))
        for (const stem of stemsOf(part, written.get(part) ?? part, language)) {
          const { words, compounds } = familyOf(stem)
          if (!words.has(word)) compounds.add(word)
        }
  }
  const lines = [...families]
    .filter(([stem, { words, compounds }]) => compounds.size > 0 || words.size > 1 || !words.has(stem))
    .map(([stem, { words, compounds }]) =>
      [stem, [...words].sort().join(' '), [...compounds].sort().join(' ')].join('\t'),
    )
    .sort()
  return lines.length === 0 ? undefined : storeLines(lines, addChunk)
}

/** Words that say little by themselves, as they are compared. */
export const foldedStopWords = ({ stopWords }: Language): ReadonlySet<string> => new Set(stopWords.map(foldText))

/** Makes what takes words apart into those of which they are put together. */
function createSplitter(isPart: (word: string) => boolean): (word: string) => readonly string[] {
  const known = new Map<string, readonly string[]>()
  const partsOf = (word: string): readonly string[] =>
    word.length < SHORTEST_COMPOUND || !isInflected(word) ? [] : getOrCreate(known, word, () => split(word))
  const split = (word: string): readonly string[] => {
    for (let at = SHORTEST_PART; at <= word.length - SHORTEST_PART; at++) {
      const second = word.slice(at)
      if (!isPart(second)) continue
      for (const joint of JOINTS) {
        const first = word.slice(0, at - joint.length)
        if (first.length < SHORTEST_PART || !word.slice(0, at).endsWith(joint)) continue
        const parts = [...(isPart(first) ? [first] : []), ...partsOf(first)]
        if (parts.length > 0) return [...parts, second, ...partsOf(second)]
      }
    }
    return []
  }
  return partsOf
}

function storeLines(lines: readonly string[], addChunk: AddChunk): FamilyList {
  const all = lines.join('\n')
  if (all.length <= INLINE_LENGTH) return { lines: all }
  const chunks = splitIntoChunks(lines, LINES_A_CHUNK)
  return {
    first: chunks.map(([line = '']) => line.slice(0, line.indexOf('\t'))),
    names: chunks.map((own) => addChunk(own.join('\n'))).join(''),
  }
}

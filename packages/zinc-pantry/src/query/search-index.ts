import type { ChunkLoader } from './field-index.ts'
import type { Internals } from './internals.ts'
import { findNearWords, forgivenIn } from './near-words.ts'
import type { PostingList } from './posting-list.ts'
import type { Table } from './run.ts'
import {
  MOST_IMPACT,
  nearnessOf,
  rarityOf,
  SCALE_STEP,
  type SearchHead,
  type SearchShard,
  type WordList,
  type WordRelation,
} from './search-format.ts'
import { createFamilyFinder, type WrittenWord } from './word-families.ts'

/** The rows of a word, or of all words with a beginning, and how much it says of each. */
export interface WordUses {
  /** The word, or the beginning. */
  readonly word: string
  readonly isBeginning?: boolean
  readonly rows: PostingList
  /** The impacts of a chunk, of which those of the word begin at `start`. */
  readonly impacts: string
  readonly start: number
  /** The scale of an impact, and how much the word says because few have it. */
  readonly weight: number
  readonly rarity: number
  readonly relation: WordRelation
}

/** A word that is searched for. */
export interface AskedWord extends WrittenWord {
  /** The last one, which may still be typed. */
  readonly isLast: boolean
}

/** The index of words of a collection, its chunks loaded when they are needed. */
export interface SearchIndex {
  readonly head: SearchHead
  /**
   * The uses of the words that a word can mean, those of its family included; of the last one those that go on as well, since it
   * may still be typed.
   */
  find(asked: AskedWord, load: ChunkLoader): Promise<readonly WordUses[]>
  /** The stems of a word in all languages of the index. */
  stemsOf(asked: AskedWord): Promise<readonly string[]>
  /** The uses of a word itself, and of its family. */
  findFamily(asked: AskedWord, load: ChunkLoader): Promise<readonly WordUses[]>
  /** The words that begin so, and their rows. */
  complete(beginning: string, load: ChunkLoader): Promise<readonly Pick<WordUses, 'word' | 'rows'>[]>
  /** The words that a word with mistakes may stand for, the nearest first; none for one that is found. */
  correct(word: string, load: ChunkLoader): Promise<readonly string[]>
}

/** Opens the index of words; it is kept with the collection. */
export async function openSearch(table: Table): Promise<SearchIndex> {
  const { search, name, run } = table
  const { QueryError } = run.internals
  if (search === undefined) throw new QueryError(`${name} cannot be searched: its collection has no setting "search"`)
  return table.keep('search', async () => createSearchIndex((await table.load(search)) as SearchHead, run.internals))
}

/** The factors of words by how they follow from what was asked for. */
const MISTAKEN = 0.5
const SAME_STEM = 0.7
const COMPOUND = 0.4

function createSearchIndex(head: SearchHead, internals: Internals): SearchIndex {
  const { countBefore, nameAt, getOrCreate, numberOf } = internals
  const shards = new Map<string, Promise<OpenShard>>()
  const open = (name: string, load: ChunkLoader): Promise<OpenShard> =>
    getOrCreate(shards, name, async () => openShard((await load(name)) as SearchShard, internals))
  const lists = new Map<string, Promise<readonly string[]>>()
  /** Of sorted things in chunks, of which the first are given, those chunks in which what begins with a text can be. */
  const partsWith = ({ first, names }: Pick<WordList, 'first' | 'names'>, beginning: string): string[] => {
    const start = Math.max(0, countBefore(first, (other) => -(other <= beginning)) - 1)
    let end = Math.min(first.length, start + 1)
    while (end < first.length && first[end]?.startsWith(beginning)) end++
    return Array.from({ length: end - start }, (_, at) => nameAt(names, start + at))
  }

  const families = createFamilyFinder(head.families ?? {}, partsWith, getOrCreate)

  async function uses(
    word: string,
    { nearness, relation }: { readonly nearness: number; readonly relation: WordRelation },
    load: ChunkLoader,
  ): Promise<WordUses[]> {
    const [name] = partsWith(head, word)
    const shard = name === undefined ? undefined : await open(name, load)
    const at = shard?.words.indexOf(word) ?? -1
    return shard && at !== -1 ? [{ ...usesAt(shard, at, nearness), relation }] : []
  }

  /** The uses of the word itself and of those that begin with it: of many beginnings they are summed up already. */
  async function beginnings(word: string, load: ChunkLoader): Promise<WordUses[]> {
    const at = head.beginnings.words.indexOf(word)
    if (at !== -1) {
      const shard = await open(nameAt(head.beginnings.names, at), load)
      const { rows, impacts, scale = 1 } = shard
      return [
        {
          word,
          relation: 'beginning',
          isBeginning: true,
          rows,
          impacts,
          start: 0,
          weight: scale,
          rarity: 1,
        },
      ]
    }
    return wordsWith(word, load)
  }

  /** The uses of each word that begins so. */
  async function wordsWith(word: string, load: ChunkLoader): Promise<WordUses[]> {
    const opened = await Promise.all(partsWith(head, word).map((name) => open(name, load)))
    return opened.flatMap((shard) => {
      const found: WordUses[] = []
      const from = countBefore(shard.words, (other) => -(other < word))
      for (let number = from; shard.words[number]?.startsWith(word); number++)
        found.push({
          ...usesAt(shard, number, nearnessOf(shard.words[number] as string, word)),
          relation: shard.words[number] === word ? 'same' : 'beginning',
        })
      return found
    })
  }

  const usesAt = (
    { words, offsets, rows, impacts, scales, rarest }: OpenShard,
    at: number,
    nearness: number,
  ): Omit<WordUses, 'relation'> => {
    const [start, end] = [offsets[at] as number, offsets[at + 1] as number]
    const weight = (SCALE_STEP ** numberOf(scales.charCodeAt(at)) / MOST_IMPACT) * nearness
    const rarity = rarityOf(rarest?.[at] ?? end - start, head.count)
    return { word: words[at] as string, rows: rows.subarray(start, end), impacts, start, weight, rarity }
  }

  /** Words with mistakes in them; of many words those that begin or end as the word does. */
  async function near(word: string, most: number, load: ChunkLoader): Promise<Map<string, number>> {
    const { dictionary, reversed } = head
    const found = new Map<string, number>()
    const look = async (list: WordList, wanted: string, turn: (text: string) => string): Promise<void> => {
      const beginning = reversed ? wanted.slice(0, Math.floor((wanted.length - 1) / (most + 1))) : ''
      const loaded = partsWith(list, beginning).map((name) =>
        getOrCreate(lists, name, async () => String(await load(name)).split('\n')),
      )
      const words = (await Promise.all(loaded)).flat().filter((one) => one.startsWith(beginning))
      for (const { word: one, distance } of findNearWords(words, wanted, most)) found.set(turn(one), distance)
    }
    await Promise.all([
      look(dictionary, word, (text) => text),
      ...(reversed ? [look(reversed, reverse(word), reverse)] : []),
    ])
    return found
  }

  return {
    head,
    complete: wordsWith,
    async correct(word, load) {
      const most = forgivenIn(word)
      if (most === 0 || (await beginnings(word, load)).length > 0) return []
      const found = await near(word, most, load)
      return [...found].sort(([a, one], [b, other]) => one - other || (a < b ? -1 : 1)).map(([one]) => one)
    },
    findFamily,
    stemsOf: families.stemsOf,
    async find(asked, load) {
      const { word, isLast } = asked
      // The first letters of a word have no forms yet, and many words behind them.
      const hasForms = !isLast || word.length > 2
      const [family, begun] = await Promise.all([
        hasForms ? findFamily(asked, load) : [],
        isLast ? beginnings(word, load) : [],
      ])
      const found = isLast ? unite(begun, family) : family
      if (found.length > 0) return found
      const longer = isLast ? [] : await beginnings(word, load)
      const most = forgivenIn(word)
      if (longer.length > 0 || most === 0 || word.includes('/')) return longer
      const words = [...(await near(word, most, load))].sort(([a], [b]) => (a < b ? -1 : 1))
      const mistaken = words.map(([one, distance]) =>
        uses(one, { nearness: MISTAKEN / distance, relation: 'mistake' }, load),
      )
      return (await Promise.all(mistaken)).flat()
    },
  }

  async function findFamily(asked: AskedWord, load: ChunkLoader): Promise<WordUses[]> {
    const { word } = asked
    const { words, compounds } = await families.find(asked, load)
    const others = (list: Iterable<string>, nearness: number, relation: WordRelation) =>
      Array.from(list, (one) => (one === word ? [] : uses(one, { nearness, relation }, load)))
    const found = await Promise.all([
      uses(word, { nearness: 1, relation: 'same' }, load),
      ...others(words, SAME_STEM, 'stem'),
      ...others(compounds, COMPOUND, 'compound'),
    ])
    const all = found.flat()
    // A rare form of a frequent word says no more than the word itself.
    const isForm = ({ relation }: WordUses): boolean => relation === 'same' || relation === 'stem'
    const rarity = all.filter(isForm).reduce((least, one) => Math.min(least, one.rarity), Number.POSITIVE_INFINITY)
    return all.map((one) => (isForm(one) ? { ...one, rarity } : one))
  }
}

/** Uses of words that begin like one, and of others that are not among them. */
function unite(begun: readonly WordUses[], family: readonly WordUses[]): WordUses[] {
  const [summed] = begun.filter(({ isBeginning }) => isBeginning)
  const known = new Set(begun.map(({ word }) => word))
  return [...begun, ...family.filter(({ word }) => !known.has(word) && !(summed && word.startsWith(summed.word)))]
}

/** A text from its end, by code unit. */
const reverse = (text: string): string => text.split('').reverse().join('')

/** A shard, its rows ready. */
interface OpenShard {
  readonly words: readonly string[]
  /** Where the rows of each word start, and the end of the last. */
  readonly offsets: Int32Array
  readonly rows: PostingList
  readonly impacts: string
  readonly scales: string
  readonly scale?: number | undefined
  readonly rarest?: readonly number[] | undefined
}

function openShard(
  { words, counts, rows, impacts, scales, scale, rarest }: SearchShard,
  { readOffsets, decodeDeltas }: Internals,
): OpenShard {
  const offsets = readOffsets(words.length, counts)
  return { words, offsets, rows: decodeDeltas(rows, offsets), impacts, scales, scale, rarest }
}

import type { ChunkNames } from './catalogue.ts'
import type { PostingList } from './posting-list.ts'

/** The character of no impact; from here up to the largest none needs escaping. */
export const FIRST_IMPACT = 40
/** How much a word can say of a row, at most; the characters of impacts go up to it. */
export const MOST_IMPACT = 50

/** The head of the index of words, which a search loads first. */
export interface SearchHead {
  /** Rows of the collection. */
  readonly count: number
  /** The paths of what is searched, the body being `body`. */
  readonly places: readonly string[]
  /** The first word of each shard. */
  readonly first: readonly string[]
  /** The names of the shards, one behind the other. */
  readonly names: string
  /** Beginnings of so many words that their uses are summed up, each in a chunk of its own. */
  readonly beginnings: { readonly words: readonly string[]; readonly names: string }
  /** All words, for those with mistakes in them. */
  readonly dictionary: WordList
  /** The same words from their ends, where they have several chunks. */
  readonly reversed?: WordList
  /** The texts of bodies, for what is shown of them. */
  readonly texts?: ChunkNames
  /** By language the words that have a stem, or a part, in common. */
  readonly families?: { readonly [language: string]: FamilyList }
  /** Words that say little by themselves. */
  readonly stopWords?: readonly string[]
  /** Groups of words that stand for each other, as the site writes them. */
  readonly synonyms?: readonly (readonly string[])[]
}

/**
 * Families of words in the order of their stems, a line each: the stem, the words that have it, and the compounds of which a
 * part has it, the three apart by tabs and words by spaces. A stem that is the only word of its family has none.
 */
export interface FamilyList {
  /** The lines, where they are few. */
  readonly lines?: string
  /** The first stem of each chunk of lines, and the names of the chunks. */
  readonly first?: readonly string[]
  readonly names?: string
}

/** Words in order, in chunks with a line each. */
export interface WordList {
  /** The first word of each chunk. */
  readonly first: readonly string[]
  readonly names: string
}

/** The factor of a word of which only the beginning was asked for. */
const BEGINNING = 0.7

/** How near a word is to a beginning of it. */
export const nearnessOf = (word: string, beginning: string): number =>
  word === beginning ? 1 : (BEGINNING * beginning.length) / word.length

/** What an impact of a word counts, from one character to the next. */
export const SCALE_STEP = 0.93

/** How much a word says that so many of all rows have: inverse document frequency. */
export const rarityOf = (rows: number, count: number): number => Math.log(1 + count / rows)

/** Some words and the rows that have them; of a beginning, the only word, the rows of all words that begin so. */
export interface SearchShard {
  /** In order. */
  readonly words: readonly string[]
  /** How many rows have each. */
  readonly counts: readonly number[]
  /** A character a word: what an impact counts, in steps of {@link SCALE_STEP} down from 1. */
  readonly scales: string
  /** How many rows have each in the place in which it is rarest; left out where that is all that have it. */
  readonly rarest?: readonly number[]
  /** The rows of each word, as steps from one to the next. */
  readonly rows: readonly number[]
  /** A character a row: how much the word says of it. */
  readonly impacts: string
  /** Of a beginning, whose words have their scales in its impacts already: what an impact counts. */
  readonly scale?: number
}

/** How a word that was found follows from one that was searched for. */
export type WordRelation = 'same' | 'beginning' | 'stem' | 'compound' | 'synonym' | 'mistake'

/** A word that was found in an entry, and what it adds to the score. */
export interface FoundWord {
  /** The word that was searched for. */
  readonly asked: string
  /** The word that was found, without case and marks; of several with a beginning that beginning. */
  readonly word: string
  readonly relation: WordRelation
  readonly score: number
}

/** The uses of words that a search found. */
export interface SearchFound {
  /** Rows in order, not by score. */
  readonly rows: PostingList
  /** A score a row of the collection; 0 for those that were not found. */
  readonly scores: Float32Array
  /** True for a word, folded, that was found. */
  isFound(word: string): boolean
  /** The words of a row whose scores make up its own, the largest first. */
  explain(row: number): readonly FoundWord[]
  /** Of some rows those whose texts are as they must be; undefined where the index tells all. */
  readonly verify?: ((rows: PostingList) => Promise<PostingList>) | undefined
}

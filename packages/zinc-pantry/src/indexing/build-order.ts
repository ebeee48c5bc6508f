import type { StoredIndex } from '../query/catalogue.ts'
import type { Scalar } from '../query/condition.ts'
import { type AddChunk, buildIndex } from './build-index.ts'
import type { Postings } from './collect-values.ts'
import { gatherPostings } from './posting-lists.ts'

/** The source of an order. */
export interface OrderSource {
  readonly path: readonly string[]
  /** The language by whose rules texts are ordered; undefined for code units. */
  readonly collation: string | undefined
  /** The keys of all rows. */
  keys(): readonly (Scalar | null)[]
}

/** An order that is kept ready, and how large it is, in bytes. */
export interface BuiltOrder {
  readonly index: StoredIndex
  readonly sizeBytes: number
}

/** Builds an order of rows by their keys. */
export function buildOrder(
  keys: readonly (Scalar | null)[],
  { collation }: Pick<OrderSource, 'collation'>,
  addChunk: AddChunk,
): BuiltOrder {
  let sizeBytes = 0
  const index = buildIndex(postingsOf(keys, collation), keys.length, (content) => {
    sizeBytes += JSON.stringify(content).length
    return addChunk(content)
  })
  return { index, sizeBytes: sizeBytes + JSON.stringify(index).length }
}

/** The posting lists of keys; by the rules of a language, those of the ranks of the keys. */
function postingsOf(keys: readonly (Scalar | null)[], collation: string | undefined): Postings {
  const ranks = collation === undefined ? undefined : rankTexts(keys, collation)
  const gatherer = gatherPostings()
  for (let row = 0; row < keys.length; row++) {
    const key = keys[row] ?? null
    if (key !== null) gatherer.add(ranks?.get(key) ?? key, row)
  }
  return { isSingle: true, ...gatherer.finish() }
}

/** The ranks of texts by the rules of a language; those that are equal by them share one. */
function rankTexts(keys: readonly (Scalar | null)[], collation: string): ReadonlyMap<Scalar, number> {
  const { compare } = new Intl.Collator(collation)
  const texts = [...new Set(keys)].filter((key) => key !== null).sort((a, b) => compare(String(a), String(b)))
  const ranks = new Map<Scalar, number>()
  let rank = -1
  for (const [at, text] of texts.entries()) {
    if (at === 0 || compare(String(texts[at - 1]), String(text)) !== 0) rank++
    ranks.set(text, rank)
  }
  return ranks
}

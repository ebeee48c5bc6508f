import { addTo } from '../diagnostics/add-to.ts'
import type { StoredIndex } from '../query/catalogue.ts'
import type { Scalar } from '../query/condition.ts'
import { type AddChunk, buildIndex } from './build-index.ts'
import type { Postings } from './collect-values.ts'

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
  { path, collation }: Pick<OrderSource, 'path' | 'collation'>,
  addChunk: AddChunk,
): BuiltOrder {
  let sizeBytes = 0
  const index = buildIndex(postingsOf(keys, path.join('.'), collation), keys.length, (content) => {
    sizeBytes += JSON.stringify(content).length
    return addChunk(content)
  })
  return { index, sizeBytes: sizeBytes + JSON.stringify(index).length }
}

/** The posting lists of keys; by the rules of a language, those of the ranks of the keys. */
function postingsOf(keys: readonly (Scalar | null)[], path: string, collation: string | undefined): Postings {
  const rows = new Map<Scalar, number[]>()
  for (const [row, key] of keys.entries()) if (key !== null) addTo(rows, key, row)
  if (collation === undefined) return { path, isSingle: true, rows }
  const { compare } = new Intl.Collator(collation)
  const texts = [...rows.keys()].sort((a, b) => compare(String(a), String(b)))
  const ranked = new Map<Scalar, number[]>()
  let rank = -1
  for (const [at, text] of texts.entries()) {
    if (at === 0 || compare(String(texts[at - 1]), String(text)) !== 0) rank++
    ranked.set(rank, [...(ranked.get(rank) ?? []), ...(rows.get(text) ?? [])])
  }
  for (const own of ranked.values()) own.sort((a, b) => a - b)
  return { path, isSingle: true, rows: ranked }
}

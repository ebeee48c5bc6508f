import type { SearchHead } from '../query/search-format.ts'
import { type AddChunk, listChunks } from './build-index.ts'
import { createSearchBuilder, type SearchSettings } from './build-search.ts'

/** The number of texts of bodies that have a chunk of their own. */
const TEXTS_A_CHUNK = 16

/** The source of full-text search. */
export interface SearchSource extends SearchSettings {
  readonly count: number
  /** The texts of a row, in the order of the places. */
  texts(row: number): readonly string[]
  /** The language of a row, where that is one with known stems. */
  languageOf(row: number): string | undefined
}

/** Builds the index of words, and keeps the texts of bodies for what is shown of them. */
export function buildSearch({ count, texts, languageOf, ...settings }: SearchSource, addChunk: AddChunk): SearchHead {
  const builder = createSearchBuilder(settings)
  const body = settings.places.findIndex(({ path }) => path === 'body')
  const names: string[] = []
  let chunk: string[] = []
  for (let row = 0; row < count; row++) {
    const own = texts(row)
    builder.add(row, own, languageOf(row))
    if (body === -1) continue
    chunk.push(own[body] ?? '')
    if (chunk.length < TEXTS_A_CHUNK && row < count - 1) continue
    names.push(addChunk(chunk))
    chunk = []
  }
  const head = builder.finish(count, addChunk)
  return body === -1 ? head : { ...head, texts: listChunks(names, TEXTS_A_CHUNK, addChunk) }
}

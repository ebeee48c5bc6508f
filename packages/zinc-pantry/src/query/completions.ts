import type { Asked, LazyResult } from './lazy-results.ts'
import { openSearch } from './search-index.ts'
import { findWords } from './words.ts'

/** Opens the words of a collection, for a new run. */
async function openWords(open: Asked['open']) {
  const table = await open()
  return { table, load: table.load, index: await openSearch(table) }
}

/** The words that the last word of a text may become, with the numbers of entries that have them. */
export const completions: LazyResult<'completions'> = async ({ site, settings, open }, text, { limit = 10 } = {}) => {
  const { checkCount, markRows, matchRows } = site.internals
  checkCount('limit of completions', limit, 1)
  const last = findWords(text).at(-1)
  // What is behind a space is a word of its own, of which nothing is typed yet.
  if (!last || last.end < text.length) return []
  const { table, index, load } = await openWords(open)
  const { rows } = await matchRows(table, settings)
  const marks = markRows(rows, table.count)
  const counted = (await index.complete(last.word, load)).map(({ word, rows: own }) => ({
    text: text.slice(0, last.start) + word,
    word,
    count: own.reduce((count, row) => count + (marks[row] as number), 0),
  }))
  return counted
    .filter(({ count }) => count > 0)
    .sort((a, b) => b.count - a.count || (a.word < b.word ? -1 : 1))
    .slice(0, limit)
}

/** A text with the nearest words in place of those that are found nowhere; undefined where there is nothing to correct. */
export const correction: LazyResult<'correction'> = async ({ open }, text) => {
  const { index, load } = await openWords(open)
  let corrected = ''
  let at = 0
  for (const { word, start, end } of findWords(text)) {
    const [nearest] = await index.correct(word, load)
    corrected += text.slice(at, start) + (nearest ?? text.slice(start, end))
    at = end
  }
  corrected += text.slice(at)
  return corrected === text ? undefined : corrected
}

import type { LazyResult } from './lazy-results.ts'
import type { Match } from './query-types.ts'
import { openSearch } from './search-index.ts'
import { findWords } from './words.ts'

/** The entries that were found, with the words marked in pieces of their texts. */
export const hits: LazyResult<'hits'> = async ({ site, settings }, { limit = 10, length = 160 } = {}) => {
  const { checkCount, giveRows, QueryError, runRows } = site.internals
  checkCount('length', length, 1)
  if (settings.search === undefined) throw new QueryError('Hits are those of a search: say search(…) before')
  const found = await runRows(site, { ...settings, limit: settings.limit ?? limit })
  const { table, rows, scores, isFound = () => false, explain = () => [] } = found
  const { head } = await openSearch(table)
  const given = await giveRows(table, rows, settings.spec)
  const { textsAt } = await import('./search-texts.ts')
  const columns = await textsAt(table, head.places, { rows, head })
  return Array.from(rows, (row, at) => ({
    entry: given[at],
    score: scores?.[row] ?? 0,
    words: explain(row),
    matches: head.places.flatMap((path, place) => {
      const pieces = cutPieces(columns[place]?.[at] ?? '', isFound, length)
      return pieces.some(({ isMatch }) => isMatch) ? [{ path, pieces }] : []
    }),
  }))
}

/** The range of a text with the most words in it, cut at the words. */
function cutPieces(text: string, isFound: (word: string) => boolean, length: number): Match['pieces'] {
  const found = findWords(text).filter(({ word }) => isFound(word))
  let best = 0
  let most = 0
  for (const [at, { start }] of found.entries()) {
    const count = found.slice(at).filter(({ end }) => end <= start + length).length
    if (count > most) {
      most = count
      best = at
    }
  }
  const first = found[best]?.start ?? 0
  // A little before the first word, from the beginning of a word.
  const lead = Math.max(0, first - Math.floor(length / 4))
  const from = lead === 0 ? 0 : text.indexOf(' ', lead - 1) + 1 || lead
  const stop = Math.min(text.length, from + length)
  const space = text.lastIndexOf(' ', stop)
  const to = stop === text.length || space <= first ? Math.max(stop, found[best]?.end ?? 0) : space
  const pieces: { text: string; isMatch: boolean }[] = []
  let at = from
  let before = from > 0 ? '… ' : ''
  const add = (end: number, isMatch: boolean, behind = ''): void => {
    const piece = before + text.slice(at, end) + behind
    // What was left out is said beside the text, not in a word that is marked.
    if (isMatch && before !== '') pieces.push({ text: before, isMatch: false })
    if (piece !== '') pieces.push({ text: isMatch ? text.slice(at, end) : piece, isMatch })
    before = ''
    at = Math.max(at, end)
  }
  for (const { start, end } of found) {
    if (start < at || end > to) continue
    if (start > at) add(start, false)
    add(end, true)
  }
  add(to, false, to < text.length ? ' …' : '')
  return pieces
}

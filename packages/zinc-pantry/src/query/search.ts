import type { ConditionTree } from './condition.ts'
import type { PostingList } from './posting-list.ts'
import type { Matched } from './query-request.ts'
import type { Table } from './run.ts'
import { FIRST_IMPACT, type SearchFound } from './search-format.ts'
import { openSearch } from './search-index.ts'
import { findWords } from './words.ts'

/** Of some rows those that have the words of a text. */
export async function matchWords(table: Table, text: string, among: PostingList): Promise<Matched> {
  const { run, name, count } = table
  // Several questions of one query, such as facets, search once.
  run.searched ??= searchRows(table, text)
  const found = await run.searched
  const part: ConditionTree = { kind: 'test', path: ['search'], operator: 'hasWords', values: [text] }
  run.steps.push({ part, index: `${name}.search`, rows: found.rows.length })
  const marks = run.internals.markRows(among, count)
  const rows = found.rows.filter((row) => marks[row])
  return { ...found, rows, rank: (wanted) => orderByScore(rows, found.scores, wanted) }
}

/** Finds the rows that have the words of a text, with their endings left out or with mistakes in them. */
async function searchRows(table: Table, text: string): Promise<SearchFound> {
  const index = await openSearch(table)
  const load = (name: string): Promise<unknown> => table.loadChunk(name, table.run.read)
  const scores = new Float32Array(table.count)
  const matched = new Uint8Array(table.count)
  const words = new Set<string>()
  const beginnings = new Set<string>()
  const asked = [...new Set(findWords(text).map(({ word }) => word))]
  for (const [at, one] of asked.entries()) {
    const seen = new Uint8Array(table.count)
    for (const { word, isBeginning, rows, impacts, start, weight } of await index.find(
      one,
      at === asked.length - 1,
      load,
    )) {
      ;(isBeginning ? beginnings : words).add(word)
      for (let use = 0; use < rows.length; use++) {
        const row = rows[use] as number
        scores[row] = (scores[row] as number) + weight * (impacts.charCodeAt(start + use) - FIRST_IMPACT)
        if (!seen[row]) {
          seen[row] = 1
          matched[row] = (matched[row] as number) + 1
        }
      }
    }
  }
  const isFound = (word: string): boolean =>
    words.has(word) || [...beginnings].some((beginning) => word.startsWith(beginning))
  return { rows: rank(scores, matched, asked.length), scores, isFound }
}

/** The rows that were found. Those that have more of the words stand above those that have fewer. */
function rank(scores: Float32Array, matched: Uint8Array, asked: number): PostingList {
  const rows: number[] = []
  for (let row = 0; row < matched.length; row++) {
    const count = matched[row] as number
    if (count === 0) continue
    rows.push(row)
    if (asked > 1) scores[row] = (scores[row] as number) * (count / asked) ** 2
  }
  return Int32Array.from(rows)
}

/** Rows by their score, the highest first, at least as many as are wanted. */
function orderByScore(rows: PostingList, scores: Float32Array, wanted: number | undefined): number[] {
  const compare = (a: number, b: number): number => (scores[b] as number) - (scores[a] as number) || a - b
  if (wanted === undefined || wanted * 4 > rows.length) return Array.from(rows).sort(compare)
  // Of many only the best are sorted: those in the highest steps of the scores that hold as many as are wanted.
  let highest = 0
  for (const row of rows) highest = Math.max(highest, scores[row] as number)
  const stepOf = (row: number): number => Math.floor(((scores[row] as number) / highest) * STEPS)
  const sizes = new Uint32Array(STEPS + 1)
  for (const row of rows) sizes[stepOf(row)] = (sizes[stepOf(row)] as number) + 1
  let step = STEPS
  for (let size = sizes[step] as number; size < wanted && step > 0; size += sizes[step] as number) step--
  return Array.from(rows.filter((row) => stepOf(row) >= step)).sort(compare)
}

const STEPS = 1023

import type { ConditionTree } from './condition.ts'
import type { PostingList } from './posting-list.ts'
import type { Matched } from './query-request.ts'
import type { Table } from './run.ts'
import { FIRST_IMPACT, type SearchFound, type SearchHead } from './search-format.ts'
import { openSearch } from './search-index.ts'
import { hasSigns, readSearchTerms, type SearchTerm } from './search-terms.ts'
import { wordsOf } from './words.ts'

/** Of some rows those that have the words of a text. */
export async function matchWords(table: Table, text: string, among: PostingList): Promise<Matched> {
  const { run, name, count } = table
  // Several questions of one query, such as facets, search once.
  run.searched ??= searchRows(table, text)
  const found = await run.searched
  const part: ConditionTree = { kind: 'test', path: ['search'], operator: 'hasWords', values: [text] }
  run.steps.push({ part, index: `${name}.search`, rows: found.rows.length })
  const marks = run.internals.markRows(among, count)
  const candidates = found.rows.filter((row) => marks[row])
  const rows = found.verify ? await found.verify(candidates) : candidates
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
  const terms = hasSigns(text) ? readSearchTerms(text, index.head.places) : undefined
  const wanted = terms ? terms.flatMap(({ need, text: own }) => (need === 'not' ? [] : [own])).join(' ') : text
  const asked = [...new Set(wordsOf(wanted))]
  // A word that must be there is no beginning of another.
  const isTyped = terms === undefined || terms.at(-1)?.isOpen === true
  for (const [at, one] of asked.entries()) {
    const seen = new Uint8Array(table.count)
    for (const { word, isBeginning, rows, impacts, start, weight } of await index.find(
      one,
      isTyped && at === asked.length - 1,
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
  const rows =
    asked.length === 0 && terms ? table.run.internals.allRows(table.count) : rank(scores, matched, asked.length)
  const isPlain = terms === undefined || terms.every(({ need }) => need === 'may')
  const verify = isPlain ? undefined : await createVerifier(table, index.head, terms)
  return { rows, scores, isFound, verify }
}

/** Makes what takes of some rows those whose texts have what they must, and nothing that they must not. */
async function createVerifier(
  table: Table,
  head: SearchHead,
  terms: readonly SearchTerm[],
): Promise<(rows: PostingList) => Promise<PostingList>> {
  const { textsAt } = await import('./search-texts.ts')
  const strict = terms.flatMap((term) => (term.need === 'may' ? [] : [{ ...term, phrase: wordsOf(term.text) }]))
  const places = strict.some(({ place }) => place === undefined)
    ? head.places
    : [...new Set(strict.flatMap(({ place }) => place ?? []))]
  return async (rows) => {
    const texts = await textsAt(table, places, { rows, head })
    const words = texts.map((own) => own.map(wordsOf))
    const has = ({ phrase, place, isOpen }: (typeof strict)[number], at: number): boolean =>
      places.some(
        (one, number) =>
          (place === undefined || place === one) && hasInOrder(words[number]?.[at] ?? [], phrase, isOpen),
      )
    return rows.filter((_, at) => strict.every((term) => has(term, at) === (term.need === 'must')))
  }
}

/** True where words stand beside each other in a text; the last may go on where it is still typed. */
const hasInOrder = (words: readonly string[], phrase: readonly string[], isOpen: boolean): boolean =>
  phrase.length === 0 ||
  words.some((_, start) =>
    phrase.every((word, at) => {
      const found = words[start + at]
      return found === word || (isOpen && at === phrase.length - 1 && found?.startsWith(word))
    }),
  )

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

import type { ConditionTree } from './condition.ts'
import type { PartLoader } from './field-index.ts'
import { findNearWords, forgivenIn } from './near-words.ts'
import type { RowSet } from './row-set.ts'
import type { Table } from './run.ts'
import type { Matched } from './run-query.ts'
import { FIRST_IMPACT, type SearchFound, type SearchHead, type SearchShard } from './search-format.ts'
import type { Tools } from './tools.ts'
import { findWords } from './words.ts'

/** A word that is looked for, and how near it is to what was asked. */
interface WantedWord {
  readonly word: string
  readonly nearness: number
}

/** So much less counts a word of which only the beginning was asked for, and one with mistakes. */
const BEGINNING = 0.7
const MISTAKEN = 0.5
/** So many words with the same beginning are looked for. */
const MOST_BEGINNINGS = 100
/** In so many parts of the index. */
const MOST_SHARDS = 6

/** Of some rows those that have the words of a text. */
export async function matchWords(table: Table, text: string, among: RowSet): Promise<Matched> {
  const { run, name, count } = table
  // Several questions of one query, such as facets, search once.
  run.searched ??= searchRows(table, text)
  const found = await run.searched
  const part: ConditionTree = { kind: 'test', path: ['search'], operator: 'hasWords', values: [text] }
  run.steps.push({ part, index: `${name}.search`, rows: found.rows.length })
  const marks = run.tools.markRows(among, count)
  const rows = found.rows.filter((row) => marks[row])
  return { ...found, rows, rank: (wanted) => orderByScore(rows, found.scores, wanted) }
}

/** Finds the rows that have the words of a text, with their endings left out or with mistakes in them. */
async function searchRows(table: Table, text: string): Promise<SearchFound> {
  const index = await openSearch(table)
  const load = (name: string): Promise<unknown> => table.loadPart(name, table.run.read)
  const scores = new Float32Array(table.count)
  const matched = new Uint8Array(table.count)
  const words = new Set<string>()
  const asked = [...new Set(findWords(text).map(({ word }) => word))]
  for (const [at, one] of asked.entries()) {
    const seen = new Uint8Array(table.count)
    for (const { word, nearness } of await index.expand(one, at === asked.length - 1, load)) {
      const uses = await index.find(word, load)
      if (!uses) continue
      words.add(word)
      const rarity = Math.log(1 + table.count / uses.rows.length) * nearness
      for (let use = 0; use < uses.rows.length; use++) {
        const row = uses.rows[use] as number
        scores[row] = (scores[row] as number) + rarity * (uses.impacts.charCodeAt(uses.start + use) - FIRST_IMPACT)
        if (!seen[row]) {
          seen[row] = 1
          matched[row] = (matched[row] as number) + 1
        }
      }
    }
  }
  return { rows: rank(scores, matched, asked.length), scores, words }
}

/** The rows that were found. Those that have more of the words stand above those that have fewer. */
function rank(scores: Float32Array, matched: Uint8Array, asked: number): RowSet {
  const rows: number[] = []
  for (let row = 0; row < matched.length; row++) {
    const count = matched[row] as number
    if (count === 0) continue
    rows.push(row)
    if (asked > 1) scores[row] = (scores[row] as number) * (count / asked) ** 2
  }
  return Int32Array.from(rows)
}

interface WordUses {
  readonly rows: RowSet
  /** The impacts of the shard, of which those of the word begin at `start`. */
  readonly impacts: string
  readonly start: number
}

/** The index of words of a collection, its parts loaded when they are needed. */
interface SearchIndex {
  readonly head: SearchHead
  /** The words that a word can mean; of the last one those that go on as well, since it may still be typed. */
  expand(word: string, isLast: boolean, load: PartLoader): Promise<readonly WantedWord[]>
  find(word: string, load: PartLoader): Promise<WordUses | undefined>
}

/** Opens the index of words; it is kept with the collection. */
export async function openSearch(table: Table): Promise<SearchIndex> {
  const { search, name, run } = table
  const { QueryError } = run.tools
  if (search === undefined) throw new QueryError(`${name} cannot be searched: its collection has no setting "search"`)
  return table.keep('search', async () =>
    createSearchIndex((await table.loadPart(search, run.read)) as SearchHead, run.tools),
  )
}

function createSearchIndex(head: SearchHead, tools: Tools): SearchIndex {
  const { countBefore, nameAt, remember } = tools
  const { first, names } = head
  const shards = new Map<number, Promise<OpenShard>>()
  let dictionary: readonly string[] | undefined
  const shardFor = (word: string): number => Math.max(0, countBefore(first, (other) => -(other <= word)) - 1)
  const load = async (at: number, loadPart: PartLoader): Promise<OpenShard | undefined> => {
    if (first.length === 0) return undefined
    return remember(shards, at, async () => openShard((await loadPart(nameAt(names, at))) as SearchShard, tools))
  }
  return {
    head,
    async find(word, loadPart) {
      const shard = await load(shardFor(word), loadPart)
      const at = shard?.words.indexOf(word) ?? -1
      return shard && at !== -1 ? usesAt(shard, at) : undefined
    },
    async expand(word, isLast, loadPart) {
      if (!isLast && (await this.find(word, loadPart))) return [{ word, nearness: 1 }]
      const wanted = await beginnings(word, loadPart)
      if (wanted.length > 0) return wanted
      const most = forgivenIn(word)
      if (most === 0) return []
      dictionary ??= String(await loadPart(head.dictionary)).split('\n')
      return findNearWords(dictionary, word, most).map(({ word: near, distance }) => ({
        word: near,
        nearness: MISTAKEN / distance,
      }))
    },
  }

  /** The word itself and those that begin with it. */
  async function beginnings(word: string, loadPart: PartLoader): Promise<WantedWord[]> {
    const start = shardFor(word)
    let end = start + 1
    while (end < first.length && end < start + MOST_SHARDS && first[end]?.startsWith(word)) end++
    const numbers = Array.from({ length: end - start }, (_, at) => start + at)
    const opened = await Promise.all(numbers.map((at) => load(at, loadPart)))
    const words = opened.flatMap((shard) => {
      const all = shard?.words ?? []
      const from = countBefore(all, (other) => -(other < word))
      return all.slice(from, from + MOST_BEGINNINGS).filter((found) => found.startsWith(word))
    })
    return words.slice(0, MOST_BEGINNINGS).map((found) => {
      return { word: found, nearness: found === word ? 1 : (BEGINNING * word.length) / found.length }
    })
  }
}

/** A shard, its rows ready. */
interface OpenShard {
  readonly words: readonly string[]
  /** Where the rows of each word start, and the end of the last. */
  readonly starts: Int32Array
  readonly rows: RowSet
  readonly impacts: string
}

function openShard({ words, counts, rows, impacts }: SearchShard, { readStarts, readSteps }: Tools): OpenShard {
  const starts = readStarts(words.length, counts)
  return { words, starts, rows: readSteps(rows, starts), impacts }
}

const usesAt = ({ starts, rows, impacts }: OpenShard, at: number): WordUses => ({
  rows: rows.subarray(starts[at], starts[at + 1]),
  impacts,
  start: starts[at] as number,
})

/** Rows by their score, the highest first, at least as many as are wanted. */
function orderByScore(rows: RowSet, scores: Float32Array, wanted: number | undefined): number[] {
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

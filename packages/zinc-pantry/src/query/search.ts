import type { ConditionTree } from './condition.ts'
import type { PostingList } from './posting-list.ts'
import type { Matched } from './query-request.ts'
import type { Table } from './run.ts'
import { createScorer, creditOf } from './score-words.ts'
import type { SearchFound } from './search-format.ts'
import { type AskedWord, openSearch, type SearchIndex } from './search-index.ts'
import { hasSigns, readSearchTerms, type SearchTerm } from './search-terms.ts'
import { findWordsAndPaths, wordsOf } from './words.ts'

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
  const { head } = index
  const { load } = table
  const terms = hasSigns(text) ? readSearchTerms(text, head.places) : undefined
  const wanted = terms ? terms.flatMap(({ need, text: own }) => (need === 'not' ? [] : [own])).join(' ') : text
  // A word that must be there is no beginning of another, nor is one with a space behind it.
  const isTyped = terms === undefined ? !/\s$/.test(text) : terms.at(-1)?.isOpen === true
  const stopWords = new Set(head.stopWords)
  const all = readAsked(wanted, isTyped)
  const weighty = all.filter(({ word }) => !stopWords.has(word))
  const asked = weighty.length > 0 ? weighty : all
  const light = all.filter((one) => !asked.includes(one))
  const [found, lightly, synonyms] = await Promise.all([
    Promise.all(asked.map((one) => index.find(one, load))),
    Promise.all(light.map((one) => index.findFamily({ ...one, isLast: false }, load))),
    head.synonyms ? import('./synonyms.ts').then(({ findSynonyms }) => findSynonyms(asked, index, load)) : [],
  ])
  const scorer = createScorer(table.count, asked.length)
  const words = new Set<string>()
  const beginnings = new Set<string>()
  for (const [position, uses] of found.entries())
    for (const use of uses) {
      ;(use.isBeginning ? beginnings : words).add(use.word)
      scorer.add(creditOf(use, asked[position]?.word ?? ''), [position])
    }
  for (const { credit, positions } of synonyms) {
    for (const word of credit.word.split(' ')) words.add(word)
    scorer.add(credit, positions)
  }
  for (const [at, uses] of lightly.entries())
    for (const use of uses) scorer.addLight(creditOf(use, light[at]?.word ?? '', { factor: LIGHT }))
  const isFound = (word: string): boolean =>
    words.has(word) || [...beginnings].some((beginning) => word.startsWith(beginning))
  // Where nothing is asked for but what must not be there, all the others are found.
  const isAllBut = all.length === 0 && terms?.some(({ need, text: own }) => need === 'not' && wordsOf(own).length > 0)
  const rows = isAllBut ? table.run.internals.allRows(table.count) : scorer.finish()
  const isPlain = terms === undefined || terms.every(({ need }) => need === 'may')
  const verify = isPlain ? undefined : await createVerifier(table, index, terms)
  return { rows, scores: scorer.scores, isFound, explain: scorer.explain, verify }
}

/** How much words count that say little. */
const LIGHT = 0.6

/** The words of a text that is searched for, each once; the last may still be typed. */
function readAsked(text: string, isTyped: boolean): AskedWord[] {
  const found = findWordsAndPaths(text)
  const last = found.reduce((most, { end }) => Math.max(most, end), 0)
  const asked = found.map(({ word, start, end }): [string, AskedWord] => {
    const written = text.slice(start, end).toLowerCase()
    return [word, { word, written, isLast: isTyped && end === last }]
  })
  return [...new Map(asked).values()]
}

/** Makes what takes of some rows those whose texts have what they must, and nothing that they must not. */
async function createVerifier(
  table: Table,
  { head, findFamily }: SearchIndex,
  terms: readonly SearchTerm[],
): Promise<(rows: PostingList) => Promise<PostingList>> {
  const [{ textsAt }, { askedWords }] = await Promise.all([import('./search-texts.ts'), import('./synonyms.ts')])
  // What has no words, such as a dash, asks for nothing.
  const asked = terms.flatMap((term) => {
    const phrase = askedWords(term.text)
    return term.need === 'may' || phrase.length === 0 ? [] : [{ term, phrase }]
  })
  const strict = await Promise.all(
    asked.map(async ({ term, phrase }) => {
      const [only] = phrase
      // A word that must be there may be another one of its family; what is in quotes is meant as it is.
      const isFree = term.need === 'must' && !term.isPhrase && only && phrase.length === 1
      const family = isFree ? await findFamily(only, table.load) : []
      return {
        ...term,
        phrase: phrase.map(({ word }) => word),
        family: new Set(family.flatMap(({ word, relation }) => (relation === 'compound' ? [] : [word]))),
      }
    }),
  )
  const places = strict.some(({ place }) => place === undefined)
    ? head.places
    : [...new Set(strict.flatMap(({ place }) => place ?? []))]
  return async (rows) => {
    const texts = await textsAt(table, places, { rows, head })
    const words = texts.map((own) => own.map(wordsOf))
    const has = ({ phrase, place, isOpen, family }: (typeof strict)[number], at: number): boolean =>
      places.some((one, number) => {
        const own = words[number]?.[at] ?? []
        return (
          (place === undefined || place === one) &&
          (hasInOrder(own, phrase, isOpen) || own.some((word) => family.has(word)))
        )
      })
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

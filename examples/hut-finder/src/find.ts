import type { Condition, QueryPlan, ValueCount } from 'zinc-pantry/query'
import type { LogNote } from '#pantry'
import { notes } from '#pantry'
import type { State } from './state.ts'

/** A piece of a text, marked where a word was found in it. */
export interface Piece {
  readonly text: string
  readonly isMatch: boolean
}

/** What was found. */
export interface Found {
  readonly total: number
  readonly notes: readonly { readonly note: LogNote; readonly pieces: readonly Piece[] }[]
  readonly facets: {
    readonly hut: readonly ValueCount<string>[]
    readonly weather: readonly ValueCount<string>[]
    readonly stars: readonly ValueCount<number>[]
  }
  readonly plan: QueryPlan
}

export const PER_PAGE = 10

/** Answers what is asked. */
export async function find(state: State): Promise<Found> {
  const query = narrow(state)
  const sorted = order(query, state)
  const [total, page, facets, plan] = await Promise.all([
    query.count(),
    readPage(sorted, state),
    query.facets((note) => ({ hut: note.hut, weather: note.weather, stars: note.stars })),
    sorted.limit(PER_PAGE).plan(),
  ])
  return { total, notes: page, facets, plan }
}

type Asked = ReturnType<typeof notes.where>

function narrow({ words, hut, weather, stars, from, until, party }: State): Asked {
  let query: Asked = words.trim() === '' ? notes.offset(0) : notes.search(words)
  const add = (condition: (note: Parameters<Parameters<typeof notes.where>[0]>[0]) => Condition): void => {
    query = query.where(condition)
  }
  if (hut.length > 0) add((note) => note.hut.isOneOf(hut as never))
  if (weather.length > 0) add((note) => note.weather.isOneOf(weather as never))
  if (stars.length > 0) add((note) => note.stars.isOneOf(stars.map(Number)))
  if (from !== '') add((note) => note.on.atLeast(from))
  if (until !== '') add((note) => note.on.atMost(until))
  if (party !== '') add((note) => note.party.atLeast(Number(party)))
  return query
}

function order(query: Asked, { sort }: State): Asked {
  if (sort === 'newest') return query.sort((note) => note.on.descending())
  if (sort === 'oldest') return query.sort((note) => note.on.ascending())
  if (sort === 'stars') return query.sort((note) => [note.stars.descending(), note.on.descending()])
  return query
}

async function readPage(query: Asked, { words, page, sort }: State): Promise<Found['notes']> {
  const start = (page - 1) * PER_PAGE
  if (words.trim() !== '' && sort === 'near') {
    const hits = await query.hits({ limit: start + PER_PAGE, length: 240 })
    return hits.slice(start).map(({ entry, matches }) => {
      const pieces = matches.find(({ path }) => path === 'text')?.pieces
      return { note: entry, pieces: pieces ?? [{ text: entry.text, isMatch: false }] }
    })
  }
  const found = await query.offset(start).limit(PER_PAGE).toArray()
  return found.map((note) => ({ note, pieces: markWords(note.text, words) }))
}

/** Marks words that begin like those that were asked for. */
function markWords(text: string, words: string): Piece[] {
  const asked = words.toLowerCase().split(/\W+/).filter(Boolean)
  return text.split(/(\w+)/).map((piece) => ({
    text: piece,
    isMatch: asked.some((word) => piece.toLowerCase().startsWith(word)),
  }))
}

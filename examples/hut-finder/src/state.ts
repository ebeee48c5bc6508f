/** What is asked; the address of the page says it all, so that a link brings it back. */
export interface State {
  readonly words: string
  readonly hut: readonly string[]
  readonly weather: readonly string[]
  readonly stars: readonly string[]
  readonly from: string
  readonly until: string
  readonly party: string
  readonly sort: Sort
  /** From 1. */
  readonly page: number
}

export const SORTS = ['near', 'newest', 'oldest', 'stars'] as const
export type Sort = (typeof SORTS)[number]

const LISTS = ['hut', 'weather', 'stars'] as const
const TEXTS = ['words', 'from', 'until', 'party'] as const

/** Reads what an address asks; what makes no sense in it is passed over. */
export function readState(search: string): State {
  const given = new URLSearchParams(search)
  const text = (name: string): string => given.get(name) ?? ''
  const date = (name: string): string => (/^\d{4}-\d\d-\d\d$/.test(text(name)) ? text(name) : '')
  const sort = SORTS.find((one) => one === text('sort')) ?? 'near'
  return {
    words: text('words'),
    hut: given.getAll('hut'),
    weather: given.getAll('weather'),
    stars: given.getAll('stars').filter((stars) => /^[1-5]$/.test(stars)),
    from: date('from'),
    until: date('until'),
    party: /^\d{1,2}$/.test(text('party')) ? text('party') : '',
    sort,
    page: Math.max(1, Number.parseInt(text('page'), 10) || 1),
  }
}

/** Writes an address that asks the same. */
export function writeState(state: State): string {
  const search = new URLSearchParams()
  for (const name of TEXTS) if (state[name] !== '') search.set(name, state[name])
  for (const name of LISTS) for (const value of state[name]) search.append(name, value)
  if (state.sort !== 'near') search.set('sort', state.sort)
  if (state.page > 1) search.set('page', String(state.page))
  const text = search.toString()
  return text === '' ? '' : `?${text}`
}

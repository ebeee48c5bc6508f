import type { Entry } from '../validate/entry.ts'

/** An index of the entries of one collection, by the keys that references compare with. */
export interface Targets {
  /** The id of the entry whose id, slug or field is the text. */
  find(by: string, text: string): string | undefined
  /** Every text that leads somewhere. */
  keys(by: string): ReadonlyMap<string, string>
  add(entry: Entry): void
}

const keyOf = (entry: Entry, by: string): string | undefined => {
  if (by === 'id') return entry.id
  if (by === 'slug') return entry.slug
  const value = entry.data && Object.hasOwn(entry.data, by) ? entry.data[by] : undefined
  return value === undefined || value === null ? undefined : String(value)
}

/** Indexes entries by whatever references compare with; each index is made when it is first needed. */
export function createTargets(entries: readonly Entry[]): Targets {
  const all = [...entries]
  const indexes = new Map<string, Map<string, string>>()
  const indexOf = (by: string): Map<string, string> => {
    const known = indexes.get(by)
    if (known) return known
    const index = new Map<string, string>()
    for (const entry of all) enter(index, entry, by)
    indexes.set(by, index)
    return index
  }
  const enter = (index: Map<string, string>, entry: Entry, by: string): void => {
    const key = keyOf(entry, by)
    if (key !== undefined && !index.has(key)) index.set(key, entry.id)
  }
  return {
    find: (by, text) => indexOf(by).get(text),
    keys: indexOf,
    add(entry) {
      all.push(entry)
      for (const [by, index] of indexes) enter(index, entry, by)
    },
  }
}

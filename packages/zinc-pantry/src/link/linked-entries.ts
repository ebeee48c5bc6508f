import type { Entry, LinkedEntry } from '../validate/entry.ts'
import type { LinkedCollection } from './link-entry.ts'
import { versionKey } from './pages.ts'

interface LinkedSite {
  readonly collections: readonly LinkedCollection[]
}

/** All entries of a site. */
export const entriesOf = ({ collections }: LinkedSite): readonly LinkedEntry[] =>
  collections.flatMap(({ entries }) => entries)

/** Finds an entry by its collection, id and language. */
export type EntryFinder = (name: Pick<Entry, 'collection' | 'id' | 'locale'>) => LinkedEntry | undefined

/** Makes what finds the entries of a site. */
export function createFinder(site: LinkedSite): EntryFinder {
  const known = new Map(entriesOf(site).map((entry) => [versionKey(entry), entry]))
  return (name) => known.get(versionKey(name))
}

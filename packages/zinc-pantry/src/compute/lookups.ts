import type { LinkedCollection } from '../link/link-entry.ts'
import type { LinkedEntry } from '../validate/entry.ts'

/**
 * The lookups of functions, with what they found: an entry by its collection and its id, with a line break between, and
 * all entries of a collection by its name.
 */
export type Seen = ReadonlyMap<string, unknown>

/** The lookups of a function that reads nothing but its own entry. */
export const NOTHING_SEEN: Seen = new Map()

/** Looks entries up for functions of the configuration, and notes what each of them sees. */
export interface Lookups {
  collection(name: string): LinkedCollection | undefined
  /** The entry of an id. */
  find(collection: string, id: string): LinkedEntry | undefined
  /** All entries of a collection. */
  all(collection: string): readonly LinkedEntry[]
  /** The entries of a collection by their ids; this is not noted. */
  byId(collection: string): ReadonlyMap<string, LinkedEntry>
  /** Does something, and tells its lookups. */
  watch<Result>(action: () => Result): { readonly result: Result; readonly seen: Seen }
  /** Notes lookups that were made before, for whoever is watched. */
  note(seen: Seen): void
  /** Looks up the key of something that was seen; this is not noted. */
  lookUp(key: string): unknown
}

const NO_ENTRIES: readonly LinkedEntry[] = []
const NO_IDS: ReadonlyMap<string, LinkedEntry> = new Map()

/** Makes lookups over the entries of a site. */
export function createLookups(collections: readonly LinkedCollection[]): Lookups {
  const byName = new Map(collections.map((one) => [one.collection.name, one]))
  const indexes = new Map<string, ReadonlyMap<string, LinkedEntry>>()
  const frames: Map<string, unknown>[] = []
  const byId = (collection: string): ReadonlyMap<string, LinkedEntry> => {
    const known = indexes.get(collection)
    if (known) return known
    const entries = byName.get(collection)?.entries
    if (!entries) return NO_IDS
    const made = new Map(entries.map((entry) => [entry.id, entry]))
    indexes.set(collection, made)
    return made
  }
  const note = (seen: Seen): void => {
    const frame = frames.at(-1)
    if (frame) for (const [key, value] of seen) frame.set(key, value)
  }
  return {
    collection: (name) => byName.get(name),
    byId,
    note,
    find(collection, id) {
      const found = byId(collection).get(id)
      frames.at(-1)?.set(`${collection}\n${id}`, found)
      return found
    },
    all(collection) {
      const entries = byName.get(collection)?.entries
      frames.at(-1)?.set(collection, entries)
      return entries ?? NO_ENTRIES
    },
    watch(action) {
      const seen = new Map<string, unknown>()
      frames.push(seen)
      try {
        return { result: action(), seen }
      } finally {
        frames.pop()
        note(seen)
      }
    },
    lookUp(key) {
      const [collection = '', id] = key.split('\n', 2)
      return id === undefined ? byName.get(collection)?.entries : byId(collection).get(key.slice(collection.length + 1))
    },
  }
}

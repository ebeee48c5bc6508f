import type { Entry } from './entry.ts'

/** An entry from its parts; lists that are left out are empty. */
type EntryParts = Omit<Entry, EntryList> & { readonly [List in EntryList]?: Entry[List] | undefined }

/** The lists of an entry. */
export const ENTRY_LISTS = ['properties', 'references', 'links', 'texts', 'assets', 'privateAssets'] as const

type EntryList = (typeof ENTRY_LISTS)[number]

/**
 * Makes an entry. All have the same keys in the same order, so that they share one hidden class in V8 and hold their values in
 * themselves; keys behind a spread would be held in an object beside each, which is a fifth of the memory of a site of many entries.
 */
export const createEntry = (parts: EntryParts): Entry => ({
  id: parts.id,
  slug: parts.slug,
  collection: parts.collection,
  source: parts.source,
  data: parts.data,
  part: parts.part,
  body: parts.body,
  properties: kept(parts.properties),
  references: kept(parts.references),
  links: kept(parts.links),
  texts: kept(parts.texts),
  assets: kept(parts.assets),
  privateAssets: kept(parts.privateAssets),
  renditions: parts.renditions,
  locale: parts.locale,
  rank: parts.rank,
  locate: parts.locate,
  recordPath: parts.recordPath,
  idPath: parts.idPath,
  slugPath: parts.slugPath,
})

/** A list as entries keep it: most are empty, and all of these are one. */
const kept = <Item>(list: readonly Item[] = NONE): readonly Item[] => (list.length === 0 ? NONE : list)

const NONE: readonly never[] = []

import { createDiagnostic, type Diagnostic, type RelatedPlace } from '../diagnostics/diagnostic.ts'
import { describeValue } from '../diagnostics/words.ts'
import type { Step } from '../schema/check-run.ts'
import { mergedFields } from '../schema/fields/variant.ts'
import { allFields, type CollectionModel } from '../schema/model.ts'
import type { LinkedEntry } from '../validate/entry.ts'
import type { RowList } from '../values/row-list.ts'
import type { LinkedCollection } from './link-entry.ts'

/** The unique keys of an entry as text: its id, its slug, then each field or combination; undefined for no value. */
export type UniqueKeys = readonly (string | undefined)[]

/** Two entries with one key. */
export interface Duplicate {
  /** The number of the key. */
  readonly key: number
  /** The number of the collection, and of the entry in it. */
  readonly at: RowPlace
  readonly first: RowPlace
}

type RowPlace = readonly [collection: number, row: number]

const ID = 0
const SLUG = 1

/** Makes what gives the keys of the entries of a collection. */
export function createUniqueKeys(collection: CollectionModel): (entry: LinkedEntry) => UniqueKeys {
  const fields = uniqueFieldsOf(collection)
  return ({ id, slug, locale, data }) => {
    // Entries in different languages are the same thing, and may share what is unique otherwise.
    const within = (text: string): string =>
      locale === undefined && !text.includes('\n') ? text : `${locale ?? ''}\n${text}`
    const keyOf = (names: readonly string[]): string | undefined => {
      const values = names.map((name) => data?.[name] ?? null)
      // No value is like no other.
      return values.includes(null) ? undefined : within(JSON.stringify(values))
    }
    return [within(id), within(slug), ...fields.map(keyOf)]
  }
}

/** Single fields that are unique, and declared combinations. */
const uniqueFieldsOf = (collection: CollectionModel): readonly (readonly string[])[] => [
  ...Object.entries(mergedFields(allFields(collection))).flatMap(([name, { options }]) =>
    options.unique ? [[name]] : [],
  ),
  ...collection.unique,
]

/**
 * Finds what is there twice: in the keys of the entries of each collection, and among the slugs of those that share them,
 * which are told by their numbers.
 */
export function findDuplicates(
  keys: readonly RowList<UniqueKeys>[],
  sharedSlugs: readonly (readonly number[])[],
): readonly Duplicate[] {
  const duplicates: Duplicate[] = []
  const find = (key: number, collections: readonly number[]): void => {
    const lists = collections.map((collection) => keys[collection] ?? [])
    if (areAllDifferent(lists, key)) return
    const first = new Map<string, RowPlace>()
    for (const [at, list] of lists.entries())
      for (let row = 0; row < list.length; row++) {
        const collection = collections[at] as number
        const text = list.at(row)?.[key]
        if (text === undefined) continue
        const other = first.get(text)
        if (other) duplicates.push({ key, at: [collection, row], first: other })
        else first.set(text, [collection, row])
      }
  }
  for (const [collection, list] of keys.entries()) for (const key of (list.at(0) ?? []).keys()) find(key, [collection])
  for (const collections of sharedSlugs) find(SLUG, collections)
  return duplicates
}

/** True where no key is there twice, which is told without keeping the place of each. */
function areAllDifferent(lists: readonly RowList<UniqueKeys>[], key: number): boolean {
  const texts = new Set<string>()
  for (const list of lists)
    for (let row = 0; row < list.length; row++) {
      const text = list.at(row)?.[key]
      if (text === undefined) continue
      const { size } = texts
      if (texts.add(text).size === size) return false
    }
  return true
}

/** Describes what is there twice. Slugs that nothing is known to use may be, which is told all the same. */
export const describeDuplicates = (
  duplicates: readonly Duplicate[],
  collections: readonly LinkedCollection[],
  isUsed: (collection: string) => boolean,
): Diagnostic[] =>
  duplicates.flatMap(({ key, at, first: [collection, row] }) => {
    const own = collections[at[0]] as LinkedCollection
    const entry = own.entries[at[1]] as LinkedEntry
    const first = collections[collection]?.entries[row] as LinkedEntry
    const { name } = own.collection
    if (key === ID) {
      const parameters = { id: entry.id, collection: name }
      const related = firstUse(first, first.idPath)
      return [createDiagnostic('id-duplicate', entry.locate(entry.idPath), parameters, { related })]
    }
    if (key === SLUG) {
      // Two entries with one id have one slug too; that is told already.
      if (first.id === entry.id && first.collection === entry.collection) return []
      const parameters = { slug: entry.slug, id: entry.id, otherId: first.id }
      const related = firstUse(first, first.slugPath)
      const diagnostic = createDiagnostic('slug-duplicate', entry.locate(entry.slugPath), parameters, { related })
      return [isUsed(own.collection.name) ? diagnostic : { ...diagnostic, severity: 'warning' }]
    }
    const fields = uniqueFieldsOf(own.collection)[key - SLUG - 1] ?? []
    const path = fields.slice(0, 1)
    const value = fields.map((field) => describeValue(entry.data?.[field] ?? null)).join(' and ')
    const related = firstUse(first, path)
    return [createDiagnostic('value-duplicate', entry.locate(path), { fields, value, collection: name }, { related })]
  })

const firstUse = (entry: LinkedEntry, path: readonly Step[]): RelatedPlace[] => [
  { ...entry.locate(path), note: 'first-used' },
]

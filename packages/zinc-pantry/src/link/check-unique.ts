import { createDiagnostic, type Diagnostic, type RelatedPlace } from '../diagnostics/diagnostic.ts'
import { describeValue } from '../diagnostics/words.ts'
import type { Step } from '../schema/field.ts'
import { mergedFields } from '../schema/fields/variant.ts'
import { allFields, type CollectionModel } from '../schema/model.ts'
import type { LinkedEntry } from '../validate/entry.ts'
import type { LinkedCollection } from './link-entries.ts'

const firstUse = (entry: LinkedEntry, path: readonly Step[]): RelatedPlace[] => [
  { ...entry.locate(path), note: 'first-used' },
]

/** Entries in different languages are the same thing, and may share what is unique otherwise. */
const scoped = (entry: LinkedEntry, key: string): string => `${entry.locale ?? ''}\n${key}`

/** Collections in which nothing was wrong in the last run. */
export interface UniqueMemory {
  fine?: readonly LinkedCollection[] | undefined
}

/** Checks what must be unique: ids, slugs, fields and combinations of them. */
export function checkUnique(
  collections: readonly LinkedCollection[],
  sharedSlugs: readonly (readonly string[])[],
  memory?: UniqueMemory,
): Diagnostic[] {
  const { fine } = memory ?? {}
  const isSame = fine?.length === collections.length && collections.every((one, at) => isAlike(one, fine[at]))
  const diagnostics = isSame ? [] : checkAll(collections, sharedSlugs)
  if (memory) memory.fine = diagnostics.length === 0 ? collections : undefined
  return diagnostics
}

/** True where the same ids, slugs and unique values stand in the same places. */
function isAlike({ collection, entries }: LinkedCollection, last: LinkedCollection | undefined): boolean {
  if (last?.collection !== collection || last.entries.length !== entries.length) return false
  const fields = uniqueFieldsOf(collection)
  const keysOf = ({ id, slug, locale, data }: LinkedEntry): string =>
    JSON.stringify([id, slug, locale, fields.map((names) => names.map((name) => data?.[name]))])
  return entries.every((entry, at) => {
    const old = last.entries[at] as LinkedEntry
    return old === entry || keysOf(old) === keysOf(entry)
  })
}

function checkAll(collections: readonly LinkedCollection[], sharedSlugs: readonly (readonly string[])[]): Diagnostic[] {
  const diagnostics = collections.flatMap(({ collection, entries }) => [
    ...checkIds(collection, entries),
    ...checkSlugs(entries),
    ...uniqueFieldsOf(collection).flatMap((fields) => checkFields(fields, collection, entries)),
  ])
  for (const names of sharedSlugs) {
    const together = collections.filter(({ collection }) => names.includes(collection.name))
    diagnostics.push(...checkSlugs(together.flatMap(({ entries }) => entries)))
  }
  return diagnostics
}

/** Single fields that are unique, and declared combinations. */
const uniqueFieldsOf = (collection: CollectionModel): readonly (readonly string[])[] => [
  ...Object.entries(mergedFields(allFields(collection))).flatMap(([name, { options }]) =>
    options.unique ? [[name]] : [],
  ),
  ...collection.unique,
]

function checkIds({ name }: CollectionModel, entries: readonly LinkedEntry[]): Diagnostic[] {
  const byId = new Map<string, LinkedEntry>()
  return entries.flatMap((entry) => {
    const key = scoped(entry, entry.id)
    const first = byId.get(key)
    if (!first) {
      byId.set(key, entry)
      return []
    }
    const related = firstUse(first, first.idPath)
    return [
      createDiagnostic('id-duplicate', entry.locate(entry.idPath), { id: entry.id, collection: name }, { related }),
    ]
  })
}

function checkSlugs(entries: readonly LinkedEntry[]): Diagnostic[] {
  const bySlug = new Map<string, LinkedEntry>()
  return entries.flatMap((entry) => {
    const key = scoped(entry, entry.slug)
    const first = bySlug.get(key)
    if (!first) bySlug.set(key, entry)
    // Two entries with one id have one slug too; that is told already.
    if (!first || (first.id === entry.id && first.collection === entry.collection)) return []
    const parameters = { slug: entry.slug, id: entry.id, otherId: first.id }
    const related = firstUse(first, first.slugPath)
    return [createDiagnostic('slug-duplicate', entry.locate(entry.slugPath), parameters, { related })]
  })
}

function checkFields(
  fields: readonly string[],
  { name }: CollectionModel,
  entries: readonly LinkedEntry[],
): Diagnostic[] {
  const byValue = new Map<string, LinkedEntry>()
  const path = fields.slice(0, 1)
  return entries.flatMap((entry) => {
    const values = fields.map((field) => entry.data?.[field] ?? null)
    // No value is like no other.
    if (values.includes(null)) return []
    const key = scoped(entry, JSON.stringify(values))
    const first = byValue.get(key)
    if (!first) {
      byValue.set(key, entry)
      return []
    }
    const value = values.map(describeValue).join(' and ')
    const related = firstUse(first, path)
    return [createDiagnostic('value-duplicate', entry.locate(path), { fields, value, collection: name }, { related })]
  })
}

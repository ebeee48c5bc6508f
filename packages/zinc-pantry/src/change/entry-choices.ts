import type { LinkedCollection } from '../link/link-entry.ts'
import type { CollectionModel } from '../schema/model.ts'
import type { LinkedEntry } from '../validate/entry.ts'
import { labelKey } from './new-entry.ts'

/** An entry that a reference may lead to. */
export interface EntryChoice {
  /** What the reference has to say. */
  readonly value: string
  /** What people call the entry. */
  readonly label: string
  readonly entry: LinkedEntry
}

/** What people call an entry: the value of the field that is called so, or else its id. */
export function labelOf(entry: LinkedEntry, { fields }: Pick<CollectionModel, 'fields'>): string {
  const key = labelKey(fields)
  const name = key === undefined ? undefined : (entry.data ?? entry.part)?.[key]
  return typeof name === 'string' ? name : entry.id
}

/** The entries of a collection that a reference may lead to, each once. */
export function listEntryChoices(
  collections: readonly LinkedCollection[],
  target: string,
  { by, isOnly }: { readonly by: string; readonly isOnly: boolean },
): readonly EntryChoice[] {
  const found = collections.find(({ collection }) => collection.name === target)
  if (!found) return []
  const choices = new Map<string, EntryChoice>()
  for (const entry of found.entries) {
    const value = by === 'id' ? entry.id : by === 'slug' ? entry.slug : entry.data?.[by]
    if (typeof value !== 'string' || choices.has(value)) continue
    choices.set(value, { value: isOnly ? value : `${target}/${value}`, label: labelOf(entry, found.collection), entry })
  }
  return [...choices.values()]
}

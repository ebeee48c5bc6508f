import type { Refusal } from '../../change/change.ts'
import { type AllowedValues, findOtherValue } from '../../change/same-values.ts'
import type { ChangeSubject } from '../../change/subject.ts'
import { createFinder } from '../../link/linked-entries.ts'
import type { EntryName } from '../../link/pages.ts'
import { kindOf } from '../../schema/kinds.ts'
import type { CollectionModel } from '../../schema/model.ts'
import type { LinkedEntry } from '../../validate/entry.ts'
import type { SeenSite } from './planner.ts'

/** What a change may make of values. */
export interface AllowedChanges extends Pick<AllowedValues, 'mayBecome'> {
  /** The name that an entry has after the change. Default: that before it. */
  nameAfter?(entry: LinkedEntry): Pick<EntryName, 'collection' | 'id'>
  /** Fields of an entry that may have another value, beside computed ones. */
  fieldsOf(entry: LinkedEntry, collection: CollectionModel): readonly string[]
}

/** Finds a value that a change would touch without being asked to. */
export function findOtherValues(
  { collections }: ChangeSubject,
  seen: SeenSite,
  { mayBecome, nameAfter, fieldsOf }: AllowedChanges,
): Refusal | undefined {
  const find = createFinder(seen)
  for (const { collection, entries } of collections) {
    const computed = Object.entries(collection.fields).flatMap(([name, field]) =>
      kindOf(field).computed ? [name] : [],
    )
    const always = [...Object.keys(collection.derived), ...computed]
    for (const entry of entries) {
      // What references make is made anew of those that are left, as its label is of the first.
      if (entry.source.implicit) continue
      const now = find({ ...(nameAfter?.(entry) ?? entry), locale: entry.locale })
      const fields = new Set([...always, ...fieldsOf(entry, collection)])
      const path = now && findOtherValue(entry, now, { mayBecome, fields })
      if (path === undefined) continue
      return {
        refused: `${path} of ${collection.name}/${entry.id} would have another value`,
        help: 'Change it by hand',
      }
    }
  }
  return undefined
}

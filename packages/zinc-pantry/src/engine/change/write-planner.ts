import { createSources } from '../../change/source.ts'
import type { ChangeSubject } from '../../change/subject.ts'
import { type WantedContent, writeEntryContent } from '../../change/write-entry.ts'
import { entriesOf } from '../../link/linked-entries.ts'
import { qualifiedId } from '../../link/pages.ts'
import { mergedFields } from '../../schema/fields/variant.ts'
import type { LinkedEntry } from '../../validate/entry.ts'
import { readOptionsOf } from '../check-file.ts'
import { findOtherValues } from './find-other-values.ts'
import type { Planner } from './planner.ts'
import { refuseUnknown } from './target.ts'

/** An entry that is to hold something else: its record by the keys that it is written with, its body, or both. */
export interface WriteRequest extends WantedContent {
  readonly kind: 'write'
  readonly collection: string
  readonly id: string
  /** The language of the entry (BCP 47). Default: the one that it has. */
  readonly locale?: string | undefined
}

/** Plans the writing of an entry. */
export function createWritePlanner(request: WriteRequest): Planner {
  const { collection: name, id, locale } = request
  const isMeant = (entry: LinkedEntry): boolean =>
    entry.collection === name && entry.id === id && (locale === undefined || entry.locale === locale)
  return {
    plan(subject: ChangeSubject) {
      const entry = entriesOf(subject).find(isMeant)
      const collection = subject.model.collections.find((one) => one.name === name)
      if (!entry || !collection)
        return (
          refuseUnknown(subject, `${name}/${id}`) ?? {
            refused: `There is no entry ${qualifiedId({ collection: name, id })}`,
          }
        )
      const isWritten = !entry.source.implicit && collection.source === undefined
      const source = isWritten ? createSources(subject, readOptionsOf)(entry) : undefined
      return writeEntryContent(entry, source, { collection, model: subject.model, wanted: request })
    },
    refuse(subject, seen) {
      if (!entriesOf(seen).some(isMeant))
        return { refused: `${name}/${id} would have another id`, help: 'zinc-pantry rename changes it' }
      return findOtherValues(subject, seen, {
        mayBecome: () => false,
        fieldsOf: (entry, { fields }) => (isMeant(entry) ? Object.keys(mergedFields(fields)) : []),
      })
    },
  }
}

import { addTo } from '../diagnostics/add-to.ts'
import { appendAll } from '../diagnostics/append-all.ts'
import { type AddedRecord, appendRecords } from './append-records.ts'
import type { ChangeStep, Refusal } from './change.ts'
import { type PlannedEntry, writeEntry } from './new-entry.ts'
import { openSource, type ReadOptionsOf } from './source.ts'
import type { ChangeSubject } from './subject.ts'

/** The steps that write new entries, those of one file in one step. */
export function writeEntries(
  subject: ChangeSubject,
  planned: readonly PlannedEntry[],
  readOptionsOf: ReadOptionsOf,
): readonly ChangeStep[] | Refusal {
  const steps: ChangeStep[] = []
  const shared = new Map<string, PlannedEntry[]>()
  for (const one of planned) {
    const { place, collection } = one
    if (place.kind === 'records' && subject.files.includes(place.file)) {
      addTo(shared, place.file, one)
      continue
    }
    const own = writeEntry(subject, one, { body: undefined, readOptionsOf })
    if ('refused' in own) return own
    if (place.kind === 'records')
      return {
        refused: `There is no file ${place.file} yet`,
        help: `Make one entry first: zinc-pantry new ${collection.name}`,
      }
    appendAll(steps, own)
  }
  for (const [name, own] of shared) {
    const file = `${subject.model.content}/${name}`
    const [{ collection, place }] = own as [PlannedEntry]
    const source = openSource(subject, file, { collection, readOptionsOf })
    const isKeyed = place.kind === 'records' && place.holdsKeys === true
    const records = own.map(
      ({ skeleton, id }): AddedRecord => ({ ...skeleton, comments: new Map(), key: isKeyed ? id : undefined }),
    )
    const edit = source && appendRecords(source, place.kind === 'records' ? place.path : [], records)
    if (!edit) return { refused: `Records cannot be added to ${name} with certainty`, help: 'Add them by hand' }
    steps.push({ kind: 'edit', file, ...edit, reason: `${own.length} records are new` })
  }
  return steps
}

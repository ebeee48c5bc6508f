import { lineOf } from '../diagnostics/line-of.ts'
import { valueAt } from '../diagnostics/own-key.ts'
import type { ReadDocument } from '../read/document.ts'
import type { CollectionModel, Model } from '../schema/model.ts'
import { createWrittenPath } from '../schema/written-path.ts'
import type { LinkedEntry } from '../validate/entry.ts'
import type { ForeignRecord } from './import-records.ts'
import type { Meaning } from './map-headings.ts'
import type { PlannedValue } from './write-values.ts'

/** A record of somebody else for an entry that is there. */
export interface KnownRecord {
  readonly collection: CollectionModel
  readonly model: Pick<Model, 'blocks'>
  readonly record: ForeignRecord
  readonly meanings: ReadonlyMap<string, Meaning>
  /** The record by its keys as they are written, with the types of its fields. */
  readonly values: Readonly<Record<string, unknown>>
  /** What a query gives of the entry, by the names of its fields. */
  readonly given: ReadonlyMap<string, unknown> | undefined
  /** The file of the entry. */
  readonly document: ReadDocument
}

/** The values of an entry that is there that differ from what a query gives of it; empty ones change nothing. */
export function differingValues(
  entry: LinkedEntry,
  { collection, model, record, meanings, values, given, document }: KnownRecord,
): readonly PlannedValue[] {
  const writtenPath = createWrittenPath(collection.fields, model.blocks)
  return [...record.values].flatMap(([heading, value]): PlannedValue[] => {
    const meaning = meanings.get(heading)
    if (meaning?.kind !== 'field' || lineOf(value) === '') return []
    const [top = '', ...inner] = meaning.path
    if (given && lineOf(valueAt(given.get(top), inner)) === lineOf(value)) return []
    const own = writtenPath?.(meaning.path, undefined) ?? meaning.path
    const path = [...entry.recordPath, ...own]
    const fresh = valueAt(values, own)
    if (JSON.stringify(valueAt(document.value, path) ?? null) === JSON.stringify(fresh ?? null)) return []
    const words = `${meaning.path.join('.')} of ${collection.name}/${entry.id}`
    const byHand = { place: entry.locate([]), words: `${words} has to be written by hand` }
    return [{ path, value: fresh, reason: `${words} becomes ${JSON.stringify(fresh)}`, byHand }]
  })
}

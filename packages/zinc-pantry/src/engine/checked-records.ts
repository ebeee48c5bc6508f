import { isGroup } from '../diagnostics/own-key.ts'
import type { ReadResult } from '../read/document.ts'
import type { Entry } from '../validate/entry.ts'
import type { EntryRecord } from '../validate/split-records.ts'
import type { HeldDocument } from './held-document.ts'

/** The records of a file as they were checked last, so that of a large one only those are checked again that are others now. */
export interface CheckedRecords {
  /** Says all that they depend on beside the file. */
  readonly scope: string
  readonly hasLeadingZeros: boolean
  readonly records: readonly CheckedRecord[]
  /** Reads another text of the file, where that takes less than reading all of it. */
  readonly reread: ReadResult['reread'] | undefined
  /** The document that the places of all these entries are found in. */
  readonly held: HeldDocument
}

/** A record that was checked. */
export interface CheckedRecord {
  readonly record: EntryRecord
  /** Undefined where more than the value of the record counts, or where there was a problem. */
  readonly entry: Entry | undefined
}

/** The entry that the same record gave the last time, in the same place. */
export function findSameEntry({ value, path }: EntryRecord, last: CheckedRecord | undefined): Entry | undefined {
  if (!last?.entry || !isSameValue(path, last.record.path)) return undefined
  return isSameValue(value, last.record.value) ? last.entry : undefined
}

/** True for values that were read from texts that say the same, in the same order. */
export function isSameValue(one: unknown, other: unknown): boolean {
  if (Object.is(one, other)) return true
  if (Array.isArray(one))
    return Array.isArray(other) && one.length === other.length && one.every((item, at) => isSameValue(item, other[at]))
  if (!isGroup(one) || !isGroup(other) || Object.getPrototypeOf(one) !== Object.getPrototypeOf(other)) return false
  const [keys, others] = [Object.keys(one), Object.keys(other)]
  return (
    keys.length > 0 &&
    keys.length === others.length &&
    keys.every((key, at) => key === others[at] && isSameValue(one[key], other[key]))
  )
}

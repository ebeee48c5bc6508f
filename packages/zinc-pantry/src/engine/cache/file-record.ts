import type { ReadDocument } from '../../read/document.ts'
import type { Entry, EntryBody } from '../../validate/entry.ts'
import { createPlaceFinder } from '../../validate/locate-entry.ts'
import type { WrittenPaths } from '../../validate/written-paths.ts'
import type { FileResult } from '../check-file.ts'

/** The record of a file without problems. */
export interface FileRecord {
  readonly entries: readonly EntryRecord[]
  readonly droppedBody?: readonly [start: number, end: number]
  /** Its body, where it has one. */
  readonly body?: Omit<EntryBody, 'file'>
}

/** An entry without its places, and without the body that all entries of the file share. */
type EntryRecord = Omit<Entry, 'locate' | 'body' | 'data'> & { readonly data: Entry['data'] | null }

/** The surroundings of the restoration of a file. */
export interface Restoring {
  readonly file: string
  /** Makes what reads the file anew, for places, when it is asked. */
  createDocument(): () => ReadDocument
  readonly written: WrittenPaths
  restoreBody(record: NonNullable<FileRecord['body']>): EntryBody
}

/** Makes a record of a file, or undefined where something in it cannot be kept. */
export function createFileRecord({ entries, diagnostics, failed, droppedBody }: FileResult): FileRecord | undefined {
  if (failed || diagnostics.length > 0) return undefined
  const records = entries.map(recordEntry)
  if (records.some((record) => record === undefined)) return undefined
  const body = entries[0]?.body
  if (!isPlain(body?.summary.uses ?? null)) return undefined
  return {
    entries: records as EntryRecord[],
    ...(droppedBody ? { droppedBody } : {}),
    ...(body ? { body: withoutFile(body) } : {}),
  }
}

const withoutFile = ({ file: _, ...body }: EntryBody): Omit<EntryBody, 'file'> => body

function recordEntry(entry: Entry): EntryRecord | undefined {
  const { locate: _, body: __, data = null, ...plain } = entry
  return isPlain(data) && isPlain(plain.properties) ? { data, ...plain } : undefined
}

/** True for a value that JSON holds as it is. */
function isPlain(value: unknown): boolean {
  if (value === null || typeof value === 'string' || typeof value === 'boolean') return true
  if (typeof value === 'number') return Number.isFinite(value) && !Object.is(value, -0)
  if (typeof value !== 'object') return false
  if (Array.isArray(value)) return value.every(isPlain)
  const prototype: unknown = Object.getPrototypeOf(value)
  if (prototype !== Object.prototype && prototype !== null) return false
  for (const key of Object.keys(value)) if (!isPlain((value as Record<string, unknown>)[key])) return false
  return true
}

/** Makes the entries of a file again. */
export function restoreFile(record: FileRecord, restoring: Restoring): FileResult {
  const body = record.body && restoring.restoreBody(record.body)
  const document = restoring.createDocument()
  return {
    entries: record.entries.map((entry) => restoreEntry(entry, { ...restoring, document, body })),
    diagnostics: [],
    failed: false,
    ...(record.droppedBody ? { droppedBody: record.droppedBody } : {}),
  }
}

interface EntryRestoring extends Restoring {
  readonly document: () => ReadDocument
  readonly body: EntryBody | undefined
}

function restoreEntry(record: EntryRecord, { file, document, body, written }: EntryRestoring): Entry {
  const { data, locale, rank, ...plain } = record
  return {
    locale: locale ?? undefined,
    rank: rank ?? undefined,
    data: data ?? undefined,
    body,
    locate: createPlaceFinder(file, document, { recordPath: record.recordPath, body, written }),
    ...plain,
  }
}

import type { ReadDocument } from '../../read/document.ts'
import type { AssetAnswer } from '../../schema/asset.ts'
import { Pending } from '../../schema/pending.ts'
import type { Entry, EntryBody, Reference } from '../../validate/entry.ts'
import { createEntryLocator, partOf } from '../../validate/locate-entry.ts'
import type { FileResult } from '../check-file.ts'
import { type BodyKnowledge, RememberedBody } from './remembered-body.ts'

/** What is kept of a file without problems. */
export interface FileRecord {
  /** What its entries asked of files, and what the answers were. */
  readonly assets: readonly AskedAsset[]
  readonly entries: readonly EntryRecord[]
  readonly droppedBody?: readonly [start: number, end: number]
  /** Of its body, where it has one. */
  readonly body?: {
    readonly format: 'markdown' | 'mdx'
    readonly startOffset: number
    readonly linesAbove: number
    readonly known: BodyKnowledge
  }
}

/** A question for a file, and its answer. */
export interface AskedAsset {
  readonly path: string
  readonly from: string
  readonly answer: AssetAnswer
}

/** The parts of an entry that are plain data. */
type PlainParts = Pick<
  Entry,
  'id' | 'slug' | 'collection' | 'source' | 'assets' | 'privateAssets' | 'locale' | 'rank' | 'idPath' | 'slugPath'
>

interface EntryRecord extends PlainParts {
  readonly data: Entry['data'] | null
  readonly properties: Entry['properties']
  /** The last part is the number of what stands for its value in the data; null where the text does. */
  readonly references: readonly (Omit<Reference, 'pending'> & { readonly pending: number | null })[]
  readonly texts: readonly Pick<Entry['texts'][number], 'path' | 'text'>[]
  readonly recordPath: Entry['idPath']
}

/** What a file is restored with. */
export interface Restoring {
  readonly file: string
  /** Makes what reads the file anew, for places, when it is asked. */
  createDocument(): () => ReadDocument
  readBody(record: NonNullable<FileRecord['body']>): EntryBody
  readText(text: string): Entry['texts'][number]['parsed']
  /** Stands in data for values that are not known yet; no text of the file holds it. */
  readonly mark: string
}

/** Makes a record of a file, or undefined where something in it cannot be kept. */
export function createFileRecord(
  { entries, diagnostics, failed, droppedBody }: FileResult,
  { assets, mark }: { readonly assets: readonly AskedAsset[]; readonly mark: string },
): FileRecord | undefined {
  if (failed || diagnostics.length > 0) return undefined
  const records = entries.map((entry) => recordEntry(entry, mark))
  if (records.some((record) => record === undefined)) return undefined
  const body = entries[0]?.body
  return {
    assets,
    entries: records as EntryRecord[],
    ...(droppedBody ? { droppedBody } : {}),
    ...(body?.parsed instanceof RememberedBody ? { body: recordBody(body, body.parsed) } : {}),
  }
}

function recordBody(
  { format, startOffset, linesAbove }: EntryBody,
  parsed: RememberedBody,
): NonNullable<FileRecord['body']> {
  // What reads MDX is not there when a record of it is asked.
  if (format === 'mdx') parsed.learn()
  return { format, startOffset, linesAbove, known: parsed.known }
}

function recordEntry(entry: Entry, mark: string): EntryRecord | undefined {
  const { id, slug, collection, source, assets, privateAssets, locale, rank, idPath, slugPath, recordPath } = entry
  const { texts, references } = entry
  const pendings = references.flatMap(({ pending }) => pending ?? [])
  if (!isPlain(entry.data ?? null) || !isPlain(entry.properties)) return undefined
  const name = (value: unknown): unknown => (value instanceof Pending ? `${mark}${pendings.indexOf(value)}` : value)
  const plain = (value: unknown): unknown => (pendings.length === 0 ? value : replaceIn(value, name))
  return {
    ...{ id, slug, collection, source, assets, privateAssets, locale, rank, idPath, slugPath, recordPath },
    data: plain(entry.data ?? null) as EntryRecord['data'],
    properties: plain(entry.properties) as Entry['properties'],
    references: references.map(({ pending, ...rest }) => ({
      ...rest,
      pending: pending ? pendings.indexOf(pending) : null,
    })),
    texts: texts.map(({ path, text }) => ({ path, text })),
  }
}

/** True for a value that JSON holds as it is, what is pending in it aside. */
function isPlain(value: unknown): boolean {
  if (value === null || typeof value === 'string' || typeof value === 'boolean') return true
  if (typeof value === 'number') return Number.isFinite(value) && !Object.is(value, -0)
  if (typeof value !== 'object') return false
  if (Array.isArray(value)) return value.every(isPlain)
  if (value instanceof Pending) return true
  const prototype: unknown = Object.getPrototypeOf(value)
  if (prototype !== Object.prototype && prototype !== null) return false
  for (const key of Object.keys(value)) if (!isPlain((value as Record<string, unknown>)[key])) return false
  return true
}

/** A plain value in which other things stand for some of its values. */
function replaceIn(value: unknown, replace: (value: unknown) => unknown): unknown {
  const replaced = replace(value)
  if (replaced !== value) return replaced
  if (Array.isArray(value)) return value.map((item) => replaceIn(item, replace))
  if (typeof value !== 'object' || value === null) return value
  return Object.fromEntries(Object.entries(value).map(([key, inner]) => [key, replaceIn(inner, replace)]))
}

/** Makes the entries of a file again. */
export function restoreFile(record: FileRecord, restoring: Restoring): FileResult {
  const body = record.body && restoring.readBody(record.body)
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

function restoreEntry(record: EntryRecord, { file, mark, document, body, readText }: EntryRestoring): Entry {
  const { data, properties, references, texts, locale, rank, ...plain } = record
  const pendings: Pending[] = []
  const restored = references.map(({ pending: number, ...rest }): Reference => {
    const pending = number === null ? undefined : new Pending(rest.text)
    if (pending) pendings.push(pending)
    return { ...rest, pending }
  })
  const find = (value: unknown): unknown =>
    typeof value === 'string' && value.startsWith(mark) ? pendings[Number(value.slice(mark.length))] : value
  const fill = (value: unknown): unknown => (pendings.length === 0 ? value : replaceIn(value, find))
  const locate = createEntryLocator(document, record.recordPath, body)
  return {
    ...plain,
    locale: locale ?? undefined,
    rank: rank ?? undefined,
    data: data === null ? undefined : (fill(data) as Entry['data']),
    properties: fill(properties) as Entry['properties'],
    references: restored,
    texts: texts.map(({ path, text }) => ({ path, text, parsed: readText(text) })),
    body,
    locate: (path) => ({ file, span: locate(path, partOf(path)) }),
  }
}

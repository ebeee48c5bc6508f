import type { BodySummary } from '../../body/body-summary.ts'
import { areSame } from '../../memo/are-same.ts'
import type { PathSegment, ReadDocument } from '../../read/document.ts'
import { pointerOf } from '../../schema/pointer.ts'
import { createEntry, ENTRY_LISTS } from '../../validate/create-entry.ts'
import type { Entry, EntryBody } from '../../validate/entry.ts'
import { createPlaceFinder } from '../../validate/locate-entry.ts'
import { pathBelow } from '../../validate/split-records.ts'
import type { WrittenPaths } from '../../validate/written-paths.ts'
import type { FileResult } from '../check-file.ts'

/**
 * The record of a file without problems. What most entries of a file have in common is left out, which is half of the bytes of a table,
 * and so is every list that is empty:
 *
 * `{"fields":"c2f0…","entries":[{"id":"cairnfoot","data":{"beds":8},"recordPath":[0],"idPath":["id"],"slugPath":["id"]},{"id":"gable","data":{"beds":20}}]}`
 *
 * References are beside the entries, each list once, and entries have its number: `"references":[[{"path":["hut"],"text":"gable",…}]]`.
 */
export interface FileRecord {
  readonly entries: readonly EntryRecord[]
  /** Says the fields that it was checked with; those of the same outline share its key. */
  readonly fields: string
  readonly references?: readonly Entry['references'][]
  readonly droppedBody?: readonly [start: number, end: number]
  /** Its body, where it has one. */
  readonly body?: BodyRecord
}

/** The lists of a summary that are in every one. */
const BODY_LISTS = ['addresses', 'silentImages', 'languages', 'imports', 'uses'] as const
type BodyList = (typeof BODY_LISTS)[number]

/** A body, its summary without the lists that are empty. */
interface BodyRecord extends Omit<EntryBody, 'file' | 'summary'> {
  readonly summary: Omit<BodySummary, BodyList> & Partial<Pick<BodySummary, BodyList>>
}

/** An entry without its places, its file, and the body that all entries of the file share. */
interface EntryRecord
  extends Partial<Pick<Entry, Exclude<(typeof ENTRY_LISTS)[number], 'references'> | 'data' | 'part' | 'renditions'>> {
  readonly id: string
  readonly references?: number
  /** Where it is not the id. */
  readonly slug?: string
  readonly locale?: string
  readonly rank?: string
  /** Of the first entry where it is not the whole file, and of another where it is not that of the first with its position. */
  readonly recordPath?: readonly PathSegment[]
  /** Of the first entry where they are written in a value of their own, and of another where they are not those of the first. */
  readonly idPath?: readonly PathSegment[]
  readonly slugPath?: readonly PathSegment[]
}

/** The surroundings of the restoration of a file. */
export interface Restoring {
  readonly file: string
  /** Relative to the content folder. */
  readonly contentPath: string
  readonly collection: string
  /** Makes what reads the file of so many records anew, for places, when it is asked. */
  openDocument(recordCount: number): () => ReadDocument
  readonly written: WrittenPaths
  restoreBody(body: Omit<EntryBody, 'file'>): EntryBody
}

/** Writes the record of a file as JSON in pieces; undefined where something in it cannot be kept. */
export function writeFileRecord(
  { entries, diagnostics, failed, droppedBody }: FileResult,
  fields: string,
): string[] | undefined {
  if (failed || diagnostics.length > 0) return undefined
  const body = entries[0]?.body
  if (!isPlain(body?.summary.uses ?? null)) return undefined
  const pieces = [`{"fields":${JSON.stringify(fields)},"entries":[`]
  const numbers = new Map<Entry['references'], number>()
  for (let at = 0; at < entries.length; at++) {
    const record = recordEntry(entries, at, numbers)
    if (!record) return undefined
    pieces.push(`${at > 0 ? ',' : ''}${JSON.stringify(record)}`)
  }
  pieces.push(']')
  if (numbers.size > 0) pieces.push(`,"references":${JSON.stringify([...numbers.keys()])}`)
  if (droppedBody) pieces.push(`,"droppedBody":${JSON.stringify(droppedBody)}`)
  if (body) pieces.push(`,"body":${JSON.stringify(recordBody(body))}`)
  pieces.push('}')
  return pieces
}

function recordBody({ format, startOffset, linesAbove, summary }: EntryBody): BodyRecord {
  const { links, fences, ids, facts } = summary
  // Every key that is no list stands here, or it would not be kept.
  const others: Record<Exclude<keyof BodySummary, BodyList>, unknown> = { links, fences, ids, facts }
  const kept: { -readonly [Key in keyof BodySummary]?: unknown } = others
  for (const name of BODY_LISTS) if (summary[name].length > 0) kept[name] = summary[name]
  return { format, startOffset, linesAbove, summary: kept as BodyRecord['summary'] }
}

function recordEntry(
  entries: readonly Entry[],
  at: number,
  numbers: Map<Entry['references'], number>,
): EntryRecord | undefined {
  const entry = entries[at] as Entry
  const { id, slug, data, part, locale, rank, renditions } = entry
  if (!isPlain(data ?? null) || !isPlain(entry.properties)) return undefined
  const record: { -readonly [Key in keyof EntryRecord]: unknown } = { id, data, part, locale, rank, renditions }
  if (slug !== id) record.slug = slug
  for (const name of ENTRY_LISTS) if (name !== 'references' && entry[name].length > 0) record[name] = entry[name]
  const { references } = entry
  if (references.length > 0) {
    if (!numbers.has(references)) numbers.set(references, numbers.size)
    record.references = numbers.get(references)
  }
  const { recordPath, idPath, slugPath } = (at > 0 && entries[0]) || NO_PATHS
  if (!areSame(entry.recordPath, pathAt(recordPath, at))) record.recordPath = entry.recordPath
  if (!areSame(entry.idPath, idPath)) record.idPath = entry.idPath
  if (!areSame(entry.slugPath, slugPath)) record.slugPath = entry.slugPath
  return record as EntryRecord
}

/** The path of the record at a position, beside that of the first one. */
const pathAt = (first: readonly PathSegment[], at: number): readonly PathSegment[] =>
  first.length === 0 ? first : pathBelow(first.slice(0, -1), at)

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
  const body = record.body && restoring.restoreBody(withAllLists(record.body))
  const { file, contentPath, collection, written } = restoring
  const locate = createPlaceFinder(file, restoring.openDocument(record.entries.length), written)
  const {
    recordPath: firstPath = NONE,
    idPath: firstIdPath = NONE,
    slugPath: firstSlugPath = NONE,
  } = record.entries[0] ?? {}
  const entries = record.entries.map((one, at): Entry => {
    const recordPath = one.recordPath ?? pathAt(firstPath, at)
    return createEntry({
      // Named one by one: a spread takes ten times as long.
      id: one.id,
      slug: one.slug ?? one.id,
      collection,
      source: { file: contentPath, pointer: pointerOf(recordPath) },
      data: one.data,
      part: one.part,
      body,
      properties: one.properties,
      references: one.references === undefined ? undefined : record.references?.[one.references],
      links: one.links,
      texts: one.texts,
      assets: one.assets,
      privateAssets: one.privateAssets,
      renditions: one.renditions,
      locale: one.locale,
      rank: one.rank,
      locate,
      recordPath,
      idPath: one.idPath ?? firstIdPath,
      slugPath: one.slugPath ?? firstSlugPath,
    })
  })
  return {
    entries,
    diagnostics: [],
    failed: false,
    ...(record.droppedBody ? { droppedBody: record.droppedBody } : {}),
  }
}

const NONE: readonly never[] = []
/** Those of an entry that is a whole file, and that has its id and slug of that. */
const NO_PATHS = { recordPath: NONE, idPath: NONE, slugPath: NONE }

const withAllLists = ({ format, startOffset, linesAbove, summary }: BodyRecord): Omit<EntryBody, 'file'> => {
  const { addresses = NONE, silentImages = NONE, languages = NONE, imports = NONE, uses = NONE } = summary
  return { format, startOffset, linesAbove, summary: { addresses, silentImages, languages, imports, uses, ...summary } }
}

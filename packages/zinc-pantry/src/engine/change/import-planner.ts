import type { Attention, Change, Refusal } from '../../change/change.ts'
import { differingValues } from '../../change/differing-values.ts'
import type { EditedSource } from '../../change/edited-source.ts'
import { type ForeignRecord, listForeign, translateRecord } from '../../change/import-records.ts'
import { createGroupTest, type HeadingMap, type Meaning, mapHeadings } from '../../change/map-headings.ts'
import { labelKey, type PlannedEntry, planEntry, refuseCollection } from '../../change/new-entry.ts'
import { createSources } from '../../change/source.ts'
import type { ChangeSubject } from '../../change/subject.ts'
import { writeEntries } from '../../change/write-entries.ts'
import { type PlannedValue, writeValues } from '../../change/write-values.ts'
import { addTo } from '../../diagnostics/add-to.ts'
import type { Diagnostic } from '../../diagnostics/diagnostic.ts'
import { listNames } from '../../diagnostics/words.ts'
import { entriesOf } from '../../link/linked-entries.ts'
import { qualifiedId } from '../../link/pages.ts'
import type { ReadDocument } from '../../read/document.ts'
import { formatOf } from '../../read/formats.ts'
import type { CollectionModel } from '../../schema/model.ts'
import { loadTransliterator } from '../../schema/transliterator.ts'
import type { LinkedEntry } from '../../validate/entry.ts'
import { readOptionsOf } from '../check-file.ts'
import { findOtherValues } from './find-other-values.ts'
import type { Planner, SeenSite } from './planner.ts'

/** Records of a file of somebody else that are to be entries. */
export interface ImportRequest {
  readonly kind: 'import'
  /** Relative to the root. */
  readonly file: string
  readonly collection: string
  /** What headings stand for: the dotted name of a field, `id`, or nothing where it is empty. Default: what they are called. */
  readonly headings: ReadonlyMap<string, string>
  readonly locale?: string | undefined
  readonly into?: string | undefined
}

/** The file that is imported. */
export interface ForeignFile {
  readonly text: string
  readonly now: string
  /** What a query gives of the entries that are there: by their ids, and then by the dotted names of their fields. */
  readonly given: ReadonlyMap<string, ReadonlyMap<string, unknown>>
}

/** Plans entries from a file of somebody else; those that are there get the values that differ. */
export async function createImportPlanner(
  request: ImportRequest,
  subject: ChangeSubject,
  { text, now, given }: ForeignFile,
): Promise<Planner | Refusal> {
  const { file, headings: asked } = request
  const found = subject.collections.find(({ collection }) => collection.name === request.collection)
  if (!found) return refuseCollection(subject, request.collection)
  const { collection } = found
  const format = formatOf(file, subject.model.endings)
  const read = format?.read({ file, text }, {})
  if (!format || !read) return { refused: `${file} is of no format that can be read` }
  const records = read.document && listForeign(read.document.value, createGroupTest(collection))
  if (!read.document || !records)
    return {
      refused: `${file} has no records that can be read`,
      help: 'A table with headings, a list of groups, or groups under keys',
    }
  const headings = [...new Set(records.flatMap(({ values }) => [...values.keys()]))]
  const map = mapHeadings(collection, headings, asked)
  const refusal = refuseHeadings(map, headings, asked)
  if (refusal) return refusal
  const rows = nameRows(collection, records, { map, entries: found.entries })
  const importing: Importing = {
    ...{ request, collection, rows, now, given, meanings: map.meanings, hasCells: format.hasCells === true },
    transliterate: await loadTransliterator(true),
    document: read.document,
    ids: new Map(),
  }
  return {
    plan: (own) => planImport(own, importing),
    placeProblem: (problem, seen) => placeInSource(problem, seen, importing),
    refuse: (own, seen) =>
      findLost(seen, importing) ??
      findOtherValues(own, seen, {
        mayBecome: () => false,
        fieldsOf: (entry) => (entry.collection === collection.name ? fieldsOf(map) : []),
      }),
  }
}

function refuseHeadings(
  { unknown }: HeadingMap,
  headings: readonly string[],
  asked: ReadonlyMap<string, string>,
): Refusal | undefined {
  const stray = [...asked.keys()].find((heading) => !headings.includes(heading))
  if (stray !== undefined)
    return { refused: `There is no heading "${stray}"`, help: `There are ${listNames(headings, 'and')}` }
  const [first] = unknown
  if (!first) return undefined
  const { heading, suggestion } = first
  return {
    refused: `${listNames(
      unknown.map((one) => one.heading),
      'and',
    )} ${unknown.length === 1 ? 'is' : 'are'} no field`,
    help: `--map "${heading}=${suggestion ?? 'field'}" says what it is, --map "${heading}=" leaves it out`,
  }
}

const fieldsOf = ({ meanings }: HeadingMap): readonly string[] =>
  [...meanings.values()].flatMap((one) => (one.kind === 'field' ? [one.path[0] ?? ''] : []))

interface Row {
  readonly record: ForeignRecord
  /** What names its entry. */
  readonly name: string | undefined
}

interface Importing {
  readonly request: ImportRequest
  readonly collection: CollectionModel
  readonly rows: readonly Row[]
  readonly meanings: ReadonlyMap<string, Meaning>
  readonly hasCells: boolean
  readonly now: string
  readonly given: ForeignFile['given']
  readonly document: ReadDocument
  /** The records by the ids of the entries that they are planned as. */
  readonly ids: Map<string, ForeignRecord>
  transliterate(text: string): string
}

/** Names records by their id, by their key, by the field that gives ids, or by what people know them by. */
function nameRows(
  collection: CollectionModel,
  records: readonly ForeignRecord[],
  { map: { meanings }, entries }: { readonly map: HeadingMap; readonly entries: readonly LinkedEntry[] },
): readonly Row[] {
  const byId = [...meanings].find(([, { kind }]) => kind === 'id')?.[0]
  const [idKey] = collection.id.by === 'keys' && collection.id.keys.length === 1 ? collection.id.keys : []
  const label = labelKey(collection.fields)
  const wanted = idKey ?? label
  const byField = [...meanings].find(([, one]) => one.kind === 'field' && one.path.join('.') === wanted)?.[0]
  const heading = byId ?? byField
  const byLabel = new Map(entries.map((entry) => [entry.data?.[label ?? ''], entry.id]))
  return records.map((record): Row => {
    const value = record.key ?? (heading === undefined ? undefined : record.values.get(heading))
    if (value === undefined || value === null || value === '') return { record, name: undefined }
    const name = String(value)
    // An entry that is there may be known by what people call it.
    const isId = byId !== undefined || record.key !== undefined || entries.some(({ id }) => id === name)
    return { record, name: isId ? name : (byLabel.get(name) ?? name) }
  })
}

function planImport(subject: ChangeSubject, importing: Importing): Change | Refusal {
  const { request, collection, rows, given } = importing
  const own = entriesOf(subject).filter(
    (entry) =>
      entry.collection === collection.name &&
      (entry.locale === undefined || entry.locale === (request.locale ?? subject.model.locales[0])),
  )
  const byId = new Map(own.map((entry) => [entry.id, entry]))
  const changes = new Map<EditedSource, PlannedValue[]>()
  const sourceOf = createSources(subject, readOptionsOf)
  const planned: PlannedEntry[] = []
  const made: string[] = []
  for (const { record, name } of rows) {
    const entry = name === undefined ? undefined : byId.get(name)
    const values = translateRecord(record, importing.meanings, {
      collection,
      model: subject.model,
      hasCells: importing.hasCells,
    })
    if (entry) {
      importing.ids.set(entry.id, record)
      const source = sourceOf(entry)
      if (!source) return { refused: `${qualifiedId(entry)} does not come from a file` }
      const own = differingValues(entry, {
        ...{ collection, record, values, document: source.document, model: subject.model },
        ...{ meanings: importing.meanings, given: given.get(entry.id) },
      })
      for (const one of own) addTo(changes, source, one)
      continue
    }
    const one = planEntry(
      { ...subject, files: [...subject.files, ...made] },
      {
        ...importing,
        collection: collection.name,
        name,
        given: values,
        locale: request.locale ?? subject.model.locales[0],
        into: request.into,
      },
    )
    if ('refused' in one) return one
    if (one.place.kind === 'file') made.push(one.place.file)
    if (one.id !== undefined) importing.ids.set(one.id, record)
    // What a skeleton says is for who fills it in.
    planned.push({ ...one, skeleton: { ...one.skeleton, comments: new Map() } })
  }
  const updated = writeValues(changes)
  const fresh = writeEntries(subject, planned, readOptionsOf)
  if ('refused' in fresh) return fresh
  const count = `${planned.length} new, ${rows.length - planned.length} known`
  return {
    words: `${request.file} into ${collection.name}: ${count}`,
    steps: [...updated.steps, ...fresh],
    attention: [...guessedHeadings(importing), ...updated.attention],
  }
}

/** Headings that are taken for a field that is called otherwise. */
const guessedHeadings = ({ meanings, document, request }: Importing): readonly Attention[] =>
  [...meanings].flatMap(([heading, meaning]): Attention[] => {
    if (meaning.kind !== 'field' || request.headings.has(heading)) return []
    if (meaning.path.join('.').toLowerCase() === heading.trim().toLowerCase()) return []
    const place = { file: request.file, span: document.locate([0, ...heading.split('.')], 'key') }
    return [{ place, words: `"${heading}" is taken for ${meaning.path.join('.')}` }]
  })

/** A row that would not be read as an entry. */
function findLost({ collections }: SeenSite, { collection, rows, request }: Importing): Refusal | undefined {
  const found = collections.find((one) => one.collection.name === collection.name)?.entries.length ?? 0
  return found < rows.length
    ? { refused: `Not all records of ${request.file} would be read as entries of ${collection.name}` }
    : undefined
}

/** A problem of an entry as one of the cell that its value came from. */
function placeInSource(
  problem: Diagnostic,
  seen: SeenSite,
  { collection, request, meanings, document, ids }: Importing,
): Diagnostic {
  if (problem.collection !== collection.name) return problem
  const own = entriesOf(seen)
    .filter((entry) => entry.collection === collection.name)
    .map((entry) => ({ entry, place: entry.locate([]) }))
    .filter(
      ({ entry, place }) =>
        place.file === problem.file && (entry.recordPath.length === 0 || place.span[0] <= problem.span[0]),
    )
    .sort((one, other) => one.place.span[0] - other.place.span[0])
  const entry = own.at(-1)?.entry
  const record = entry && ids.get(entry.id)
  if (!record) return problem
  const heading = [...meanings].find(
    ([, one]) =>
      one.kind === 'field' &&
      (problem.field === one.path.join('.') || problem.field?.startsWith(`${one.path.join('.')}.`)),
  )?.[0]
  const path = [...record.path, ...(heading === undefined ? [] : heading.split('.'))]
  return { ...problem, file: request.file, span: document.locate(path, heading === undefined ? 'key' : 'value') }
}

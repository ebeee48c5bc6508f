import type { TextSummary } from '../body/body-summary.ts'
import type { BodyText } from '../body/markdown/markdown-body.ts'
import type { ParsedBody } from '../body/parsed-body.ts'
import { appendAll } from '../diagnostics/append-all.ts'
import { createDiagnostic, type Diagnostic } from '../diagnostics/diagnostic.ts'
import type { AssignedFile } from '../find/assign-files.ts'
import { nameFile } from '../find/name-file.ts'
import type { CsvOptions } from '../read/csv.ts'
import type { ReadDocument, SourceText } from '../read/document.ts'
import { type Format, reopenText } from '../read/formats.ts'
import type { PatternMatcher } from '../schema/check-run.ts'
import type { EntryChecks } from '../schema/compile-schema.ts'
import { mergedFields } from '../schema/fields/variant.ts'
import type { BlockFields } from '../schema/kind.ts'
import type { FileSettings } from '../schema/model.ts'
import { idKeysOf } from '../schema/naming-rule.ts'
import type { Transliterator } from '../schema/transliterator.ts'
import { byWrittenKey } from '../schema/written-key.ts'
import type { Entry, EntryBody, Reference } from '../validate/entry.ts'
import type { ListTable } from '../validate/list-table.ts'
import { createPlaceFinder } from '../validate/locate-entry.ts'
import { asGroup } from '../validate/name-record.ts'
import type { PathTable } from '../validate/path-table.ts'
import { splitRecords } from '../validate/split-records.ts'
import { typeCells } from '../validate/type-cells.ts'
import { validateRecord } from '../validate/validate-record.ts'
import type { WrittenPaths } from '../validate/written-paths.ts'
import type { AssetReader } from './assets.ts'
import { type CheckedRecord, type CheckedRecords, findSameEntry } from './checked-records.ts'
import { holdDocument, MANY_RECORDS, type RecentDocuments } from './held-document.ts'

/** The result of the check of one file. */
export interface FileResult {
  readonly entries: readonly Entry[]
  readonly diagnostics: readonly Diagnostic[]
  /** True where the text could not be read, so that entries may be missing. */
  readonly failed: boolean
  /** Records that gave no entry, since nothing names them. */
  readonly unnamedCount?: number
  /** The span of body text that no entry keeps. */
  readonly droppedBody?: readonly [start: number, end: number]
}

/** The surroundings of the check of a collection's files. */
export interface FileContext {
  readonly collection: FileSettings
  readonly base: string
  readonly checks: EntryChecks
  readonly format: Format
  readonly locales: readonly string[]
  readonly blocks: BlockFields
  readonly asset: AssetReader
  /** Reads a file of many records once more, for places. */
  readAgain(this: void, path: string): SourceText | undefined
  readonly recent: RecentDocuments
  /** What was found in the file the last time, where it may be found again. */
  readonly last: CheckedRecords | undefined
  /** Tells what was found, for the next time; undefined where there is none. */
  readonly keepRecords: ((records: Omit<CheckedRecords, 'scope'>) => void) | undefined
  /** Parses the text below front matter. */
  parseBody(format: EntryBody['format'], text: BodyText): ParsedBody
  summariseText(text: string): TextSummary
  readonly written: WrittenPaths
  readonly pathOf: PathTable
  readonly referencesOf: ListTable<Reference>
  readonly transliterate: Transliterator
  readonly matches: PatternMatcher
}

/** Reads and checks one file of a collection. */
export function checkFile(source: SourceText, assigned: AssignedFile, context: FileContext): FileResult {
  const { collection, format, checks, asset, locales, blocks } = context
  const { cells } = collection
  // Fields are gone through for the headings of tables alone.
  const options = format.hasCells ? readOptionsOf(collection) : {}
  const read = context.last?.reread?.(source) ?? format.read(source, options)
  if (!read.document) return { entries: [], diagnostics: read.diagnostics, failed: true }
  const wanted = collection.perFile ?? (assigned.named ? 'many' : 'one')
  // Where the setting says where the records are, they are there in front matter too.
  const holdsMany = format.canHoldMany || collection.records !== undefined
  const many = format.alwaysMany || (holdsMany && wanted === 'many')
  const split = splitRecords(read.document, { file: source.file, collection, many })
  const diagnostics = [...read.diagnostics, ...split.diagnostics]
  const entries: Entry[] = []
  const { document, body } = read
  // What entries keep must hold neither the text nor the check.
  const { path } = assigned
  const { readAgain } = context
  const readDocument = (): ReadDocument | undefined => {
    const again = readAgain(path)
    return again && reopenText(format, again, options)
  }
  const hasLeadingZeros = document.hasLeadingZeros === true
  const last = many && context.last?.hasLeadingZeros === hasLeadingZeros ? context.last : undefined
  const held = last?.held ?? holdDocument(document, readDocument, context.recent)
  last?.held.replace(document)
  const { documentOf } = held
  const { id, locale, rank, unknownLocale } = nameFile(assigned.path, context)
  if (unknownLocale !== undefined) {
    const place = { file: source.file, span: [0, 0] as const }
    diagnostics.push(createDiagnostic('locale-unknown', place, { locale: unknownLocale, locales }))
  }
  const hasBody = collection.body !== undefined && (format.canHoldMany || !many)
  const textFormat = format.name === 'mdx' ? 'mdx' : 'markdown'
  const parsed =
    body && hasBody
      ? context.parseBody(textFormat, { text: body.text, file: source.file, startOffset: body.startOffset })
      : undefined
  const written =
    body && parsed
      ? createBody(textFormat, { startOffset: body.startOffset, summary: parsed.summary() }, source)
      : undefined
  if (written?.format === 'mdx' && collection.body?.trusted === false)
    diagnostics.push(createDiagnostic('mdx-untrusted', { file: source.file, span: [0, 0] }, {}))
  else if (parsed) appendAll(diagnostics, parsed.diagnostics())
  const locateEntry = createPlaceFinder(source.file, documentOf, context.written)
  const checked: CheckedRecord[] | undefined = many && !written && context.keepRecords ? [] : undefined
  const cellForm = format.hasCells || cells.everywhere ? { blocks, ...cells } : undefined
  for (const [at, record] of split.records.entries()) {
    const same = findSameEntry(record, last?.records[at])
    if (same) {
      entries.push(same)
      checked?.push({ record, entry: same })
      continue
    }
    const value = cellForm ? typeCells(asGroup(record.value, collection), collection.fields, cellForm) : record.value
    const result = validateRecord(
      { ...record, value },
      {
        source,
        collection,
        checks,
        document,
        documentOf,
        locateEntry,
        pathOf: context.pathOf,
        referencesOf: context.referencesOf,
        contentPath: assigned.path,
        pathId: many ? undefined : id,
        positionPrefix: assigned.named && collection.files.length === 1 ? '' : `${id}/`,
        written: context.written,
        transliterate: context.transliterate,
        locale,
        rank,
        asset,
        matches: context.matches,
        body: written,
        summariseText: context.summariseText,
      },
    )
    appendAll(diagnostics, read.isBare ? withoutFrontMatter(result.diagnostics, source) : result.diagnostics)
    if (result.entry) entries.push(result.entry)
    const isAgain = result.diagnostics.length === 0 && !result.readsText
    checked?.push({ record, entry: isAgain ? result.entry : undefined })
  }
  if (checked) context.keepRecords?.({ hasLeadingZeros, records: checked, reread: read.reread, held })
  const dropped = body && !hasBody ? firstLine(body) : undefined
  if (split.records.length > MANY_RECORDS) held.release()
  return {
    entries,
    diagnostics,
    failed: split.diagnostics.length > 0 || read.partial === true,
    ...(entries.length < split.records.length ? { unnamedCount: split.records.length - entries.length } : {}),
    ...(dropped ? { droppedBody: dropped } : {}),
  }
}

/** How the files of a collection are read. */
export const readOptionsOf = ({ cells, fields, id }: FileSettings): CsvOptions => {
  const keys = [...byWrittenKey(mergedFields(fields)).keys(), ...idKeysOf({ id })]
  return { whole: keys.filter((key) => key.includes('.')), ...cells }
}

/** Of a file without front matter it is said once that it has none, not of each field that is missing. */
function withoutFrontMatter(diagnostics: readonly Diagnostic[], { file, text }: SourceText): Diagnostic[] {
  const isMissing = ({ code, span }: Diagnostic): boolean => code === 'field-missing' && span[0] === 0
  const fields = diagnostics.filter(isMissing).map(({ parameters }) => String(parameters.field))
  const others = diagnostics.filter((one) => !isMissing(one))
  if (fields.length === 0) return others
  const end = /[^\r\n]*/.exec(text)?.[0].length ?? 0
  return [createDiagnostic('front-matter-missing', { file, span: [0, end] }, { fields }), ...others]
}

function createBody(
  format: EntryBody['format'],
  { startOffset, summary }: Pick<EntryBody, 'startOffset' | 'summary'>,
  { file, text }: SourceText,
): EntryBody {
  let linesAbove = 0
  for (let at = text.indexOf('\n'); at !== -1 && at < startOffset; at = text.indexOf('\n', at + 1)) linesAbove++
  return { file, startOffset, linesAbove, format, summary }
}

/** The first line of a body that has text in it. */
function firstLine(body: { text: string; startOffset: number }): [number, number] | undefined {
  const found = /[^\s].*/.exec(body.text)
  if (!found) return undefined
  const start = body.startOffset + found.index
  return [start, start + found[0].trimEnd().length]
}

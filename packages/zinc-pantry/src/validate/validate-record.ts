import type { TextSummary } from '../body/body-summary.ts'
import { appendAll } from '../diagnostics/append-all.ts'
import { createDiagnostic, type Diagnostic } from '../diagnostics/diagnostic.ts'
import { describeValue } from '../diagnostics/words.ts'
import type { PathSegment, ReadDocument, SourceText } from '../read/document.ts'
import type { AssetAnswer } from '../schema/asset.ts'
import { type CheckRun, INVALID } from '../schema/check-run.ts'
import type { EntryChecks } from '../schema/compile-schema.ts'
import { planSources, type Rendition } from '../schema/image-sources.ts'
import type { FileSettings } from '../schema/model.ts'
import { pointerOf } from '../schema/pointer.ts'
import type { Transliterator } from '../schema/transliterator.ts'
import { createEntry } from './create-entry.ts'
import type { Entry, EntryBody, FieldText, Reference } from './entry.ts'
import type { ListTable } from './list-table.ts'
import { createEntryLocator, partOf } from './locate-entry.ts'
import { asGroup, isItem, readId, readSlug } from './name-record.ts'
import type { PathTable } from './path-table.ts'
import type { EntryRecord } from './split-records.ts'
import { validateBlocks } from './validate-blocks.ts'
import type { WrittenPaths } from './written-paths.ts'

/** The surroundings of the check of a file's records. */
export interface RecordContext {
  readonly source: SourceText
  /** Relative to the content folder. */
  readonly contentPath: string
  readonly collection: FileSettings
  readonly checks: EntryChecks
  readonly document: ReadDocument
  /** Gives the same document, for places. */
  documentOf(): ReadDocument
  /** Finds the places of the entries of the file. */
  readonly locateEntry: Entry['locate']
  readonly pathOf: PathTable
  readonly referencesOf: ListTable<Reference>
  /** The id that the file's path gives, for a file of one entry. */
  readonly pathId: string | undefined
  readonly body: EntryBody | undefined
  readonly locale: string | undefined
  readonly rank: string | undefined
  /** What stands in front of the positions of its records, where they are their ids; empty for a file that is named in full. */
  readonly positionPrefix: string
  /** Where its parts are written. */
  readonly written: WrittenPaths
  readonly transliterate: Transliterator
  /** Looks at a file that an entry of a file names. */
  asset(path: string, from: string): AssetAnswer
  /** Matches a pattern within bounded time. */
  readonly matches: CheckRun['matches']
  /** Reads Markdown of a field. */
  summariseText(text: string): TextSummary
}

/** A record that was checked. */
export interface CheckedEntry {
  readonly entry: Entry | undefined
  readonly diagnostics: Diagnostic[]
  /** True where it counted how a value is written: one that reads as the same may give something else. */
  readonly readsText: boolean
}

/** Checks one record against its collection. Gives no entry where it has no id, which is then told. */
export function validateRecord(record: EntryRecord, context: RecordContext): CheckedEntry {
  const { document, collection, source } = context
  const { file } = source
  const diagnostics: Diagnostic[] = []
  const references: Reference[] = []
  const texts: FieldText[] = []
  const assets: string[] = []
  const privateAssets: string[] = []
  const renditions: Rendition[] = []
  const missing = new Set<string>()
  let readsText = false
  let part: Entry['part']
  const placing = { recordPath: record.path, body: context.body, written: context.written }
  const locate = createEntryLocator(context.documentOf, placing)
  const run: CheckRun = {
    path: [],
    within: { private: 0 },
    report(code, parameters, part = 'value') {
      const field = fieldOf(run.path, code, parameters)
      diagnostics.push(createDiagnostic(code, { file, span: locate(run.path, part) }, parameters, { field }))
      const isAbsent = code === 'field-missing' || code === 'field-empty'
      if (isAbsent && run.path.length === 1) missing.add(String(run.path[0]))
    },
    written(value) {
      readsText = true
      return source.text.slice(...locate(run.path, 'value')) || String(value)
    },
    hasLeadingZeros: document.hasLeadingZeros === true,
    reference(wanted) {
      const { targets, by, text, several, isFound } = wanted
      const isPrivate = run.within.private > 0 ? true : undefined
      references.push({ path: context.pathOf(run.path), targets, by, text, several, isFound, isPrivate })
      return text
    },
    look: (path) => context.asset(path, context.contentPath),
    asset(path, sources) {
      const answer = run.look(path)
      const isPrivate = run.within.private > 0
      if (!('facts' in answer)) return answer
      ;(isPrivate ? privateAssets : assets).push(answer.facts.file)
      if (sources && !isPrivate) appendAll(renditions, planSources(answer.facts, sources).renditions)
      return answer
    },
    matches: context.matches,
    keepPart: (passed) => {
      part = passed
    },
    linked(text) {
      const isPrivate = run.within.private > 0
      texts.push({
        path: context.pathOf(run.path),
        text,
        summary: context.summariseText(text),
        ...(isPrivate ? { isPrivate } : {}),
      })
    },
  }
  const value = asGroup(record.value, collection)
  if (typeof value !== 'object' || value === null || Array.isArray(value)) {
    const seen = describeValue(value)
    const span = value === null ? locate([], 'key') : locate([], 'value')
    diagnostics.push(createDiagnostic('entry-not-group', { file, span }, { seen }))
    return { entry: undefined, diagnostics, readsText }
  }
  const check = isItem(record) ? context.checks.item : context.checks.named
  const data = check(value, run)
  const properties = validateBlocks(context.body, context.checks, run)
  const id = readId({ ...record, value }, context, run)
  if ('missing' in id) {
    // A required field of that name says already that it is missing.
    if (!missing.has(id.missing)) {
      run.path.push(id.missing)
      run.report('entry-id-missing', { key: id.missing }, 'absent')
      run.path.pop()
    }
    return { entry: undefined, diagnostics, readsText }
  }
  if ('invalid' in id) {
    reportAt(id.path, run, (part) => run.report('entry-id-invalid', { seen: id.invalid }, part))
    return { entry: undefined, diagnostics, readsText }
  }
  const known = data === INVALID ? undefined : (data as Readonly<Record<string, unknown>>)
  const { slug, slugPath, reason } = readSlug({ value, data: known, id }, context, run)
  if (reason) reportAt(slugPath, run, (part) => run.report('slug-invalid', { slug, reason }, part))
  const entry = createEntry({
    id: id.text,
    slug,
    collection: collection.name,
    source: { file: context.contentPath, pointer: pointerOf(record.path) },
    data: known,
    part: known ? undefined : part,
    body: context.body,
    properties,
    references: context.referencesOf(references),
    // A list that was added to has room for more, a copy has not.
    texts: texts.slice(),
    assets: assets.slice(),
    privateAssets: privateAssets.slice(),
    renditions: renditions.length > 0 ? renditions : undefined,
    locale: context.locale,
    rank: context.rank,
    locate: context.locateEntry,
    recordPath: record.path,
    idPath: context.pathOf(id.path),
    slugPath: context.pathOf(slugPath),
  })
  return { entry, diagnostics, readsText }
}

/** The field that a problem concerns: that of the path, or the one that is missing below it. */
function fieldOf(path: readonly PathSegment[], code: string, parameters: object): string | undefined {
  const names = path.filter((step) => typeof step === 'string')
  const { field } = parameters as { readonly field?: unknown }
  if (code === 'field-missing' && typeof field === 'string' && names.at(-1) !== field) names.push(field)
  return names.join('.') || undefined
}

/** Reports at a part of the record; an empty path stands for what names the record. */
function reportAt(path: readonly PathSegment[], run: CheckRun, report: (part: 'key' | 'value') => void): void {
  appendAll(run.path, path)
  report(partOf(path))
  run.path.length -= path.length
}

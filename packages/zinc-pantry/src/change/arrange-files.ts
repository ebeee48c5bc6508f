import { groupBy } from '../diagnostics/group-by.ts'
import { isGroup, valueAt } from '../diagnostics/own-key.ts'
import { qualifiedId } from '../link/pages.ts'
import { formatOf } from '../read/formats.ts'
import { ITEM_ID_KEY } from '../schema/compile-schema.ts'
import type { CollectionModel } from '../schema/model.ts'
import type { LinkedEntry } from '../validate/entry.ts'
import { typeCells } from '../validate/type-cells.ts'
import type { Attention, Change, ChangeStep, EditStep, Refusal } from './change.ts'
import type { ConfigurationText } from './configuration-text.ts'
import { listComments } from './edit-value.ts'
import { type EditedSource, withEdits } from './edited-source.ts'
import { rewritePaths } from './move-files.ts'
import { refuseCollection } from './new-entry.ts'
import { createSources, type ReadOptionsOf, type SourceOf } from './source.ts'
import { joinYaml, splitYaml } from './split-yaml.ts'
import type { ChangeSubject } from './subject.ts'
import { type NewRecord, writeDocument } from './write-record.ts'

/** How the entries of a collection are to stand: each in a file of its own, or all in one. */
export interface Arrangement {
  readonly collection: string
  /** The file for all of them, relative to the content folder; undefined for one file each. */
  readonly into: string | undefined
}

/** Puts the entries of a collection into one file, or into a file each, and says so in the configuration. */
export function arrangeFiles(
  subject: ChangeSubject,
  { collection: name, into }: Arrangement,
  {
    configuration,
    readOptionsOf,
  }: { readonly configuration: ConfigurationText; readonly readOptionsOf: ReadOptionsOf },
): Change | Refusal {
  const found = subject.collections.find((one) => one.collection.name === name)
  if (!found) return refuseCollection(subject, name)
  const { collection } = found
  const entries = found.entries.filter(({ source }) => !('implicit' in source))
  const refusal = refuse(collection, entries, into)
  if (refusal) return refusal
  const written = configuration.textsAt(['collections', name, 'files'])
  const [pattern] = written
  if (written.length !== 1 || !pattern)
    return { refused: `The files of ${name} are not one pattern that is written out` }
  const sourceOf = createSources(subject, readOptionsOf)
  const placeOf = into === undefined ? createPlaces(subject, entries) : () => into
  const taken = [...new Set(entries.map(placeOf))].find((file) => subject.files.includes(file))
  if (taken !== undefined) return { refused: `There is a file ${taken} already` }
  const rewritten = rewritePaths(
    subject,
    {
      fileAfter: (file, page) => (page && page.collection === name ? placeOf(page as LinkedEntry) : file),
      nameAfter: qualifiedId,
      addressAfter: () => undefined,
    },
    sourceOf,
  )
  const old = new Set(entries.map((entry) => entry.locate([]).file))
  const texts = readRecords(subject, {
    collection,
    entries,
    sourceOf,
    edits: rewritten.steps.filter((step): step is EditStep => step.kind === 'edit' && old.has(step.file)),
  })
  if ('refused' in texts) return texts
  const { content } = subject.model
  const made =
    into === undefined
      ? writeApart(texts.records, { placeOf, content })
      : writeTogether(texts.records, { into, collection, content })
  if ('refused' in made) return made
  const to = into ?? folderPattern(entries, placeOf)
  return {
    words:
      into === undefined
        ? `${entries.length} entries of ${name} get a file each`
        : `${entries.length} entries of ${name} come into ${into}`,
    steps: [
      { kind: 'edit', file: pattern.file, span: pattern.span, text: to, reason: `${name} is read from ${to}` },
      ...made.steps,
      ...[...old].map((file): ChangeStep => ({ kind: 'delete', file, reason: `its entries are in ${to}` })),
      ...rewritten.steps.filter((step) => !old.has(step.file)),
    ],
    attention: [...rewritten.attention, ...made.attention, ...lostComments(subject, old, made.steps)],
  }
}

/** Comments of the old files that none of the new ones has. */
function lostComments(
  { textOf, model }: ChangeSubject,
  old: ReadonlySet<string>,
  made: readonly ChangeStep[],
): readonly Attention[] {
  const texts = made.flatMap((step) => (step.kind === 'make' ? [step.text] : [])).join('\n')
  return [...old].flatMap((file) => {
    const format = formatOf(file, model.endings)
    const text = textOf(file) ?? ''
    const comments = format ? listComments(text, format) : []
    return comments
      .filter((comment) => !texts.includes(comment.trim()))
      .map((comment): Attention => {
        const at = Math.max(0, text.indexOf(comment.trim()))
        return {
          place: { file, span: [at, at] },
          words: `the comment "${comment.replace(/^[#/*\s]+/, '').trim()}" has no place any more`,
        }
      })
  })
}

function refuse(
  { name, source, locales, records }: CollectionModel,
  entries: readonly LinkedEntry[],
  into: string | undefined,
): Refusal | undefined {
  if (source !== undefined || entries.length === 0) return { refused: `${name} has no entries in files` }
  if (locales !== undefined) return { refused: `${name} has languages, which take a file each` }
  const isApart = entries.every(({ recordPath }) => recordPath.length === 0)
  if (into === undefined && isApart) return { refused: `Entries of ${name} have a file each already` }
  if (into === undefined && records !== undefined)
    return { refused: `${name} is read from ${records} in its file`, help: 'Move it by hand' }
  if (into !== undefined && !isApart) return { refused: `Entries of ${name} stand together already` }
  const withBody = into === undefined ? undefined : entries.find(({ body }) => body !== undefined)
  return withBody && { refused: `${qualifiedId(withBody)} has a body, for which ${into} has no place` }
}

/** A folder that is called like the file that they stand in. */
function createPlaces({ model }: ChangeSubject, entries: readonly LinkedEntry[]): (entry: LinkedEntry) => string {
  const [first] = entries
  const file = first?.source.file ?? ''
  const format = formatOf(file, model.endings)
  const ending = format?.canHoldMany && !format.alwaysMany ? file.slice(file.lastIndexOf('.')) : '.yaml'
  return ({ id, source }) => `${source.file.replace(/\.[^./]+$/, '')}/${id}${ending}`
}

function folderPattern(entries: readonly LinkedEntry[], placeOf: (entry: LinkedEntry) => string): string {
  const [first] = entries
  const file = first ? placeOf(first) : ''
  const folder = file.slice(0, file.length - (first?.id.length ?? 0) - file.slice(file.lastIndexOf('.')).length)
  const isDeep = entries.some(({ id }) => id.includes('/'))
  return `${folder}${isDeep ? '**/' : ''}*${file.slice(file.lastIndexOf('.'))}`
}

/** A record, once what it names is written for its new place, and the file that it stands in. */
interface MovedRecord {
  readonly entry: LinkedEntry
  readonly value: Readonly<Record<string, unknown>>
  readonly source: EditedSource
}

function readRecords(
  { model }: ChangeSubject,
  {
    collection,
    entries,
    sourceOf,
    edits,
  }: {
    readonly collection: CollectionModel
    readonly entries: readonly LinkedEntry[]
    readonly sourceOf: SourceOf
    readonly edits: readonly EditStep[]
  },
): { readonly records: readonly MovedRecord[] } | Refusal {
  const records: MovedRecord[] = []
  const editsOf = groupBy(edits, ({ file }) => file)
  const sources = new Map<string, EditedSource | undefined>()
  for (const entry of entries) {
    const { file } = entry.locate([])
    if (!sources.has(file)) {
      const source = sourceOf(entry)
      sources.set(file, source && withEdits(source, editsOf.get(file) ?? []))
    }
    const source = sources.get(file)
    if (!source) return { refused: `${file} cannot be read` }
    const raw = valueAt(source.document.value, entry.recordPath)
    const form = { ...collection.cells, blocks: model.blocks }
    const value = source.format.hasCells ? typeCells(raw, collection.fields, form) : raw
    if (!isGroup(value)) return { refused: `${qualifiedId(entry)} cannot be moved with certainty` }
    records.push({ entry, value, source })
  }
  return { records }
}

interface Made {
  readonly steps: readonly ChangeStep[]
  readonly attention: readonly Attention[]
}

/** A file for each record, in its own words where that is YAML. */
function writeApart(
  records: readonly MovedRecord[],
  { placeOf, content }: { placeOf(entry: LinkedEntry): string; readonly content: string },
): Made {
  const steps = records.map(({ entry, value, source }): ChangeStep => {
    const path = placeOf(entry)
    const { [ITEM_ID_KEY]: _, ...rest } = value
    const isKeyed = typeof entry.recordPath.at(-1) === 'string'
    const record: NewRecord = { value: isKeyed ? value : rest, comments: new Map() }
    const own = source.format.name === 'yaml' && isKeyed ? splitYaml(source, entry.recordPath) : undefined
    const written =
      own ??
      writeDocument(record, formatOf(path, new Map())?.name ?? 'yaml', {
        lineEnd: source.text.includes('\r\n') ? '\r\n' : '\n',
        indent: '  ',
      })
    return {
      kind: 'make',
      file: `${content}/${path}`,
      text: written,
      reason: `${qualifiedId(entry)} has a file of its own`,
    }
  })
  return { steps, attention: [] }
}

/** All records in one file, by their ids. */
function writeTogether(
  records: readonly MovedRecord[],
  {
    into,
    collection,
    content,
  }: { readonly into: string; readonly collection: CollectionModel; readonly content: string },
): Made | Refusal {
  const format = formatOf(into, new Map())
  if (!format?.canHoldMany || format.alwaysMany)
    return {
      refused: `${into} cannot hold entries by their ids`,
      help: 'Name a file that ends in .yaml, .json or .toml',
    }
  const file = `${content}/${into}`
  const reason = `${records.length} entries of ${collection.name}`
  const isYaml = format.name === 'yaml' && records.every(({ source }) => source.format.name === 'yaml')
  const joined = isYaml
    ? joinYaml(records.map(({ entry, source }) => ({ key: entry.id, text: source.text })))
    : undefined
  const value = Object.fromEntries(records.map((one) => [one.entry.id, one.value]))
  const text = joined ?? writeDocument({ value, comments: new Map() }, format.name, { lineEnd: '\n', indent: '  ' })
  return { steps: [{ kind: 'make', file, text, reason }], attention: [] }
}

import type { Diagnostic } from '../diagnostics/diagnostic.ts'
import { type AssignedFile, idFromPath } from '../find/assign-files.ts'
import type { SourceText } from '../read/document.ts'
import { extensionOf, type Format } from '../read/formats.ts'
import type { EntryChecks } from '../schema/compile-schema.ts'
import type { CollectionModel } from '../schema/model.ts'
import type { Entry } from '../validate/entry.ts'
import { splitRecords } from '../validate/split-records.ts'
import { validateRecord } from '../validate/validate-record.ts'

/** What checking one file gave. */
export interface FileResult {
  readonly entries: readonly Entry[]
  readonly diagnostics: readonly Diagnostic[]
  /** True where the text could not be read, so that entries may be missing. */
  readonly failed: boolean
  /** The span of body text that no entry keeps. */
  readonly droppedBody?: readonly [start: number, end: number]
}

/** Reads and checks one file of a collection. */
export function checkFile(
  source: SourceText,
  assigned: AssignedFile,
  context: { collection: CollectionModel; base: string; checks: EntryChecks; format: Format },
): FileResult {
  const { collection, format, checks, base } = context
  const read = format.read(source)
  if (!read.document) return { entries: [], diagnostics: read.diagnostics, failed: true }
  const many = format.canHoldMany && (collection.perFile ?? (assigned.named ? 'many' : 'one')) === 'many'
  const split = splitRecords(read.document, { file: source.file, collection, many })
  const diagnostics = [...read.diagnostics, ...split.diagnostics]
  const entries: Entry[] = []
  const { document, body } = read
  for (const record of split.records) {
    const result = validateRecord(record, {
      source,
      collection,
      checks,
      document,
      contentPath: assigned.path,
      pathId: many ? undefined : idFromPath(assigned.path, base),
      body:
        body && collection.body
          ? { format: extensionOf(source.file) === '.mdx' ? 'mdx' : 'markdown', text: body.text }
          : undefined,
    })
    diagnostics.push(...result.diagnostics)
    if (result.entry) entries.push(result.entry)
  }
  const dropped = body && !collection.body ? firstLine(body) : undefined
  return { entries, diagnostics, failed: split.diagnostics.length > 0, ...(dropped ? { droppedBody: dropped } : {}) }
}

/** The first line of a body that has text in it. */
function firstLine(body: { text: string; startOffset: number }): [number, number] | undefined {
  const found = /[^\s].*/.exec(body.text)
  if (!found) return undefined
  const start = body.startOffset + found.index
  return [start, start + found[0].trimEnd().length]
}

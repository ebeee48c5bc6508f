import { arrangeDiagnostics, createDiagnostic, type Diagnostic, type Place } from '../diagnostics/diagnostic.ts'
import type { TextSource } from '../diagnostics/render-text.ts'
import { assignFiles, type CollectionFiles, idFromPath } from '../find/assign-files.ts'
import { type Host, HostError, type Listing } from '../host/host.ts'
import { type FailedFile, linkEntries } from '../link/link-entries.ts'
import { decodeText } from '../read/decode.ts'
import { extensionOf, formatOf } from '../read/formats.ts'
import { compileCollection } from '../schema/compile-schema.ts'
import type { CollectionModel, Model } from '../schema/model.ts'
import type { Entry } from '../validate/entry.ts'
import { checkFile, type FileResult } from './check-file.ts'
import { placeSettings } from './load-model.ts'
import { readText } from './read-text.ts'

/** The entries of one collection after a check, in the order of their files. */
export interface CheckedCollection {
  readonly collection: CollectionModel
  readonly entries: readonly Entry[]
}

/** What a check found. */
export interface Checked {
  readonly collections: readonly CheckedCollection[]
  readonly diagnostics: readonly Diagnostic[]
  readonly fileCount: number
  /** The texts of the files that were read, for showing diagnostics. */
  readonly textOf: TextSource
}

/** How far a check has come. */
export interface Progress {
  readonly done: number
  readonly total: number
}

/** What a check works with. */
export interface CheckContext {
  readonly host: Host
  readonly model: Model
  readonly configurationFile: string
  onProgress?(progress: Progress): void
}

/** Finds, reads, validates and links all content. Nothing is written. */
export async function checkContent(context: CheckContext): Promise<Checked> {
  const { host, model, configurationFile } = context
  const texts = new Map<string, string>()
  const textOf: TextSource = (file) => texts.get(file) ?? readText(host, file)
  const listing = host.list(model.content)
  if (!listing) {
    const parameters = { setting: 'content', folder: model.content }
    const diagnostics = await placeSettings(host, configurationFile, [
      { code: 'config-folder-missing', path: ['content'], parameters },
    ])
    return { collections: [], diagnostics, fileCount: 0, textOf }
  }
  const { assigned, problems } = assignFiles(model.collections, listing.files)
  const diagnostics = await placeSettings(host, configurationFile, problems)
  diagnostics.push(...describeListing(listing, model.content))
  const fileCount = assigned.reduce((sum, { files }) => sum + files.length, 0)
  const reader = createFileReader(context, texts, fileCount)
  const checked = assigned.map((files) => checkCollection(files, reader, diagnostics))
  diagnostics.push(
    ...linkEntries(
      checked.map(({ collection, entries, failedFiles }) => ({ name: collection.name, entries, failedFiles })),
    ),
  )
  return { collections: checked, diagnostics: arrangeDiagnostics(diagnostics), fileCount, textOf }
}

function describeListing({ strayLinks, unreadable }: Listing, content: string): Diagnostic[] {
  const place = (path: string): Place => ({ file: path === '' ? content : `${content}/${path}`, span: [0, 0] })
  return [
    ...strayLinks.map((path) => createDiagnostic('file-link-stray', place(path), {})),
    ...unreadable.map(({ path, reason }) => createDiagnostic('file-unreadable', place(path), { reason })),
  ]
}

type FileReader = (path: string) => { file: string; text: string } | { file: string; diagnostic: Diagnostic }

function createFileReader(
  { host, model, onProgress }: CheckContext,
  texts: Map<string, string>,
  total: number,
): FileReader {
  let done = 0
  return (path) => {
    onProgress?.({ done: done++, total })
    const file = `${model.content}/${path}`
    try {
      const decoded = decodeText(file, host.read(file))
      if ('text' in decoded) texts.set(file, decoded.text)
      // What is too large to read is too large to show.
      else if (decoded.diagnostic.code === 'file-too-large') texts.set(file, '')
      return { file, ...decoded }
    } catch (error) {
      if (!(error instanceof HostError)) throw error
      return {
        file,
        diagnostic: createDiagnostic('file-unreadable', { file, span: [0, 0] }, { reason: error.message }),
      }
    }
  }
}

function checkCollection(
  { collection, files, base }: CollectionFiles,
  readFile: FileReader,
  diagnostics: Diagnostic[],
): CheckedCollection & { failedFiles: FailedFile[] } {
  const checks = compileCollection(collection)
  const entries: Entry[] = []
  const failedFiles: FailedFile[] = []
  const dropped: { file: string; span: readonly [number, number] }[] = []
  for (const assigned of files) {
    const format = formatOf(assigned.path)
    const source = readFile(assigned.path)
    const { file } = source
    let result: FileResult
    if ('diagnostic' in source) result = failure(source.diagnostic)
    else if (!format) {
      const extension = extensionOf(assigned.path)
      result = failure(createDiagnostic('file-format-unknown', { file, span: [0, 0] }, { extension }))
    } else result = checkFile(source, assigned, { collection, base, checks, format })
    for (const diagnostic of result.diagnostics) diagnostics.push(diagnostic)
    for (const entry of result.entries) entries.push(entry)
    if (result.droppedBody) dropped.push({ file, span: result.droppedBody })
    if (!result.failed) continue
    const single = collection.idKey === undefined && collection.perFile !== 'many' && !assigned.named
    failedFiles.push({ file, id: single ? idFromPath(assigned.path, base) : undefined })
  }
  const [first] = dropped
  if (first)
    diagnostics.push(createDiagnostic('body-dropped', first, { collection: collection.name, files: dropped.length }))
  return { collection, entries, failedFiles }
}

const failure = (diagnostic: Diagnostic): FileResult => ({ entries: [], diagnostics: [diagnostic], failed: true })

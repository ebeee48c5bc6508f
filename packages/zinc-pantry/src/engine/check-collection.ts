import { type BodyReader, createBodyReader, type ReaderOptions } from '../body/body-reader.ts'
import { PluginFailure } from '../body/plugin-failure.ts'
import { createDiagnostic, type Diagnostic } from '../diagnostics/diagnostic.ts'
import type { CollectionFiles } from '../find/assign-files.ts'
import { nameFile } from '../find/name-file.ts'
import type { FailedFile } from '../link/dangling.ts'
import type { CollectionEntries } from '../link/link-entries.ts'
import type { SourceText } from '../read/document.ts'
import { extensionOf, formatOf } from '../read/formats.ts'
import { compileCollection } from '../schema/compile-schema.ts'
import type { Model } from '../schema/model.ts'
import type { SettingProblem } from '../schema/settings-reader.ts'
import type { Entry } from '../validate/entry.ts'
import type { AssetReader } from './assets.ts'
import { checkFile, type FileResult } from './check-file.ts'
import type { FileReader } from './file-reader.ts'
import { keptFile } from './sources.ts'

/** What the collections of a site have in common. */
export interface CollectionContext {
  readonly model: Model
  readonly readFile: FileReader
  readonly asset: AssetReader
  /** The JSON text of the entries, where they come from elsewhere. */
  readonly source: SourceText | undefined
}

/** Reads and checks all files of one collection. */
export async function checkCollection(
  { collection, files, base }: CollectionFiles,
  { model, readFile, asset, source: fetched }: CollectionContext,
): Promise<CollectionEntries & { diagnostics: Diagnostic[]; problems: SettingProblem[] }> {
  const checks = compileCollection(collection, model.blocks)
  const growing = new Set(model.collections.flatMap(({ name, createFrom }) => (createFrom === undefined ? [] : [name])))
  const { locales } = model
  const hasMdx = collection.body !== undefined && files.some(({ path }) => extensionOf(path) === '.mdx')
  const { readBody, problems } = await createReader(
    { blocks: [...model.blocks.keys()], settings: collection.body, hasMdx },
    collection.name,
  )
  const diagnostics: Diagnostic[] = []
  const entries: Entry[] = []
  const failedFiles: FailedFile[] = []
  const dropped: { file: string; span: readonly [number, number] }[] = []
  if (collection.source && !fetched) failedFiles.push({ file: keptFile(collection.name), id: undefined })
  const sources = fetched ? [{ path: fetched.file, named: true }] : files
  for (const assigned of sources) {
    const format = formatOf(assigned.path)
    const source = fetched ?? readFile(assigned.path)
    const { file } = source
    let result: FileResult
    if ('diagnostic' in source) result = failure(source.diagnostic)
    else if (!format) {
      const extension = extensionOf(assigned.path)
      result = failure(createDiagnostic('file-format-unknown', { file, span: [0, 0] }, { extension }))
    } else result = checkFile(source, assigned, { collection, base, checks, format, locales, growing, asset, readBody })
    for (const diagnostic of result.diagnostics) diagnostics.push(diagnostic)
    for (const entry of result.entries) entries.push(entry)
    if (result.droppedBody) dropped.push({ file, span: result.droppedBody })
    if (!result.failed) continue
    const single = collection.idKey === undefined && collection.perFile !== 'many' && !assigned.named
    failedFiles.push({ file, id: single ? nameFile(assigned.path, { base, collection, locales }).id : undefined })
  }
  const [first] = dropped
  if (first)
    diagnostics.push(createDiagnostic('body-dropped', first, { collection: collection.name, files: dropped.length }))
  return { collection, entries, failedFiles, diagnostics, problems }
}

/** A reader of bodies; where a plugin cannot be added there is a problem, and a reader without plugins. */
async function createReader(
  options: ReaderOptions,
  collection: string,
): Promise<{ readBody: BodyReader; problems: SettingProblem[] }> {
  try {
    return { readBody: await createBodyReader(options), problems: [] }
  } catch (error) {
    if (!(error instanceof PluginFailure)) throw error
    const settings = options.settings && { ...options.settings, markdownPlugins: [] }
    const parameters = { plugin: error.plugin, reason: error.message }
    const problem: SettingProblem = {
      code: 'config-plugin-failed',
      path: ['collections', collection, 'body'],
      parameters,
    }
    return { readBody: await createBodyReader({ ...options, settings }), problems: [problem] }
  }
}

const failure = (diagnostic: Diagnostic): FileResult => ({ entries: [], diagnostics: [diagnostic], failed: true })

import type { BodyReader } from '../body/body-reader.ts'
import { createDiagnostic, type Diagnostic } from '../diagnostics/diagnostic.ts'
import type { AssignedFile, CollectionFiles } from '../find/assign-files.ts'
import { nameFile } from '../find/name-file.ts'
import type { Host } from '../host/host.ts'
import type { FailedFile } from '../link/dangling.ts'
import type { CollectionEntries } from '../link/link-entries.ts'
import type { SourceText } from '../read/document.ts'
import { extensionOf, formatOf } from '../read/formats.ts'
import { compileCollection } from '../schema/compile-schema.ts'
import type { PatternMatcher } from '../schema/field.ts'
import type { Model } from '../schema/model.ts'
import type { SettingProblem } from '../schema/settings-reader.ts'
import type { Entry } from '../validate/entry.ts'
import type { AssetReader } from './assets.ts'
import { type CollectionMemory, createCollectionMemory, type Recalled } from './cache/collection-memory.ts'
import type { AskedAsset } from './cache/file-record.ts'
import type { SiteMemory } from './cache/site-memory.ts'
import { checkFile, type FileContext, type FileResult } from './check-file.ts'
import { type CollectionReader, createCollectionReader } from './collection-reader.ts'
import type { FileReader } from './file-reader.ts'
import { keptFile } from './sources.ts'

/** What the collections of a site have in common. */
export interface CollectionContext {
  readonly model: Model
  readonly readFile: FileReader
  readonly asset: AssetReader
  /** The JSON text of the entries, where they come from elsewhere. */
  readonly source: SourceText | undefined
  readonly memory: SiteMemory
  readonly host: Host
  readonly matches: PatternMatcher
  /** A digest of the configuration's code; undefined where that is not known. */
  readonly code: string | undefined
}

/** A collection that was checked. */
export interface CheckedCollection extends CollectionEntries {
  readonly diagnostics: readonly Diagnostic[]
  readonly problems: readonly SettingProblem[]
  readonly bodies: BodyReader
  /** Records that gave no entry, since nothing names them. */
  readonly unnamedCount: number
}

/** Reads and checks all files of one collection; those that are as they were are recalled. */
export async function checkCollection(found: CollectionFiles, context: CollectionContext): Promise<CheckedCollection> {
  const { collection, files } = found
  const { model, source: fetched, memory } = context
  const { name } = collection
  const { stages, state } = memory
  const last = stages?.checked.get(name)
  const reader =
    last?.model === model
      ? last.reader
      : createCollectionReader(
          { blocks: [...model.blocks.keys()], settings: collection.body, hasMaps: memory.hasMaps },
          name,
        )
  const { bodies, problems } = reader
  const growing = growingNames(model)
  const kept = createCollectionMemory(found, { ...context, bodies, growing })
  const assignments = fetched ? [{ path: fetched.file, named: true }] : files
  // As long as the configuration and the names of files are the same, only what was touched is looked at.
  const known = !fetched && last?.files === files && last.model === model ? last : undefined
  const touched = state.touched()?.map((file) => file.slice(model.content.length + 1))
  const wanted = known && positionsToCheck(known, touched)
  const recalled = (wanted ?? [...assignments.keys()]).map((at) => {
    const assigned = assignments[at] as AssignedFile
    return { at, assigned, memory: kept.recall(assigned) }
  })
  const isUnread = ({ assigned, memory }: (typeof recalled)[number]): boolean =>
    !memory.result && extensionOf(assigned.path) === '.mdx'
  if (collection.body && recalled.some(isUnread)) await bodies.loadMdx()
  const check = createFileCheck(found, { ...context, bodies, growing, kept })
  const results = wanted && known ? [...known.results] : []
  const asking = new Set(wanted && known?.asking)
  for (const { at, assigned, memory: past } of recalled) {
    results[at] = past.result ?? check(assigned, past)
    if (kept.asksForFiles(assigned)) asking.add(at)
    else asking.delete(at)
  }
  const positions = known?.positions ?? new Map(assignments.map(({ path }, at) => [path, at]))
  stages?.checked.set(name, { model, files, positions, results, asking, reader })
  return { ...gatherResults(found, context, { assignments, results }), problems, bodies }
}

/** Makes the check of single files, whose results are remembered. */
function createFileCheck(
  { collection, base }: CollectionFiles,
  {
    host,
    model,
    asset,
    source: fetched,
    readFile,
    matches,
    kept,
    ...rest
  }: CollectionContext & Pick<FileContext, 'bodies' | 'growing'> & { readonly kept: CollectionMemory },
): (assigned: AssignedFile, recalled: Recalled) => FileResult {
  const { blocks, locales } = model
  let checks: ReturnType<typeof compileCollection> | undefined
  return (assigned, { digest, bytes }) => {
    const source = fetched ? { ...fetched, bytes: undefined } : readFile(assigned.path, bytes)
    if ('diagnostic' in source) return failure(source.diagnostic)
    const format = formatOf(assigned.path)
    if (!format) {
      const place = { file: source.file, span: [0, 0] as const }
      return failure(createDiagnostic('file-format-unknown', place, { extension: extensionOf(assigned.path) }))
    }
    const assets: AskedAsset[] = []
    const ask: AssetReader = (path, from) => {
      const answer = asset(path, from)
      assets.push({ path, from, answer })
      return answer
    }
    checks ??= compileCollection(collection, blocks)
    const { bodies, growing } = rest
    const fileContext = {
      collection,
      base,
      checks,
      format,
      locales,
      growing,
      asset: ask,
      bodies,
      matches,
    }
    const result = checkFile(source, assigned, fileContext)
    // A file may have changed since its digest was taken.
    const checked = bytes === undefined && source.bytes ? host.digest(source.bytes) : digest
    kept.remember(assigned, { digest: fetched ? host.digest(fetched.text) : checked, result, assets })
    return result
  }
}

/** Puts the results of files together to those of their collection. */
function gatherResults(
  { collection, base }: CollectionFiles,
  { model: { content, locales }, source: fetched }: CollectionContext,
  { assignments, results }: { readonly assignments: readonly AssignedFile[]; readonly results: readonly FileResult[] },
): Omit<CheckedCollection, 'problems' | 'bodies'> {
  const entries: Entry[] = []
  const diagnostics: Diagnostic[] = []
  const failedFiles: FailedFile[] = []
  let unnamedCount = 0
  const dropped: { file: string; span: readonly [number, number] }[] = []
  if (collection.source && !fetched) failedFiles.push({ file: keptFile(collection.name), id: undefined })
  for (let at = 0; at < results.length; at++) {
    const result = results[at] as FileResult
    for (const entry of result.entries) entries.push(entry)
    if (result.diagnostics.length === 0 && !result.droppedBody && !result.failed) continue
    unnamedCount += result.unnamedCount ?? 0
    const { path, named } = assignments[at] as AssignedFile
    const file = fetched?.file ?? `${content}/${path}`
    for (const diagnostic of result.diagnostics) diagnostics.push(diagnostic)
    if (result.droppedBody) dropped.push({ file, span: result.droppedBody })
    if (!result.failed) continue
    const isSingle = collection.idKey === undefined && collection.perFile !== 'many' && !named
    failedFiles.push({ file, id: isSingle ? nameFile(path, { base, collection, locales }).id : undefined })
  }
  const [first] = dropped
  if (first)
    diagnostics.push(createDiagnostic('body-dropped', first, { collection: collection.name, files: dropped.length }))
  return { collection, entries, failedFiles, diagnostics, unnamedCount }
}

/** The results of the files of collections in the last run. */
export type CheckedMemory = Map<string, CheckedFiles>

interface CheckedFiles {
  readonly model: Model
  readonly files: readonly AssignedFile[]
  /** Of the files, by path. */
  readonly positions: ReadonlyMap<string, number>
  readonly results: readonly FileResult[]
  readonly reader: CollectionReader
  /** Positions of files that ask for other files. */
  readonly asking: ReadonlySet<number>
}

/** The positions of files that may have another result; undefined where all may. */
function positionsToCheck(
  { positions, asking }: CheckedFiles,
  touched: readonly string[] | undefined,
): number[] | undefined {
  if (!touched) return undefined
  const found = touched.map((path) => positions.get(path)).filter((at) => at !== undefined)
  return [...new Set([...found, ...asking])].sort((a, b) => a - b)
}

/** Collections in which references make entries. */
const growingNames = ({ collections }: Model): ReadonlySet<string> =>
  new Set(collections.flatMap(({ name, createFrom }) => (createFrom === undefined ? [] : [name])))

const failure = (diagnostic: Diagnostic): FileResult => ({ entries: [], diagnostics: [diagnostic], failed: true })

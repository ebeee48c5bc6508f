import type { BodyReader } from '../body/body-reader.ts'
import { createDiagnostic, type Diagnostic, isFault } from '../diagnostics/diagnostic.ts'
import type { AssignedFile, CollectionFiles } from '../find/assign-files.ts'
import { nameFile } from '../find/name-file.ts'
import type { Host } from '../host/host.ts'
import type { FailedFile } from '../link/failed-files.ts'
import type { CollectionEntries } from '../link/link-entry.ts'
import type { Memo } from '../memo/memo.ts'
import type { SourceText } from '../read/document.ts'
import { extensionOf, formatOf } from '../read/formats.ts'
import type { AssetAnswer } from '../schema/asset.ts'
import type { PatternMatcher } from '../schema/check-run.ts'
import { compileCollection } from '../schema/compile-schema.ts'
import { bodyDemandsOf, type Model } from '../schema/model.ts'
import type { SettingProblem } from '../schema/settings-reader.ts'
import { loadTransliterator, type Transliterator } from '../schema/transliterator.ts'
import type { Reference } from '../validate/entry.ts'
import { createListTable } from '../validate/list-table.ts'
import { createPathTable } from '../validate/path-table.ts'
import { createWrittenPaths } from '../validate/written-paths.ts'
import type { AssetReader } from './assets.ts'
import {
  type AssetQuestion,
  type FileAnswer,
  type FileCache,
  type FileQuestion,
  isSameAnswer,
  openFileCache,
  type Recalled,
} from './cache/file-cache.ts'
import type { SiteMemory } from './cache/site-memory.ts'
import { checkFile, type FileContext, type FileResult } from './check-file.ts'
import { createCollectionReader } from './collection-reader.ts'
import type { FileReader } from './file-reader.ts'
import { createRecentDocuments, type RecentDocuments } from './held-document.ts'
import { keptFile } from './sources.ts'

/** The surroundings of the check of a collection. */
export interface CollectionContext {
  readonly model: Model
  readonly readFile: FileReader
  readonly asset: AssetReader
  /** The JSON text of the entries, where they come from elsewhere. */
  readonly source: SourceText | undefined
  readonly memory: SiteMemory
  /** The paths of files whose results may be different; undefined where all may be. */
  readonly touched: ReadonlySet<string> | undefined
  readonly host: Host
  readonly matches: PatternMatcher
  /** A digest of the configuration's code; undefined where that is not known. */
  readonly code: string | undefined
}

/** A collection that was checked. */
export interface CheckedCollection extends CollectionEntries {
  readonly diagnostics: readonly Diagnostic[]
  readonly problems: readonly SettingProblem[]
  /** Records that gave no entry, since nothing names them. */
  readonly unnamedCount: number
}

/** Reads and checks all files of one collection; those that are as they were are recalled. */
export async function checkCollection(found: CollectionFiles, context: CollectionContext): Promise<CheckedCollection> {
  const { collection, files } = found
  const { model, source: fetched, memory } = context
  const memo = memory.memo.within('files').within(collection.name)
  const { reader, problems } = memo.value('reader', [model.outline], () =>
    createCollectionReader(
      {
        blocks: [...model.blocks.keys()],
        settings: collection.body,
        hasMaps: memory.hasMaps,
        compilesMdx: context.host.environment('ZINC_PANTRY_MDX') === 'compiler',
        ...bodyDemandsOf(model),
      },
      collection.name,
    ),
  )
  memory.bodies.setReader(collection.name, reader)
  const recent = createRecentDocuments()
  const cache = openFileCache(found, { ...context, reader, recent })
  const assignments = fetched ? [{ path: fetched.file, named: true }] : files
  const recalled = memo.map('recalled', assignments, {
    inputs: [cache.scope ?? model],
    keyOf: ({ path }) => path,
    dirty: context.touched,
    look: cache.answer,
    make: cache.recall,
    isSameRead: isSameAnswer,
  })
  const isUnread = ({ assigned, result }: Recalled): boolean =>
    !result && context.touched?.has(assigned.path) !== false && formatOf(assigned.path, model.endings)?.name === 'mdx'
  if (collection.body && recalled.some(isUnread)) await reader.loadMdx()
  const isTransliterated = collection.slug.by === 'key' && recalled.some(({ result }) => !result)
  const transliterate = await loadTransliterator(isTransliterated)
  const check = createFileCheck(found, { ...context, reader, cache, transliterate, recent })
  const results = memo.map('checked', recalled, {
    look: ({ assigned }, question: FileQuestion) => cache.answer(assigned, question),
    make: (one, read) => one.result ?? check(one, read),
    isSameRead: isSameAnswer,
    isKept: ({ diagnostics }) => !diagnostics.some(isFault),
  })
  return { ...gatherResults(found, context, { memo, assignments, results }), problems }
}

/** Makes the check of single files, whose results are kept. */
function createFileCheck(
  { collection, base }: CollectionFiles,
  {
    host,
    model,
    source: fetched,
    readFile,
    matches,
    memory,
    cache,
    reader,
    transliterate,
    recent,
  }: CollectionContext & {
    readonly cache: FileCache
    readonly recent: RecentDocuments
    readonly reader: BodyReader
    readonly transliterate: Transliterator
  },
): (recalled: Recalled, read: (question: FileQuestion) => FileAnswer) => FileResult {
  const { blocks, locales } = model
  const written = createWrittenPaths(collection, blocks)
  const pathOf = createPathTable()
  const referencesOf = createListTable<Reference>(({ text }) => text)
  const readAgain = (path: string): SourceText | undefined => {
    const again = fetched ?? readFile(path)
    return 'text' in again ? again : undefined
  }
  let checks: ReturnType<typeof compileCollection> | undefined
  return (recalled, read) => {
    const { assigned, digest } = recalled
    const bytes = fetched ? undefined : memory.state.takeBytes(`${model.content}/${assigned.path}`)
    const source = fetched ? { ...fetched, bytes: undefined } : readFile(assigned.path, bytes)
    // Functions below are held as long as the bodies: they see the name, since what they see of the source would be held with them.
    const { file } = source
    if ('diagnostic' in source) return failure(source.diagnostic)
    const format = formatOf(assigned.path, model.endings)
    if (!format) {
      const place = { file, span: [0, 0] as const }
      return failure(createDiagnostic('file-format-unknown', place, { extension: extensionOf(assigned.path) }))
    }
    const assets: (readonly [AssetQuestion, AssetAnswer])[] = []
    const ask: AssetReader = (path, from) => {
      const answer = read({ path, from }) as AssetAnswer
      assets.push([{ path, from }, answer])
      return answer
    }
    checks ??= compileCollection(collection, blocks)
    const { scope } = cache
    const records = fetched ? undefined : memory.records
    // Several collections may read one file.
    const place = `${collection.name} ${file}`
    const known = records?.get(place)
    records?.delete(place)
    const fileContext: FileContext = {
      collection,
      base,
      checks,
      format,
      locales,
      blocks,
      asset: ask,
      matches,
      written,
      pathOf,
      referencesOf,
      transliterate,
      parseBody(format, text) {
        memory.bodies.register(text.file, { reader, format, read: () => text })
        return memory.bodies.parse(text.file)
      },
      readAgain,
      recent,
      last: known?.scope === scope ? known : undefined,
      keepRecords:
        records && scope !== undefined
          ? (found) => {
              // Files that entries name are looked at each time.
              if (assets.length === 0) records.set(place, { scope, ...found })
            }
          : undefined,
      summariseText: (text) => reader.readMarkdown({ text, file, startOffset: 0 }).textSummary(),
    }
    // Not with the bytes, which would be held as long as the entries.
    const result = checkFile({ file, text: source.text }, assigned, fileContext)
    // A file may have changed since its digest was taken.
    const checked = bytes === undefined && source.bytes ? host.digest(source.bytes) : digest
    cache.keep(recalled, { digest: checked, result, assets })
    return result
  }
}

/** The results of the files of a collection, side by side with these. */
interface GatheredFiles {
  readonly memo: Memo
  readonly assignments: readonly AssignedFile[]
  readonly results: readonly FileResult[]
}

/** True for a file of which there is more to say than its entries. */
const isTold = ({ diagnostics, droppedBody, failed }: FileResult): boolean =>
  diagnostics.length > 0 || droppedBody !== undefined || failed

/** Puts the results of files together to those of their collection. */
function gatherResults(
  { collection, base }: CollectionFiles,
  { model: { content, locales }, source: fetched }: CollectionContext,
  { memo, assignments, results }: GatheredFiles,
): Omit<CheckedCollection, 'problems'> {
  const entries = memo.flat('entries', memo.map('entries of files', results, { make: (one) => one.entries }))
  const diagnostics: Diagnostic[] = []
  const failedFiles: FailedFile[] = []
  let unnamedCount = 0
  const dropped: { file: string; span: readonly [number, number] }[] = []
  if (collection.source && !fetched) failedFiles.push({ file: keptFile(collection.name), id: undefined })
  const told = memo.map('told', results, { make: (one) => (isTold(one) ? one : undefined) })
  for (let at = 0; at < told.length; at++) {
    const result = told[at]
    if (!result) continue
    unnamedCount += result.unnamedCount ?? 0
    const { path, named } = assignments[at] as AssignedFile
    const file = fetched?.file ?? `${content}/${path}`
    for (const diagnostic of result.diagnostics) diagnostics.push(diagnostic)
    if (result.droppedBody) dropped.push({ file, span: result.droppedBody })
    if (!result.failed) continue
    const isSingle = collection.id.by !== 'keys' && collection.perFile !== 'many' && !named
    failedFiles.push({ file, id: isSingle ? nameFile(path, { base, collection, locales }).id : undefined })
  }
  const [first] = dropped
  if (first)
    diagnostics.push(createDiagnostic('body-dropped', first, { collection: collection.name, files: dropped.length }))
  return { collection, entries, failedFiles, diagnostics, unnamedCount }
}

const failure = (diagnostic: Diagnostic): FileResult => ({ entries: [], diagnostics: [diagnostic], failed: true })

import { appendAll } from '../diagnostics/append-all.ts'
import { arrangeDiagnostics, createDiagnostic, type Diagnostic, hasErrors } from '../diagnostics/diagnostic.ts'
import { HostError } from '../host/host.ts'
import type { Viewing } from '../link/publication.ts'
import type { Model } from '../schema/model.ts'
import type { WrittenOutput } from './cache/run-record.ts'
import { CACHE_FOLDER, type MemoryOptions, openSiteMemory, type SiteMemory } from './cache/site-memory.ts'
import { type Checked, checkContent } from './check.ts'
import type { CheckContext } from './check-context.ts'
import { accountForFile, type FileAccount } from './file-account.ts'
import { createSeenFinder } from './graph/compute-site.ts'
import { emitSite } from './graph/emit-site.ts'
import { createRendering, type SiteRendering } from './graph/render-site.ts'
import { type LoadedInputs, loadInputs } from './load-inputs.ts'
import { orderComputed } from './order-entries.ts'
import { ForeignFile, startPublishing, type WrittenFiles } from './publish.ts'
import { createTextSource } from './read-text.ts'
import { refreshSchemas } from './schema-files.ts'
import type { BuildReport, SiteOptions, SiteReport } from './site-report.ts'
import { type BodyThreads, NO_THREADS, openBodyThreads } from './threads/body-threads.ts'
import { inOrder } from './threads/in-order.ts'
import type { Without } from './without.ts'
import { writeImages } from './write-images.ts'

/** The options of a run. */
export interface RunOptions extends SiteOptions {
  readonly viewing: Viewing
  readonly memory: SiteMemory
  /** Content that is taken for not there. */
  readonly without?: Without
}

/** Content that was checked. */
export interface CheckedSite {
  readonly report: SiteReport
  readonly checked: Checked
  readonly model: Model | undefined
  readonly rendering: SiteRendering
}

const NOTHING: Omit<Checked, 'textOf'> = {
  collections: [],
  diagnostics: [],
  fileCount: 0,
  unmatchedCount: 0,
  unnamedCount: 0,
  failedFileCount: 0,
  entryCount: 0,
  implicit: [],
  boundaries: [],
  resolveLink: () => ({ kind: 'outside' }),
  whole: { computed: [], diagnostics: [], steps: [] },
  assetState: undefined,
  bodies: undefined,
  hasImports: false,
  owners: new Map(),
  asset: (path) => ({ missing: path, suggestion: undefined }),
  highlighter: undefined,
}

/** Checks the content of a site. */
async function checkInputs(
  loaded: LoadedInputs,
  options: RunOptions & Pick<CheckContext, 'isReportOnly'> & { readonly threads?: BodyThreads },
): Promise<CheckedSite> {
  const {
    host,
    memory,
    configurationFile,
    viewing,
    unused = false,
    onProgress,
    without,
    isReportOnly = false,
    threads = NO_THREADS,
  } = options
  const { inputs, model, diagnostics } = loaded
  const started = host.now()
  const context = {
    ...{ host, configurationFile, viewing, unused, memory, isReportOnly },
    ...(onProgress ? { onProgress } : {}),
    ...(without ? { without } : {}),
  }
  const checked: Checked = inputs
    ? await checkContent({ ...inputs, ...context })
    : { ...NOTHING, textOf: createTextSource(host) }
  const { collections, fileCount, unmatchedCount, entryCount, implicit, textOf } = checked
  const report: SiteReport = {
    diagnostics: [...diagnostics, ...checked.diagnostics],
    textOf,
    entryCount,
    fileCount,
    unmatchedCount,
    implicit,
    collectionCount: collections.length,
    collectionNames: model?.collections.map(({ name }) => name) ?? [],
    milliseconds: host.now() - started,
  }
  const { blocks = new Map(), assetBase = '/', outline = {} } = model ?? {}
  const rendering = createRendering({ ...checked, blocks, assetBase, outline, memory, threads })
  return { report, checked, model, rendering }
}

/** The findings and the output of a run. */
export interface FinishedRun {
  readonly report: BuildReport
  /** The output; undefined where nothing was written. */
  readonly output: WrittenOutput | undefined
  readonly boundaries: readonly string[]
  /** True where the outcome depends on files that are neither content nor configuration. */
  readonly hasImports: boolean
}

/** Checks the content of a site and, in a build, writes the output. */
export async function runSite(loaded: LoadedInputs, options: SiteRun): Promise<FinishedRun> {
  const threads = loaded.model ? openBodyThreads(loaded.model, options) : NO_THREADS
  try {
    return await runWith(loaded, { ...options, threads })
  } finally {
    threads.end()
  }
}

/** What a run does. */
interface SiteRun extends RunOptions {
  readonly isBuild: boolean
  readonly known?: WrittenFiles | undefined
}

async function runWith(
  loaded: LoadedInputs,
  { isBuild, ...options }: SiteRun & { readonly threads: BodyThreads },
): Promise<FinishedRun> {
  const { why } = options
  const site = await checkInputs(loaded, { ...options, isReportOnly: !isBuild && why === undefined })
  const { report, checked, model } = site
  const { boundaries, hasImports } = checked
  const account = why === undefined ? {} : { account: accountOf(why, loaded, { checked, ...options }) }
  const unwritten = (diagnostics: readonly Diagnostic[]): FinishedRun => ({
    report: {
      ...report,
      ...account,
      diagnostics: arrangeDiagnostics([...report.diagnostics, ...diagnostics]),
      ...NO_OUTPUT,
    },
    output: undefined,
    boundaries,
    hasImports,
  })
  if (!isBuild) return unwritten(await compileMdx(site))
  if (!model || hasErrors(report.diagnostics)) return unwritten([])
  try {
    for (let attempt = 1; ; attempt++) {
      const { diagnostics, output, written } = await publish(model, site, options)
      if (diagnostics.length > 0) return unwritten(diagnostics)
      if (output) {
        // A draft may refer to another, whether the output has them or not.
        refreshSchemas(options.host, orderComputed(checked.whole.computed), model)
        return {
          report: {
            ...report,
            ...account,
            output: model.output,
            writtenCount: written,
            orderSizes: orderSizesOf(output),
          },
          output,
          boundaries,
          hasImports,
        }
      }
      forgetOutput(options.memory)
      if (attempt === MOST_ATTEMPTS) throw new HostError('other builds write it all the time')
    }
  } catch (error) {
    forgetOutput(options.memory)
    if (error instanceof ForeignFile) {
      const { file } = error
      return unwritten([createDiagnostic('output-foreign', { file, span: [0, 0] }, { file })])
    }
    if (!(error instanceof HostError)) throw error
    const place = { file: model.output, span: [0, 0] as const }
    return unwritten([createDiagnostic('output-unwritable', place, { reason: error.message })])
  }
}

/** What the last run did with a file, and what depends on it. */
export function accountOf(
  file: string,
  { inputs, configurationFiles }: LoadedInputs,
  { checked, host, memory }: Pick<CheckedSite, 'checked'> & Pick<RunOptions, 'host' | 'memory'>,
): FileAccount {
  const start = `${inputs?.model.content}/`
  const contentPath = file.startsWith(start) ? file.slice(start.length) : undefined
  const { collections, resolveLink, whole } = checked
  const seenBy = createSeenFinder(whole)
  const context = { contentPath, isInput: configurationFiles.includes(file), isThere: host.size(file) !== undefined }
  return accountForFile(file, { ...context, collections, resolveLink, seenBy, reasons: memory.reasons })
}

/** How large the orders of all collections are. */
const orderSizesOf = ({ collections }: WrittenOutput): Record<string, number> =>
  Object.fromEntries(
    collections.flatMap(({ name, orderSizes }) =>
      Object.entries(orderSizes).map(([order, size]) => [`${name}.${order}`, size] as const),
    ),
  )

const NO_OUTPUT = { output: undefined, writtenCount: 0 }

/** The number of attempts to write what another build takes away. */
const MOST_ATTEMPTS = 3

/** Forgets chunks: where some may be missing, all are made again. */
export const forgetOutput = ({ memo }: SiteMemory): void => memo.within('output').clear()

/** Compiles all MDX: a body that can be read can still fail to compile. */
export async function compileMdx({ checked, rendering }: CheckedSite): Promise<readonly Diagnostic[]> {
  const diagnostics: Diagnostic[] = []
  for (const { collection, entries } of checked.collections) {
    const own = entries.filter(({ body }) => body?.format === 'mdx')
    const rendered = inOrder(rendering.bodies({ collection, entries: own }), (one) => one.render(), rendering.atOnce)
    for await (const result of rendered) appendAll(diagnostics, result.diagnostics)
  }
  return diagnostics
}

/** Renders and writes everything. There is no output where another build removed chunks meanwhile. */
async function publish(
  model: Model,
  { checked: { collections }, rendering }: CheckedSite,
  { host, memory, known, configurationFile, onProgress }: RunOptions & { readonly known?: WrittenFiles | undefined },
): Promise<{ diagnostics: readonly Diagnostic[]; output: WrittenOutput | undefined; written: number }> {
  const { memo } = memory
  const publisher = startPublishing(host, model.output, { generation: memory.generation, known })
  if (!publisher.isSole) forgetOutput(memory)
  try {
    const { bodies } = memory
    const context = {
      ...{ model, configurationFile, rendering, bodies, publisher },
      ...{ memo: memo.within('output'), digest: host.digest },
      runtime: model.standalone ? host.queryRuntime?.() : undefined,
    }
    const emitted = await emitSite(collections, context)
    const ofImages = { host, content: model.content, publisher, isKept: memory.isStored, onProgress }
    const diagnostics =
      emitted.diagnostics.length > 0 ? emitted.diagnostics : await writeImages(emitted.renditions(), ofImages)
    if (diagnostics.length > 0) return { diagnostics, output: undefined, written: 0 }
    const generation = await publisher.finish(emitted.entryFiles)
    if (generation) memory.generation = generation
    return {
      diagnostics,
      output: generation && { ...emitted, folder: model.output, files: generation.files },
      written: publisher.written,
    }
  } finally {
    await publisher.end()
  }
}

/** How a site is examined. */
export interface ExamineOptions extends SiteOptions, Pick<MemoryOptions, 'isShared' | 'seed'> {
  readonly without?: Without
}

/** A site that was examined. */
export interface ExaminedSite extends CheckedSite {
  /** The files of the content folder. */
  readonly listing: readonly string[]
  readonly memory: SiteMemory
}

/** Checks a site for those who want its entries, or to know what it would be without some. Nothing is written. */
export async function examineSite(options: ExamineOptions): Promise<ExaminedSite> {
  const { host, configurationFile, cache = true, isShared, seed, only } = options
  const memory = openSiteMemory(host, { isKept: cache, isLong: false, isShared, seed })
  const loaded = await loadInputs(host, configurationFile, { kept: cache ? CACHE_FOLDER : undefined, only })
  return examineInputs(loaded, { ...options, memory })
}

/** Checks inputs that are loaded, for those who want the entries. */
export async function examineInputs(
  loaded: LoadedInputs,
  options: ExamineOptions & { readonly memory: SiteMemory },
): Promise<ExaminedSite> {
  const { host, memory, drafts = false, instant = host.clock() } = options
  const site = await checkInputs(loaded, { ...options, viewing: { drafts, instant } })
  return { ...site, memory, listing: loaded.inputs?.listing.files ?? [] }
}

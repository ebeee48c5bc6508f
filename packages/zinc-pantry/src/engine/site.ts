import { type Diagnostic, isFault } from '../diagnostics/diagnostic.ts'
import type { TextSource } from '../diagnostics/render-text.ts'
import type { Host } from '../host/host.ts'
import type { ImplicitEntry } from '../link/implicit-entries.ts'
import {
  describeRun,
  type OutputRecord,
  type RunKind,
  type RunRecord,
  recallRun,
  recordOutput,
  runName,
} from './cache/run-record.ts'
import { CACHE_FOLDER, openSiteMemory, type SiteMemory } from './cache/site-memory.ts'
import type { Progress } from './check.ts'
import type { FileAccount } from './file-account.ts'
import { readText } from './read-text.ts'
import { surveySite } from './survey.ts'

/** What to work on, and how. */
export interface SiteOptions {
  readonly host: Host
  /** Relative to the host's root. */
  readonly configurationFile: string
  /** Drafts, and what is not yet or no longer to be seen, are part of the output too. Default: false. */
  readonly drafts?: boolean
  /** Lists files that no entry uses and pages to which nothing leads, as warnings. Default: false. */
  readonly unused?: boolean
  /** The moment by which dates of publication are compared, as an instant in UTC. Default: now. */
  readonly instant?: string
  /**
   * What was found is kept in the folder `.pantry/cache`, so that the next run does only what changed. Default: true.
   */
  readonly cache?: boolean
  /** A file, relative to the root, of which a build tells what it did with it and why. Default: none. */
  readonly why?: string
  /** Called now and then while files are checked. */
  onProgress?(progress: Progress): void
}

/** What a run over a site found. */
export interface SiteReport {
  /** In the order of files and places. */
  readonly diagnostics: readonly Diagnostic[]
  /** The texts that diagnostics point into. */
  readonly textOf: TextSource
  readonly entryCount: number
  readonly fileCount: number
  /** Files of the content folder that belong to no collection, pictures and the like included. */
  readonly unmatchedCount: number
  readonly collectionCount: number
  /** The names of the collections, in the order of the configuration. */
  readonly collectionNames: readonly string[]
  /** Entries that references made, in the order of collections and ids. */
  readonly implicit: readonly ImplicitEntry[]
  readonly milliseconds: number
}

/** A {@link SiteReport} of a build. */
export interface BuildReport extends SiteReport {
  /** Relative to the host's root; undefined where nothing was written because of errors. */
  readonly output: string | undefined
  /** How large the orders are that collections keep, by `collection.path`, in bytes, where something was written. */
  readonly orderSizes?: Readonly<Record<string, number>>
  /** Files that had to be written; the others were right already. */
  readonly writtenCount: number
  /** Where it was asked for. */
  readonly account?: FileAccount
}

/**
 * Checks a site: its configuration, every file, every value, every reference, every link. Nothing is written but what
 * is kept for the next time.
 *
 * Diagnostics: all but `output-unwritable`; `asset-unused` and `page-unlinked` on request.
 *
 * @example
 * ```ts
 * import { checkSite, createNodeHost, messageOf } from 'zinc-pantry/engine'
 *
 * const report = await checkSite({ host: createNodeHost('.'), configurationFile: 'pantry.config.ts' })
 * for (const diagnostic of report.diagnostics) console.log(diagnostic.file, messageOf(diagnostic))
 * ```
 */
export async function checkSite(options: SiteOptions): Promise<SiteReport> {
  const { output: _, writtenCount: __, ...report } = await workOnce(options, 'check')
  return report
}

/**
 * Checks a site and, where there are no errors, writes the generated folder. With errors the last good
 * output stays as it is.
 *
 * Diagnostics: all of `checkSite`, and `output-unwritable`.
 *
 * @example
 * ```ts
 * import { buildSite, createNodeHost } from 'zinc-pantry/engine'
 *
 * const { output, entryCount } = await buildSite({ host: createNodeHost('.'), configurationFile: 'pantry.config.ts' })
 * console.log(output ?? 'nothing written', entryCount)
 * ```
 */
export async function buildSite(options: SiteOptions): Promise<BuildReport> {
  return workOnce(options, 'build')
}

function workOnce(options: SiteOptions, name: RunKind['name']): Promise<BuildReport> {
  // What is not used can only be told with everything at hand.
  const isKept = (options.cache ?? true) && !options.unused
  return workOnSite(options, name, openSiteMemory(options.host, { isKept, isLong: false }))
}

/** Checks or builds a site with what is remembered of it. */
async function workOnSite(options: SiteOptions, name: RunKind['name'], memory: SiteMemory): Promise<BuildReport> {
  const { host, configurationFile, drafts = false, unused = false, cache = true, instant = host.clock() } = options
  const started = host.now()
  const kind: RunKind = { name, drafts }
  const surveyed = await surveySite(host, configurationFile, { kept: cache ? CACHE_FOLDER : undefined })
  const { survey } = surveyed
  const scope =
    survey && !unused && options.why === undefined
      ? describeRun(host, survey, { state: memory.state, kind })
      : undefined
  const known = scope === undefined ? undefined : recallRun(host, scope, { state: memory.state, kind, instant })
  const { listing, model } = survey ?? {}
  const finish = async (report: BuildReport): Promise<BuildReport> => {
    const kept = [...(survey?.sources.values() ?? [])].flatMap(({ text }) => text?.file ?? [])
    const files = listing?.files.map((path) => `${model?.content}/${path}`) ?? []
    await memory.save(new Set([...files, ...kept]))
    return { ...report, milliseconds: host.now() - started }
  }
  if (known) {
    const textOf: TextSource = (file) => readText(host, file)
    const nothing = { output: known.output?.folder, writtenCount: 0, milliseconds: 0 }
    return finish({ ...known.report, ...nothing, textOf })
  }
  // Loaded where there is something to do only: most of the time of a short run is that of loading code.
  const { runSite } = await import('./run-site.ts')
  const viewing = { drafts, instant }
  const {
    report,
    output: written,
    moments,
    hasImports,
  } = await runSite(surveyed, {
    ...options,
    viewing,
    memory,
    isBuild: name === 'build',
    known: lastOutput(memory.state.run(runName(kind)) as RunRecord | undefined),
  })
  const output = written && recordOutput(written)
  // What a machine did once it may not do again.
  if (scope !== undefined && !hasImports && !report.diagnostics.some(isFault))
    memory.state.setRun(runName(kind), createRecord(report, { scope, instant, moments, output }))
  return finish(report)
}

/** The states of the files of the last output, where it was kept. */
const lastOutput = (record: RunRecord | undefined): ReadonlyMap<string, string> | undefined =>
  record?.output && new Map(Object.entries(record.output.files))

function createRecord(
  { diagnostics, entryCount, fileCount, unmatchedCount, collectionCount, collectionNames, implicit }: SiteReport,
  rest: Omit<RunRecord, 'report'> & { readonly output: OutputRecord | undefined },
): RunRecord {
  return {
    ...rest,
    report: { diagnostics, entryCount, fileCount, unmatchedCount, collectionCount, collectionNames, implicit },
  }
}

import { isFault } from '../diagnostics/diagnostic.ts'
import {
  createRecord,
  describeRun,
  type RunKind,
  type RunRecord,
  recallRun,
  recordOutput,
  runName,
} from './cache/run-record.ts'
import { CACHE_FOLDER, openSiteMemory, type SiteMemory } from './cache/site-memory.ts'
import { contentFilesOf, keptAnswersOf, loadInputs } from './load-inputs.ts'
import { createTextSource } from './read-text.ts'
import type { BuildReport, SiteOptions, SiteReport } from './site-report.ts'

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
  const loaded = await loadInputs(host, configurationFile, { kept: cache ? CACHE_FOLDER : undefined })
  const { inputs } = loaded
  const scope =
    inputs && !unused && options.why === undefined
      ? describeRun(host, inputs, { state: memory.state, kind })
      : undefined
  const known = scope === undefined ? undefined : recallRun(host, scope, { state: memory.state, kind, instant })
  const finish = async (report: BuildReport): Promise<BuildReport> => {
    await memory.save(() => new Set([...contentFilesOf(loaded), ...keptAnswersOf(loaded)]))
    return { ...report, milliseconds: host.now() - started }
  }
  if (known) {
    const nothing = { output: known.output?.folder, writtenCount: 0, milliseconds: 0 }
    return finish({ ...known.report, ...nothing, textOf: createTextSource(host) })
  }
  // Loaded where there is something to do only: most of the time of a short run is that of loading code.
  const { runSite } = await import('./run-site.ts')
  const viewing = { drafts, instant }
  const {
    report,
    output: written,
    boundaries,
    hasImports,
  } = await runSite(loaded, {
    ...options,
    viewing,
    memory,
    isBuild: name === 'build',
    known: lastOutput(memory.state.run(runName(kind)) as RunRecord | undefined),
  })
  const output = written && recordOutput(written)
  // What a machine did once it may not do again.
  if (scope !== undefined && !hasImports && !report.diagnostics.some(isFault))
    memory.state.setRun(runName(kind), createRecord(report, { scope, instant, boundaries, output }))
  return finish(report)
}

/** The states of the files of the last output, where it was kept. */
const lastOutput = (record: RunRecord | undefined): ReadonlyMap<string, string> | undefined =>
  record?.output && new Map(Object.entries(record.output.files))

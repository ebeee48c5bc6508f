import { arrangeDiagnostics, createDiagnostic, type Diagnostic, hasErrors } from '../diagnostics/diagnostic.ts'
import type { TextSource } from '../diagnostics/render-text.ts'
import { emitSite } from '../emit/emit-site.ts'
import { createPartKeeper } from '../emit/part-keeper.ts'
import { createSearchSources } from '../emit/search-texts.ts'
import { type Host, HostError } from '../host/host.ts'
import { openSite, type Site } from '../query/open-site.ts'
import type { Model } from '../schema/model.ts'
import type { Entry } from '../validate/entry.ts'
import { type Checked, checkContent, type Progress } from './check.ts'
import { loadModel } from './load-model.ts'
import { openInMemory } from './open-in-memory.ts'
import { startPublishing } from './publish.ts'
import { readText } from './read-text.ts'
import { createRendering, renderBodies, type SiteRendering } from './rendering.ts'

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
  readonly collectionCount: number
  readonly milliseconds: number
}

/** A {@link SiteReport} of a build. */
export interface BuildReport extends SiteReport {
  /** Relative to the host's root; undefined where nothing was written because of errors. */
  readonly output: string | undefined
  /** Files that had to be written; the others were right already. */
  readonly writtenCount: number
}

/** A {@link SiteReport} with the entries that passed, ready for queries. */
export interface OpenedSite extends SiteReport {
  readonly site: Site
  /** Entries left out because of errors in them. */
  readonly invalidCount: number
}

/** What a run found, for other parts of the engine. */
interface Run {
  readonly report: SiteReport
  readonly checked: Checked
  readonly model: Model | undefined
}

/** A run with all that it found. */
export async function runSite({
  host,
  configurationFile,
  onProgress,
  drafts = false,
  unused = false,
  instant = host.clock(),
}: SiteOptions): Promise<Run> {
  const started = host.now()
  const { model, diagnostics: problems } = await loadModel(host, configurationFile)
  const checked: Checked = model
    ? await checkContent({
        host,
        model,
        configurationFile,
        viewing: { drafts, instant },
        unused,
        ...(onProgress ? { onProgress } : {}),
      })
    : {
        collections: [],
        diagnostics: [],
        fileCount: 0,
        entryCount: 0,
        resolveLink: () => ({ kind: 'outside' }),
        highlighter: undefined,
        textOf: (file) => readText(host, file),
      }
  const report: SiteReport = {
    diagnostics: [...problems, ...checked.diagnostics],
    textOf: checked.textOf,
    entryCount: checked.entryCount,
    fileCount: checked.fileCount,
    collectionCount: checked.collections.length,
    milliseconds: host.now() - started,
  }
  return { report, checked, model }
}

/**
 * Checks a site: its configuration, every file, every value, every reference, every link. Nothing is written.
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
  const { report, checked, model } = await runSite(options)
  // What can be read as MDX can still fail to compile.
  const isMdx = ({ body }: Entry): boolean => body?.format === 'mdx'
  const compiled = checked.collections.map(({ collection, entries }) => ({
    collection,
    entries: entries.filter(isMdx),
  }))
  const { diagnostics } = await renderBodies(compiled, renderingOf(checked, model), {
    output: '',
    keep: () => '',
  })
  return diagnostics.length === 0 ? report : addDiagnostics(report, diagnostics)
}

const renderingOf = (checked: Checked, model: Model | undefined): SiteRendering =>
  createRendering({ ...checked, blocks: model?.blocks ?? new Map(), assetBase: model?.assetBase ?? '/' })

const addDiagnostics = <Report extends SiteReport>(report: Report, more: readonly Diagnostic[]): Report => ({
  ...report,
  diagnostics: arrangeDiagnostics([...report.diagnostics, ...more]),
})

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
  const { host } = options
  const started = host.now()
  const { report, checked, model } = await runSite(options)
  if (!model || hasErrors(report.diagnostics)) return { ...report, output: undefined, writtenCount: 0 }
  const rendering = renderingOf(checked, model)
  try {
    for (let attempt = 1; ; attempt++) {
      const { diagnostics, isWhole, written } = await publish(model, checked, { host, rendering })
      if (diagnostics.length > 0) return { ...addDiagnostics(report, diagnostics), output: undefined, writtenCount: 0 }
      const milliseconds = host.now() - started
      if (isWhole) return { ...report, output: model.output, writtenCount: written, milliseconds }
      if (attempt === MOST_ATTEMPTS) throw new HostError('other builds write it all the time')
    }
  } catch (error) {
    if (!(error instanceof HostError)) throw error
    const place = { file: model.output, span: [0, 0] as const }
    const diagnostic = createDiagnostic('output-unwritable', place, { reason: error.message })
    return { ...report, diagnostics: [...report.diagnostics, diagnostic], output: undefined, writtenCount: 0 }
  }
}

/** So often is written anew what another build took away. */
const MOST_ATTEMPTS = 3

/** Renders and writes everything. `isWhole` is false where another build removed parts meanwhile. */
async function publish(
  model: Model,
  { collections }: Checked,
  { host, rendering }: { readonly host: Host; readonly rendering: SiteRendering },
): Promise<{ diagnostics: readonly Diagnostic[]; isWhole: boolean; written: number }> {
  const publisher = startPublishing(host, model.output)
  try {
    const parts = createPartKeeper(host.digest, publisher.part)
    const { bodies, texts, diagnostics } = await renderBodies(collections, rendering, {
      output: model.output,
      keep: (collection, text) => parts.keep('bodies', collection, text),
    })
    if (diagnostics.length > 0) return { diagnostics, isWhole: false, written: 0 }
    const bodyText = (entry: Entry): string => texts.get(entry) ?? ''
    const heads = emitSite(model, collections, { ...rendering, bodies, parts, bodyText })
    return { diagnostics, isWhole: publisher.finish(heads), written: publisher.written }
  } finally {
    publisher.end()
  }
}

/**
 * Checks a site and opens the entries that passed for queries, in memory. Nothing is written.
 *
 * @example
 * ```ts
 * import { createNodeHost, openContent } from 'zinc-pantry/engine'
 * import { runQuery } from 'zinc-pantry/query'
 *
 * const { site } = await openContent({ host: createNodeHost('.'), configurationFile: 'pantry.config.ts' })
 * const { entries } = await runQuery(site, { collection: 'huts', limit: 5 })
 * console.log(entries.map((entry) => entry.id))
 * ```
 */
export async function openContent(options: SiteOptions): Promise<OpenedSite> {
  const { report, checked, model } = await runSite(options)
  const rendering = renderingOf(checked, model)
  if (!model) return { ...report, site: openSite([]), invalidCount: 0 }
  const valid = checked.collections.map(({ collection, entries }) => {
    const seen = new Set<string>()
    const isFirst = (key: string): boolean => !seen.has(key) && seen.add(key) !== undefined
    return {
      collection,
      entries: entries.filter(({ id, locale, data }) => data !== undefined && isFirst(`${locale ?? ''}\n${id}`)),
    }
  })
  const bodyText = ({ body }: Entry): string => body?.parsed.text() ?? ''
  const searchOf = createSearchSources(model, valid, { ...rendering, bodyText })
  const stored = valid.map((one) => openInMemory(one, { model, rendering, search: searchOf(one) }))
  const countOf = (collections: readonly { readonly entries: readonly Entry[] }[]): number =>
    collections.reduce((sum, { entries }) => sum + entries.length, 0)
  return {
    ...report,
    site: openSite(stored, model.locales),
    invalidCount: countOf(checked.collections) - countOf(valid),
  }
}

import { join, relative } from 'node:path'
import { pathToFileURL } from 'node:url'
import { type Diagnostic, isFault } from '../diagnostics/diagnostic.ts'
import { largest } from '../diagnostics/extremes.ts'
import { formatCount } from '../diagnostics/format-count.ts'
import { plural } from '../diagnostics/words.ts'
import type { BuildReport, SiteReport } from '../engine/site-report.ts'
import type { SitePlace } from './find-configuration.ts'
import { createPalette } from './palette.ts'
import { exitCodes, type Output, type Surroundings } from './surroundings.ts'
import { readVersion } from './version.ts'

/** Counts of a run, as people and programs want them. */
export interface Summary {
  readonly collections: number
  readonly files: number
  /** Files of the content folder that belong to no collection. */
  readonly unmatched: number
  readonly entries: number
  /** Entries that references made. */
  readonly implicit: number
  readonly errors: number
  readonly warnings: number
  readonly milliseconds: number
}

/** The counts of a report. */
function summarise(report: SiteReport): Summary {
  const errors = report.diagnostics.filter(({ severity }) => severity === 'error').length
  return {
    collections: report.collectionCount,
    files: report.fileCount,
    unmatched: report.unmatchedCount,
    entries: report.entryCount,
    implicit: report.implicit.length,
    errors,
    warnings: report.diagnostics.length - errors,
    milliseconds: Math.round(report.milliseconds),
  }
}

/** The line that ends every run: entries, problems, time. */
export function summaryLine(report: SiteReport, output: Output, surroundings: Surroundings): string {
  const { collections, files, unmatched, entries, implicit, errors, warnings, milliseconds } = summarise(report)
  const palette = createPalette(output, surroundings)
  const problems = [
    ...(errors > 0 ? [palette.error(plural(errors, 'error'))] : []),
    ...(warnings > 0 ? [palette.warning(plural(warnings, 'warning'))] : []),
  ]
  const verdict = problems.length > 0 ? problems.join(', ') : palette.good('no problems')
  const made = implicit === 0 ? '' : ` (${formatCount(implicit)} made by references)`
  const others = unmatched === 0 ? '' : `, ${plural(unmatched, 'file')} in no collection`
  const counted = `${plural(entries, 'entry', 'entries')}${made} in ${plural(collections, 'collection')} from ${plural(files, 'file')}${others}`
  return `${counted}: ${verdict} ${palette.faint(`(${(milliseconds / 1000).toFixed(2)} s)`)}\n`
}

/** Writes diagnostics in their text form, places relative to the working folder. */
export async function writeDiagnostics(
  report: SiteReport,
  site: SitePlace,
  output: Output,
  surroundings: Surroundings & { readonly all?: boolean | undefined },
): Promise<void> {
  const { diagnostics, textOf } = report
  if (diagnostics.length === 0) return
  // Loaded where there is something to draw only, like all that a clean run can do without.
  const { renderText } = await import('../diagnostics/render-text.ts')
  const nameOf = (file: string): string => relative(surroundings.folder, join(site.root, file))
  const palette = createPalette(output, surroundings)
  const isGrouped = surroundings.all !== true
  output.write(`${renderText(diagnostics, textOf, { palette, nameOf, isGrouped })}\n`)
  if (!isGrouped) return
  const { groupRepeated } = await import('../diagnostics/group-repeated.ts')
  if (groupRepeated(diagnostics).some(({ others }) => others.length > 0))
    output.write('Problems of one kind are told once; --all tells each, --summary counts them\n')
}

/** Writes how many problems there are by code, collection and field. */
export async function writeSummary({ diagnostics }: SiteReport, surroundings: Surroundings): Promise<void> {
  const { countProblems } = await import('../diagnostics/group-repeated.ts')
  const { stdout } = surroundings
  const { error, warning, faint } = createPalette(stdout, surroundings)
  const rows = countProblems(diagnostics).map(({ count, severity, code, collection, field }) => ({
    count: formatCount(count),
    severity,
    code,
    where: [collection, field].filter((name) => name !== undefined).join('.'),
  }))
  const widthOf = (key: 'count' | 'code'): number => largest(rows, (row) => row[key].length)
  const [counts, codes] = [widthOf('count'), widthOf('code')]
  for (const { count, severity, code, where } of rows) {
    const paint = severity === 'error' ? error : warning
    const line = `${count.padStart(counts)}  ${paint(severity.padEnd('warning'.length))}  ${code.padEnd(codes)}`
    stdout.write(`${where === '' ? line.trimEnd() : `${line}  ${faint(where)}`}\n`)
  }
  if (rows.length > 0) stdout.write('\n')
}

/** Writes a report for programs. Places are relative to the site's root. */
export async function writeJson(
  report: SiteReport | BuildReport,
  { stdout }: Surroundings,
  more: object = {},
): Promise<void> {
  stdout.write(`${JSON.stringify({ ...(await toJson(report)), ...more }, null, 2)}\n`)
}

/** A report for programs. */
export async function toJson(report: SiteReport | BuildReport): Promise<object> {
  const { createPlaceRenderer, renderJson } = await import('../diagnostics/render-json.ts')
  const { diagnostics, textOf } = report
  const renderPlace = createPlaceRenderer(textOf)
  const implicit = report.implicit.map(({ collection, id, place }) => ({ collection, id, ...renderPlace(place) }))
  const built =
    'output' in report
      ? {
          output: report.output ?? null,
          written: report.writtenCount,
          ...(report.account ? { account: report.account } : {}),
        }
      : {}
  return { diagnostics: renderJson(diagnostics, textOf), summary: summarise(report), implicit, ...built }
}

/** Writes a report as SARIF 2.1.0. */
export async function writeSarif(report: SiteReport, { root }: SitePlace, { stdout }: Surroundings): Promise<void> {
  const { renderSarif } = await import('../diagnostics/render-sarif.ts')
  const rootUri = `${pathToFileURL(root).href.replace(/\/$/, '')}/`
  const log = renderSarif(report.diagnostics, report.textOf, { version: readVersion(), rootUri })
  stdout.write(`${JSON.stringify(log, null, 2)}\n`)
}

/**
 * The exit code that diagnostics ask for: what is wrong with the configuration or the machine is none of the content.
 */
export function exitCodeOf(diagnostics: readonly Diagnostic[]): number {
  const errors = diagnostics.filter(({ severity }) => severity === 'error')
  if (errors.length === 0) return exitCodes.clean
  const isElsewhere = errors.some(({ code }) => code.startsWith('config-')) || errors.every(isFault)
  return isElsewhere ? exitCodes.wrongUse : exitCodes.contentProblems
}

import { join, relative, resolve, sep } from 'node:path'
import { createDiagnostic } from '../diagnostics/diagnostic.ts'
import { formatCount } from '../diagnostics/format-count.ts'
import { plural } from '../diagnostics/words.ts'
import { CONFIGURATION_FILE, JOURNAL } from '../engine/configuration-file.ts'
import { buildSite, checkSite } from '../engine/site.ts'
import { type BuildReport, EMPTY_REPORT, type SiteOptions, type SiteReport } from '../engine/site-report.ts'
import type { Host } from '../host/host.ts'
import { findConfiguration, type SitePlace } from './find-configuration.ts'
import { createPalette } from './palette.ts'
import { createProgress } from './progress.ts'
import { exitCodeOf, summaryLine, writeDiagnostics, writeJson, writeSarif, writeSummary } from './report.ts'
import { exitCodes, type Surroundings } from './surroundings.ts'

/** Options that every command takes. */
export interface CommonFlags {
  readonly root?: string
  /** Also what is a draft, not yet or no longer to be seen. */
  readonly drafts?: boolean
}

/** A site that was found and worked on, or a report that there is none. */
export type Worked<Report> =
  | { readonly site: SitePlace; readonly report: Report }
  | { readonly site: SitePlace; readonly missing: SiteReport }

/** Finds the site, or reports that there is none. */
export function findSite(
  { root }: CommonFlags,
  surroundings: Surroundings,
): { readonly site: SitePlace; readonly missing?: SiteReport } {
  const found = findConfiguration(surroundings, root)
  if (!('looked' in found)) return { site: found }
  const place = { file: CONFIGURATION_FILE, span: [0, 0] as const }
  const diagnostics = [
    createDiagnostic('config-not-found', place, {
      looked: found.looked,
      upward: root === undefined,
      isFile: found.isFile,
    }),
  ]
  const site = { root: found.looked, configurationFile: place.file }
  return { site, missing: { ...EMPTY_REPORT, diagnostics } }
}

/** What is done with a site. Progress is cleared before anything else is drawn on the terminal. */
type Work<Report> = (options: SiteOptions, clearProgress: () => void) => Promise<Report>

/** Finds the site and works on it, with progress on a terminal. */
export async function workOnSite<Report>(
  flags: CommonFlags,
  surroundings: Surroundings,
  work: Work<Report>,
): Promise<Worked<Report>> {
  const { drafts = false } = flags
  const { site: found, missing } = findSite(flags, surroundings)
  if (missing) return { site: found, missing }
  if (flags.root === undefined && found.root !== resolve(surroundings.folder)) {
    const { faint } = createPalette(surroundings.stderr, surroundings)
    const file = relative(surroundings.folder, join(found.root, found.configurationFile))
    surroundings.stderr.write(faint(`Configuration: ${file}\n`))
  }
  const progress = createProgress(surroundings)
  const host = surroundings.openHost(found.root)
  await finishKilledChange(host, surroundings)
  try {
    const { configurationFile } = found
    return {
      site: found,
      report: await work({ host, configurationFile, drafts, onProgress: progress.report }, progress.clear),
    }
  } finally {
    progress.clear()
  }
}

/** Works on a site for an answer about it; undefined where the configuration or the machine is wrong, which is said. */
export async function askSite<Report extends SiteReport>(
  flags: CommonFlags,
  surroundings: Surroundings,
  work: Work<Report>,
): Promise<{ readonly site: SitePlace; readonly answer: Report } | undefined> {
  const worked = await workOnSite(flags, surroundings, work)
  const report = 'report' in worked ? worked.report : worked.missing
  if ('report' in worked && exitCodeOf(report.diagnostics) !== exitCodes.wrongUse)
    return { site: worked.site, answer: worked.report }
  await writeDiagnostics(report, worked.site, surroundings.stderr, surroundings)
  return undefined
}

/** Makes a change whole whose process was killed, so that nobody sees a half of it. */
async function finishKilledChange(host: Host, { stderr }: Surroundings): Promise<void> {
  if (host.size(JOURNAL) === undefined) return
  const { recoverChange } = await import('../engine/change-journal.ts')
  const found = await recoverChange(host)
  if (!found) return
  const outcome = found.isWhole ? 'is made whole' : 'cannot be made whole, since what it was to write is gone'
  stderr.write(`A change that was broken off ${outcome}: ${found.words}\n`)
}

/** Options of `check` and `build`. */
export interface ReportFlags extends CommonFlags {
  readonly format: 'text' | 'json' | 'sarif'
  /** Tell each problem, also where many are of one kind. */
  readonly all?: boolean
}

/** Options of `build`. */
export interface BuildFlags extends ReportFlags {
  readonly watch?: boolean
  /** A file of which is told what was done with it. */
  readonly why?: string
}

/** Options of `check`. */
export interface CheckFlags extends ReportFlags {
  /** Mend what can be mended safely. */
  readonly fix?: boolean
  /** Only show what `fix` would do. */
  readonly dryRun?: boolean
  /** Count problems instead of telling them. */
  readonly summary?: boolean
  /** List what nothing uses. */
  readonly unused?: boolean
}

/** The command `check`: all problems of a site. */
export async function runCheck(flags: CheckFlags, surroundings: Surroundings): Promise<number> {
  const { fix = false, dryRun = false, unused = false } = flags
  if (!fix && !dryRun) {
    const worked = await workOnSite(flags, surroundings, (options) => checkSite({ ...options, unused }))
    const report = 'report' in worked ? worked.report : worked.missing
    return finish(report, worked.site, { flags, surroundings })
  }
  const { fixSite } = await import('../engine/fix.ts')
  const worked = await workOnSite(flags, surroundings, (options) => fixSite({ ...options, dryRun }))
  if (!('report' in worked)) return finish(worked.missing, worked.site, { flags, surroundings })
  const { report, site } = worked
  const { tellChange, toChangeJson } = await import('./tell-change.ts')
  if (flags.format === 'text' && report.change.steps.length > 0) {
    await tellChange(report, site, { flags: { ...flags, format: 'text' }, surroundings })
    surroundings.stdout.write('\n')
  }
  const count = plural(report.change.steps.length, 'mend')
  const note =
    report.changed.length > 0
      ? `Nothing was mended: changed by somebody else in the meantime: ${report.changed.join(', ')}\n`
      : report.change.steps.length === 0
        ? 'Nothing can be mended safely\n'
        : `${count} ${report.isWritten ? 'made; "zinc-pantry undo" takes them back' : 'could be made'}\n`
  const more = { note, change: toChangeJson(report) }
  return finish(report.isWritten ? report.outcome : report, site, { flags, surroundings, ...more })
}

/** The command `build`: a check, and the generated folder where there are no errors. */
export async function runBuild(flags: BuildFlags, surroundings: Surroundings): Promise<number> {
  const { root } = findSite(flags, surroundings).site
  const why = flags.why === undefined ? {} : { why: pathBelow(root, resolve(surroundings.folder, flags.why)) }
  const worked = await workOnSite(flags, surroundings, (options) => buildSite({ ...options, ...why }))
  if (!('report' in worked)) return finish(worked.missing, worked.site, { flags, surroundings })
  const { report, site } = worked
  const code = await finish(report, site, { flags, surroundings, note: outputNote(report) })
  if (!report.account || flags.format !== 'text') return code
  const { renderAccount } = await import('./account.ts')
  surroundings.stdout.write(renderAccount(report.account, createPalette(surroundings.stdout, surroundings)))
  return report.account.kind === 'unknown' ? exitCodes.wrongUse : code
}

const pathBelow = (root: string, path: string): string => relative(root, path).split(sep).join('/')

/** Says what was written. */
export function outputNote({ output, writtenCount, orderSizes = {} }: BuildReport): string {
  if (!output) return 'Nothing was written; the last good output stays\n'
  const written = writtenCount === 0 ? 'nothing had changed' : `${plural(writtenCount, 'file')} written`
  const orders = Object.entries(orderSizes).map(([name, size]) => `${name} ${formatCount(Math.ceil(size / 1024))} KB`)
  return `Output in ${output}: ${written}\n${orders.length > 0 ? `Orders kept: ${orders.join(', ')}\n` : ''}`
}

interface Ending {
  readonly flags: ReportFlags & { readonly summary?: boolean | undefined }
  readonly surroundings: Surroundings
  readonly note?: string
  /** A change that was made, for programs. */
  readonly change?: object
}

/** Writes a report in the format that was asked for, and gives the exit code. */
export async function finish(
  report: SiteReport,
  site: SitePlace,
  { flags, surroundings, note = '', change }: Ending,
): Promise<number> {
  const { stdout } = surroundings
  if (flags.format === 'json') await writeJson(report, surroundings, change && { change })
  else if (flags.format === 'sarif') await writeSarif(report, site, surroundings)
  else {
    if (flags.summary) await writeSummary(report, surroundings)
    else await writeDiagnostics(report, site, stdout, { ...surroundings, all: flags.all })
    stdout.write(note || mendable(report, flags))
    stdout.write(summaryLine(report, stdout, surroundings))
  }
  return exitCodeOf(report.diagnostics)
}

/** Says how many problems `--fix` would mend. */
function mendable({ diagnostics }: SiteReport, { root }: ReportFlags): string {
  const count = diagnostics.filter(({ edit }) => edit).length
  if (count === 0) return ''
  const command = `zinc-pantry check --fix${root === undefined ? '' : ` --root ${root}`}`
  return `"${command}" can mend ${plural(count, 'problem')}\n`
}

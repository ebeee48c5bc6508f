import { buildSite, checkSite, createDiagnostic, plural, type SiteOptions, type SiteReport } from '../engine/index.ts'
import { findConfiguration, type SitePlace } from './find-configuration.ts'
import { createProgress } from './progress.ts'
import { exitCodeOf, summaryLine, writeDiagnostics, writeJson } from './report.ts'
import type { Surroundings } from './surroundings.ts'

/** Options that every command takes. */
export interface CommonFlags {
  readonly root?: string
}

/** A site that was found and worked on, or a report that there is none. */
export type Worked<Report> =
  | { readonly site: SitePlace; readonly report: Report }
  | { readonly site: SitePlace; readonly missing: SiteReport }

/** Finds the site and works on it, with progress on a terminal. */
export async function workOnSite<Report>(
  { root }: CommonFlags,
  surroundings: Surroundings,
  work: (options: SiteOptions) => Promise<Report>,
): Promise<Worked<Report>> {
  const found = findConfiguration(surroundings, root)
  if ('looked' in found) {
    const place = { file: 'pantry.config.ts', span: [0, 0] as const }
    const diagnostics = [
      createDiagnostic('config-not-found', place, { looked: found.looked, upward: root === undefined }),
    ]
    const nothing = { entryCount: 0, fileCount: 0, collectionCount: 0, milliseconds: 0 }
    const site = { root: found.looked, configurationFile: place.file }
    return { site, missing: { ...nothing, diagnostics, textOf: () => undefined } }
  }
  const progress = createProgress(surroundings)
  const host = surroundings.openHost(found.root)
  try {
    const { configurationFile } = found
    return { site: found, report: await work({ host, configurationFile, onProgress: progress.report }) }
  } finally {
    progress.clear()
  }
}

/** Options of `check` and `build`. */
export interface ReportFlags extends CommonFlags {
  readonly format: 'text' | 'json'
}

/** The command `check`: all problems of a site. */
export async function runCheck(flags: ReportFlags, surroundings: Surroundings): Promise<number> {
  const worked = await workOnSite(flags, surroundings, checkSite)
  const report = 'report' in worked ? worked.report : worked.missing
  return finish(report, worked.site, { flags, surroundings })
}

/** The command `build`: a check, and the generated folder where there are no errors. */
export async function runBuild(flags: ReportFlags, surroundings: Surroundings): Promise<number> {
  const worked = await workOnSite(flags, surroundings, buildSite)
  if (!('report' in worked)) return finish(worked.missing, worked.site, { flags, surroundings })
  const { report, site } = worked
  const written = report.writtenCount === 0 ? 'nothing had changed' : `${plural(report.writtenCount, 'file')} written`
  const note = report.output
    ? `Output in ${report.output}: ${written}\n`
    : 'Nothing was written; the last good output stays\n'
  return finish(report, site, { flags, surroundings, note })
}

interface Ending {
  readonly flags: ReportFlags
  readonly surroundings: Surroundings
  readonly note?: string
}

function finish(report: SiteReport, site: SitePlace, { flags, surroundings, note = '' }: Ending): number {
  const { stdout } = surroundings
  if (flags.format === 'json') writeJson(report, surroundings)
  else {
    writeDiagnostics(report, site, stdout, surroundings)
    stdout.write(note + summaryLine(report, stdout, surroundings))
  }
  return exitCodeOf(report.diagnostics)
}

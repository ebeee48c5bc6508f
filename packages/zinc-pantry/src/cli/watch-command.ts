import { relative } from 'node:path'
import { plural } from '../diagnostics/words.ts'
import type { BuildReport } from '../engine/site-report.ts'
import { watchSite } from '../engine/watch-site.ts'
import { HostError } from '../host/host.ts'
import { createPalette } from './palette.ts'
import { createProgress } from './progress.ts'
import { refuse } from './refuse.ts'
import { summaryLine, toJson, writeDiagnostics } from './report.ts'
import { type BuildFlags, findSite, finish, outputNote } from './site-command.ts'
import { exitCodes, type Surroundings } from './surroundings.ts'

/** The command `build --watch`: a build, and another after every change, until it is ended. */
export async function runWatch(flags: BuildFlags, surroundings: Surroundings): Promise<number> {
  const { stdout } = surroundings
  const { site, missing } = findSite(flags, surroundings)
  if (missing) return finish(missing, site, { flags, surroundings })
  if (flags.format === 'sarif' || flags.why !== undefined)
    return refuse(
      surroundings,
      '--watch goes with neither --format sarif nor --why',
      'Run a build without --watch for those',
    )
  const progress = createProgress(surroundings)
  const { faint, strong } = createPalette(stdout, surroundings)
  // One report is written after the other, however long the first takes.
  let writing = Promise.resolve()
  const write = async (report: BuildReport, changes: readonly string[]): Promise<void> => {
    if (flags.format === 'json') {
      stdout.write(`${JSON.stringify(await toJson(report))}\n`)
      return
    }
    if (changes.length > 0) stdout.write(`\n${faint(clock())} ${strong(describeChanges(changes))}\n`)
    await writeDiagnostics(report, site, stdout, surroundings)
    stdout.write(outputNote(report) + summaryLine(report, stdout, surroundings))
  }
  try {
    const watched = await watchSite({
      host: surroundings.openHost(site.root),
      configurationFile: site.configurationFile,
      drafts: flags.drafts ?? false,
      onProgress: progress.report,
      onReport(report, changes) {
        progress.clear()
        writing = writing.then(() => write(report, changes))
      },
    })
    await writing
    const place = relative(surroundings.folder, site.root) || '.'
    if (flags.format === 'text') stdout.write(faint(`Watching ${place}; Ctrl+C ends it\n`))
    await surroundings.stopped()
    await watched.close()
    await writing
    return exitCodes.clean
  } catch (error) {
    if (!(error instanceof HostError)) throw error
    return refuse(surroundings, `Files cannot be watched: ${error.message}`)
  }
}

const clock = (): string => new Date().toTimeString().slice(0, 8)

/** More changes than these are counted. */
const MOST_NAMED = 3

function describeChanges(changes: readonly string[]): string {
  const named = changes.slice(0, MOST_NAMED).join(', ')
  const more = changes.length - MOST_NAMED
  return more > 0 ? `${named} and ${plural(more, 'other')}` : named
}

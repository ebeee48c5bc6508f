import type { Changes, Watcher } from '../host/host.ts'
import type { BuildReport } from './site-report.ts'
import type { SessionOptions, SessionOutput } from './site-session.ts'

/** The options of a watch. */
export interface WatchOptions extends SessionOptions {
  /** Called before each build but the first, with the files that changed; empty where there were too many to tell. */
  onStart?(changes: readonly string[]): void
  /** Called after each build, with all problems that there are now, and with the last good output. */
  onReport(report: BuildReport, changes: readonly string[], output: SessionOutput | undefined): void
}

/** A site that is watched. */
export interface WatchedSite {
  /** Ends the watching, after the build that is under way, if any. */
  close(): Promise<void>
}

/** How long an editor takes to put a new file into the place of the old one. */
const SETTLING_MS = 5
/** How long some programs take to write a file that they have removed, as those do that bring back another version. */
const RETURNING_MS = 80
/** After a fault of the machine it is tried again, later each time. */
const FIRST_RETRY_MS = 1_000
const LAST_RETRY_MS = 15_000
/** After so long without a change what was learnt is kept for the next process. */
const QUIET_MS = 2_000

/**
 * Builds a site, and again whenever its files or its configuration change, doing only what changed. Changes that come
 * while a build is under way are taken together. An output that is damaged or removed is written again. The promise is
 * there after the first build.
 *
 * Diagnostics: all of `buildSite`, in the reports.
 *
 * @example
 * ```ts
 * import { createNodeHost, watchSite } from 'zinc-pantry/engine'
 *
 * const watched = await watchSite({
 *   host: createNodeHost('.'),
 *   configurationFile: 'pantry.config.ts',
 *   onReport: ({ diagnostics, milliseconds }) => console.log(diagnostics.length, 'problems', milliseconds, 'ms'),
 * })
 * await watched.close()
 * ```
 */
export async function watchSite({ onStart, onReport, ...options }: WatchOptions): Promise<WatchedSite> {
  const { host } = options
  const { openSession } = await import('./site-session.ts')
  const session = openSession(options)
  /** The paths that are to be looked at; undefined for all. */
  let waiting: Set<string> | undefined = new Set()
  let running: Promise<void> | undefined
  let isClosed = false
  let builds = 0

  let watched = ''
  let watcher: Watcher | undefined
  const watch = async (): Promise<void> => {
    const wanted = session.watched()
    const text = JSON.stringify(wanted)
    if (text === watched || isClosed) return
    const last = watcher
    watched = text
    watcher = await host.watch(wanted, note)
    await last?.close()
    // What changed before it was watched is not told.
    note(undefined)
  }
  const note = (changes: Changes): void => {
    if (isClosed) return
    if (!changes) waiting = undefined
    else for (const path of changes) waiting?.add(path)
    if (waiting?.size !== 0) running ??= work().finally(() => (running = undefined))
  }
  let retryMs = FIRST_RETRY_MS
  let said = ''
  /** After a fault everything is tried again, and told where something is different then. */
  const retryLater = async (build: number): Promise<void> => {
    await host.wait(retryMs)
    retryMs = Math.min(LAST_RETRY_MS, retryMs * 2)
    if (build === builds && session.hasFault()) note(undefined)
  }
  const work = async (): Promise<void> => {
    while (waiting?.size !== 0 && !isClosed) {
      if (builds > 0) await host.wait(SETTLING_MS)
      if (waiting && [...waiting].some(session.isGone)) await host.wait(RETURNING_MS)
      const changes: readonly string[] | undefined = waiting && [...waiting]
      waiting = new Set()
      const built = await session.build(changes, onStart)
      if (built) {
        builds++
        const isRetry = changes === undefined && builds > 1
        const last = said
        said = JSON.stringify(built.report.diagnostics)
        if (!isRetry || said !== last || !session.hasFault()) onReport(built.report, built.changes, session.output())
        if (session.hasFault()) void retryLater(builds)
        else retryMs = FIRST_RETRY_MS
        void saveLater(builds)
      }
      await watch()
    }
  }
  const saveLater = async (build: number): Promise<void> => {
    await host.wait(QUIET_MS)
    if (build === builds && !isClosed) await session.save()
  }

  note(undefined)
  await running
  return {
    async close() {
      isClosed = true
      await running
      await watcher?.close()
      await session.save()
    },
  }
}

import type { Diagnostic } from '../diagnostics/diagnostic.ts'
import { type Changes, type Host, HostError, type Watcher } from '../host/host.ts'
import { changeExamined } from './change-examined.ts'
import type { ChangeAnswer, ChangeOptions, ChangeRequest } from './change-request.ts'
import { type LiveSite, openLiveSite } from './live-site.ts'
import { compileMdx, type ExaminedSite } from './run-site.ts'

/** A site that is checked whenever its files, or the texts laid over them, change. */
export interface FollowedSite {
  readonly live: LiveSite
  readonly configurationFile: string
  /** Lays a text over a file; it is checked soon. */
  setText(file: string, text: string | undefined): void
  /** Has files looked at that somebody has written, without waiting for the machine to say so. */
  note(changes: Changes): void
  /** There once all that was noted so far is checked: the last site whose configuration was right. */
  settled(): Promise<ExaminedSite | undefined>
  /** The site as it was checked last, once it was. */
  ready(): Promise<ExaminedSite | undefined>
  /** Plans a change of the site and proves it, or makes it. */
  change(request: ChangeRequest, options: Pick<ChangeOptions, 'dryRun' | 'anyway'>): Promise<ChangeAnswer | undefined>
  close(): Promise<void>
}

/** How a site is followed. */
export interface FollowOptions {
  readonly host: Host
  readonly configurationFile: string
  /** Called with what the last process found, after each check, and again once bodies of MDX were compiled where that finds more. */
  onCheck(diagnostics: readonly Diagnostic[], changes: Changes): void
}

/** How long a writer may pause before what was typed is checked. */
const TYPING_MS = 20
/** After a fault of the machine it is tried again. */
const RETRY_MS = 2_000

/** Follows a site: it is checked whenever its files or the texts laid over them change. */
export function followSite({ host, configurationFile, onCheck }: FollowOptions): FollowedSite {
  const live = openLiveSite({
    ...{ host, configurationFile },
    onRecall: ({ diagnostics }) => onCheck(diagnostics, undefined),
  })
  const options = { host: live.host, configurationFile, cache: false }
  let isClosed = false
  /** Files to be looked at; undefined for all. */
  let waiting: Set<string> | undefined
  let isWaiting = true
  let running: Promise<void> | undefined
  let isChecking = false
  /** Those who wait for the end of a check. */
  const waiters: (() => void)[] = []
  let watcher: Watcher | undefined
  let watched = ''
  const note = (changes: Changes): void => {
    if (isClosed) return
    if (!changes) waiting = undefined
    else if (!isWaiting) waiting = new Set(changes)
    else if (waiting) for (const path of changes) waiting.add(path)
    isWaiting = true
    running ??= work().finally(() => (running = undefined))
  }
  const work = async (): Promise<void> => {
    while (isWaiting && !isClosed) {
      // The documents that are open are told of right after the start.
      await host.wait(TYPING_MS)
      const changes = waiting && [...waiting]
      isWaiting = false
      waiting = new Set()
      isChecking = true
      const site = await live.update(changes)
      isChecking = false
      for (const resolve of waiters.splice(0)) resolve()
      if (isClosed) return
      onCheck(site.report.diagnostics, changes)
      if (live.hasFault()) void host.wait(RETRY_MS).then(() => note(undefined))
      await watch()
      if (isWaiting) continue
      const ofMdx = await compileMdx(site)
      if (ofMdx.length > 0 && live.current() === site) onCheck([...site.report.diagnostics, ...ofMdx], changes)
    }
  }
  const watch = async (): Promise<void> => {
    const wanted = live.watched()
    const text = JSON.stringify(wanted)
    if (text === watched || isClosed) return
    const [last, isFirst] = [watcher, watched === '']
    watched = text
    try {
      watcher = await host.watch(wanted, note)
    } catch (error) {
      // Where a machine watches no more, what the editor itself tells still counts.
      if (!(error instanceof HostError)) throw error
      watcher = undefined
    }
    await last?.close()
    // What changed before it was watched is not told.
    if (!isFirst || live.current()) note(undefined)
  }
  const settled = async (): Promise<ExaminedSite | undefined> => {
    while ((isWaiting || isChecking) && !isClosed) await new Promise<void>((resolve) => void waiters.push(resolve))
    return live.lastRight()
  }
  note(undefined)
  return {
    ...{ live, configurationFile, settled, note },
    ready: async () => live.lastRight() ?? settled(),
    setText(file, text) {
      live.setText(file, text)
      note([file])
    },
    async change(request, how) {
      await settled()
      const site = live.lastRight()
      return site && changeExamined(site, { ...options, ...how }, request)
    },
    async close() {
      isClosed = true
      for (const resolve of waiters.splice(0)) resolve()
      await watcher?.close()
    },
  }
}

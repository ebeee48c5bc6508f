import type { Diagnostic } from '../diagnostics/diagnostic.ts'
import { type ChangeAnswer, type ChangeRequest, changeExamined } from '../engine/change-site.ts'
import { type LiveSite, openLiveSite } from '../engine/live-site.ts'
import { readText } from '../engine/read-text.ts'
import { compileMdx, type ExaminedSite } from '../engine/run-site.ts'
import { type Changes, type Host, HostError, type Watcher } from '../host/host.ts'
import { type EditorSite, openEditorSite } from './editor-site.ts'

/** A site that an editor has documents of. */
export interface SiteFolder {
  /** The absolute path of the folder of its configuration. */
  readonly root: string
  readonly live: LiveSite
  readonly configurationFile: string
  /** Lays a text over a file; it is checked soon. */
  setText(file: string, text: string | undefined): void
  /** The site, once all that was typed so far is checked. */
  settled(): Promise<EditorSite | undefined>
  /** The site as it was checked last, once it was. */
  ready(): Promise<EditorSite | undefined>
  /** The text of a file, as it is in an editor or else on the disk. */
  textOf(file: string): string | undefined
  /** Plans a change and proves it; nothing is written. */
  plan(request: ChangeRequest): Promise<ChangeAnswer | undefined>
  close(): Promise<void>
}

/** How a site is followed. */
export interface FollowOptions {
  readonly host: Host
  readonly root: string
  readonly configurationFile: string
  /** Called with what the last process found, after each check, and again once bodies of MDX were compiled where that finds more. */
  onCheck(folder: SiteFolder, diagnostics: readonly Diagnostic[]): void
}

/** How long a writer may pause before what was typed is checked. */
const TYPING_MS = 20
/** After a fault of the machine it is tried again. */
const RETRY_MS = 2_000

/** Follows a site: it is checked whenever its files or the texts laid over them change. */
export function followSite({ host, root, configurationFile, onCheck }: FollowOptions): SiteFolder {
  const live = openLiveSite({
    ...{ host, configurationFile },
    onRecall: ({ diagnostics }) => onCheck(folder, diagnostics),
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
  let opened: { readonly site: ExaminedSite; readonly editorSite: EditorSite | undefined } | undefined
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
      onCheck(folder, site.report.diagnostics)
      if (live.hasFault()) void host.wait(RETRY_MS).then(() => note(undefined))
      await watch()
      if (isWaiting) continue
      const ofMdx = await compileMdx(site)
      if (ofMdx.length > 0 && live.current() === site) onCheck(folder, [...site.report.diagnostics, ...ofMdx])
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
  const latest = (): EditorSite | undefined => {
    const site = live.lastRight()
    if (site && opened?.site !== site) opened = { site, editorSite: openEditorSite(site, root) }
    return opened?.editorSite
  }
  const settled = async (): Promise<EditorSite | undefined> => {
    while ((isWaiting || isChecking) && !isClosed) await new Promise<void>((resolve) => void waiters.push(resolve))
    return latest()
  }
  const folder: SiteFolder = {
    ...{ root, live, configurationFile, settled },
    ready: async () => latest() ?? settled(),
    setText(file, text) {
      live.setText(file, text)
      note([file])
    },
    textOf: (file) => live.current()?.report.textOf(file) ?? readText(live.host, file),
    async plan(request) {
      await settled()
      const site = live.lastRight()
      return site && changeExamined(site, { ...options, dryRun: true }, request)
    },
    async close() {
      isClosed = true
      for (const resolve of waiters.splice(0)) resolve()
      await watcher?.close()
    },
  }
  note(undefined)
  return folder
}

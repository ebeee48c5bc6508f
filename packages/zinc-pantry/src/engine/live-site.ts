import { isFault } from '../diagnostics/diagnostic.ts'
import type { Changes, Host, Watched } from '../host/host.ts'
import { createRecord, describeRun, recallRun, runName } from './cache/run-record.ts'
import { openSiteMemory } from './cache/site-memory.ts'
import type { FileAccount } from './file-account.ts'
import type { LoadedInputs } from './load-inputs.ts'
import { overlayHost } from './overlay-host.ts'
import { createTextSource } from './read-text.ts'
import { accountOf, type ExaminedSite, examineInputs } from './run-site.ts'
import type { SiteOptions, SiteReport } from './site-report.ts'
import { trackInputs } from './tracked-inputs.ts'

/** A site that is checked again and again, with the texts of documents that nobody saved yet laid over its files. */
export interface LiveSite {
  /** Lays a text over a file, or takes it away. It counts from the next update that names the file. */
  setText(file: string, text: string | undefined): void
  /** Checks it, knowing that nothing but the given files changed since the last time. */
  update(changes: Changes): Promise<ExaminedSite>
  /** The site as it was checked last. */
  current(): ExaminedSite | undefined
  /** The last site whose configuration was right. */
  lastRight(): ExaminedSite | undefined
  /** What the last update did with a file, and what depends on it. */
  account(file: string): FileAccount | undefined
  /** The files, as they are with the texts laid over them. */
  readonly host: Host
  /** The folders that have to be watched; they can change with every update. */
  watched(): Watched
  /** True where the last update met a fault of the machine, which may be gone the next time. */
  hasFault(): boolean
}

/** The options of a live site. */
export interface LiveOptions extends SiteOptions {
  /** Is given what the last process found, right at the start, where nothing changed since. */
  onRecall?(report: SiteReport): void
}

const KIND = { name: 'live', drafts: true } as const

/** Opens a live site. Drafts are entries like others. What the first update learns of files is kept for other processes. */
export function openLiveSite({ onRecall, ...options }: LiveOptions): LiveSite {
  const { configurationFile, cache = true } = options
  const contents = new Map<string, Uint8Array>()
  const host = overlayHost(options.host, contents)
  const memory = openSiteMemory(host, { isKept: cache, isLong: true, isShared: true })
  const inputs = trackInputs(host, configurationFile, { cache })
  let site: ExaminedSite | undefined
  let loaded: LoadedInputs | undefined
  let lastRight: ExaminedSite | undefined
  let isFaulty = false
  const update = async (changes: Changes): Promise<ExaminedSite> => {
    const { current, touched, compared } = await inputs.follow(isFaulty ? undefined : changes)
    memory.begin(touched)
    if (site && compared && memory.state.listChanged(compared).length === 0 && !isFaulty) return site
    const isFirst = site === undefined
    const instant = host.clock()
    const kept = { state: memory.state, kind: KIND, instant }
    const scope = isFirst && cache && current.inputs ? describeRun(host, current.inputs, kept) : undefined
    const known = scope === undefined ? undefined : recallRun(host, scope, kept)
    if (known && onRecall) {
      onRecall({ ...known.report, textOf: createTextSource(host), milliseconds: 0 })
      // What was found is told before the rest begins, which takes longer.
      await host.wait(0)
    }
    loaded = current
    site = await examineInputs(current, { ...options, host, drafts: true, memory })
    // While the configuration is wrong, results of files stand that are not listed.
    if (current.inputs) memory.forget(inputs.kept())
    if (site.model) lastRight = site
    isFaulty = site.report.diagnostics.some(isFault)
    if (isFirst && cache) {
      const { boundaries, hasImports } = site.checked
      if (scope !== undefined && !hasImports && !isFaulty)
        memory.state.setRun(runName(KIND), createRecord(site.report, { scope, instant, boundaries }))
      await memory.save(inputs.kept)
      memory.freeze()
    }
    return site
  }
  let running: Promise<unknown> = Promise.resolve()
  return {
    setText(file, text) {
      if (text === undefined) contents.delete(file)
      else contents.set(file, new TextEncoder().encode(text))
    },
    update(changes) {
      const next = running.then(() => update(changes))
      running = next.catch(() => undefined)
      return next
    },
    current: () => site,
    lastRight: () => lastRight,
    account: (file) => loaded && site && accountOf(file, loaded, { ...site, host }),
    host,
    watched: () => inputs.watched(() => []),
    hasFault: () => isFaulty,
  }
}

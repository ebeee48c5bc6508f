import type { Diagnostic } from '../diagnostics/diagnostic.ts'
import { isOutside } from '../engine/change-examined.ts'
import { describeReason } from '../engine/describe/describe-account.ts'
import { type KeptCollections, openView, type SiteView } from '../engine/describe/site-view.ts'
import type { FileReason } from '../engine/file-reason.ts'
import { type FollowedSite, followSite } from '../engine/follow-site.ts'
import { readText } from '../engine/read-text.ts'
import { type Host, HostError } from '../host/host.ts'

/** What happened to a site since it was opened, the newest last. */
export interface CheckRecord {
  /** The moment, as an instant in UTC. */
  readonly at: string
  /** The files that had changed; empty where all of them were looked at. */
  readonly files: readonly CheckedFile[]
  /** Files of the content that were checked again, since they or what they depend on had changed. */
  readonly again: number
  readonly errors: number
  readonly warnings: number
}

/** A file that had changed, and what was done with it. */
export interface CheckedFile {
  readonly file: string
  readonly words: string
}

/** The state of a site, as its pages are told of it. */
export interface SiteStatus {
  /** Grows with every check. */
  readonly revision: number
  readonly errors: number
  readonly warnings: number
  /** True while the configuration is wrong: what is shown is the last site that was right, if there was one. */
  readonly isBroken: boolean
  readonly isReadOnly: boolean
  /** The name of its folder. */
  readonly name: string
  /** The address of the site in development, where it is served. */
  readonly address?: string
}

/** A site that is inspected. */
export interface InspectedSite {
  readonly host: Host
  readonly isReadOnly: boolean
  readonly followed: FollowedSite
  /** The address of the site in development, where it is served. */
  readonly address: string | undefined
  status(): SiteStatus
  /** Opens a file in the editor of the person who started this. */
  openInEditor(path: string, line: number): Promise<{ readonly opened: string } | { readonly refused: string }>
  /** Is told that somebody asks for something. */
  asked(): void
  /** The last site whose configuration was right, with all that was written so far; undefined where there was none. */
  view(): Promise<SiteView | undefined>
  problems(): Promise<readonly Diagnostic[]>
  textOf(file: string): string | undefined
  log(): readonly CheckRecord[]
  close(): Promise<void>
}

/** How a site is inspected. */
export interface InspectOptions {
  readonly host: Host
  readonly configurationFile: string
  /** Nothing can be written. Default: false. */
  readonly isReadOnly?: boolean
  /** The address of the site in development. Default: none. */
  readonly address?: string | undefined
  /** The name of the site's folder, for people. */
  readonly name: string
  onStatus(status: SiteStatus): void
  openInEditor: InspectedSite['openInEditor']
}

/** Nobody has to wait for what is made ready while nothing is asked. */
const IDLE_MS = 250
/** So many checks are remembered. */
const MOST_RECORDS = 50

/** Opens a site for its inspection; it is followed from now on. */
export function inspectSite(options: InspectOptions): InspectedSite {
  const { configurationFile, isReadOnly = false, name, address, onStatus, openInEditor } = options
  const host = guardHost(options.host)
  const records: CheckRecord[] = []
  let revision = 0
  let diagnostics: readonly Diagnostic[] = []
  const count = (severity: Diagnostic['severity']): number =>
    diagnostics.filter((one) => one.severity === severity).length
  const status = (): SiteStatus => ({
    ...{ revision, isReadOnly, name },
    errors: count('error'),
    warnings: count('warning'),
    isBroken: followed.live.current() !== undefined && followed.live.current()?.model === undefined,
    ...(address === undefined ? {} : { address }),
  })
  const followed = followSite({
    ...{ host, configurationFile },
    onCheck(found, changes) {
      revision++
      diagnostics = found
      keepRecord(changes ?? [])
      onStatus(status())
      void warm()
    },
  })
  /** Files of the content at the last check. */
  let known: ReadonlySet<string> = new Set()
  /** Remembers a check; a second look at what stands as it was is none. */
  const keepRecord = (changes: readonly string[]): void => {
    const { reasons } = followed.live.current()?.memory ?? { reasons: new Map<string, FileReason>() }
    const again = [...reasons.values()].filter((reason) => reason !== 'unchanged').length
    // What came and went, as files that programs write beside others, is none of the site's.
    const meant = changes.filter((file) => known.has(file) || reasons.has(file) || host.size(file) !== undefined)
    known = new Set(reasons.keys())
    const files = meant.map((file) => ({ file, words: describeReason(reasons.get(file)) }))
    const record = { at: host.clock(), files, again, errors: count('error'), warnings: count('warning') }
    const last = records.at(-1)
    if (again === 0 && last?.errors === record.errors && last.warnings === record.warnings) return
    records.push(record)
    records.splice(0, records.length - MOST_RECORDS)
  }
  let opened: SiteView | undefined
  const kept: KeptCollections = new Map()
  let askedAt = 0
  const view = async (): Promise<SiteView | undefined> => {
    const site = await followed.settled()
    if (site && opened?.site !== site) opened = openView(site, { instant: host.clock(), kept })
    return opened
  }
  /** Collections that somebody looks at are made ready again before they are asked for; at first all are. */
  const warm = async (): Promise<void> => {
    const begun = await view()
    const site = await begun?.query()
    for (const name of site?.shapes.keys() ?? []) {
      do await host.wait(IDLE_MS)
      while (host.now() - askedAt < IDLE_MS)
      if ((await view()) !== begun) return
      await site?.open(name)
    }
  }
  return {
    ...{ host, isReadOnly, followed, address, status, view, openInEditor },
    asked() {
      askedAt = host.now()
    },
    async problems() {
      await followed.settled()
      return diagnostics
    },
    textOf: (file) => followed.live.current()?.report.textOf(file) ?? readText(host, file),
    log: () => records,
    close: followed.close,
  }
}

/** A host that writes nothing outside of its root, whatever a page asks for. */
function guardHost(host: Host): Host {
  const check = (file: string): void => {
    if (isOutside(file)) throw new HostError('it lies outside of the site')
  }
  return {
    ...host,
    write(file, text) {
      check(file)
      host.write(file, text)
    },
    remove(file) {
      check(file)
      host.remove(file)
    },
    startWriting() {
      const writing = host.startWriting()
      return {
        ...writing,
        write(file, content) {
          check(file)
          return writing.write(file, content)
        },
      }
    },
  }
}

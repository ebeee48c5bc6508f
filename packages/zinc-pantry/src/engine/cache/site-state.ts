import { type Host, HostError } from '../../host/host.ts'

/** What is known of the files of a site and of runs over it. */
export interface SiteState {
  /** The digest of a file, read only where it may have changed; undefined where it cannot be read. */
  digestOf(file: string): FileDigest | undefined
  run(name: string): unknown
  setRun(name: string, run: unknown): void
  /** Keeps it; forgets files but the given ones. */
  save(files: ReadonlySet<string>): void
}

/** A digest, and the bytes where they had to be read for it. */
export interface FileDigest {
  readonly digest: string
  readonly bytes?: Uint8Array
}

type Stamped = readonly [stamp: string, digest: string]

interface StoredState {
  readonly version: string
  readonly files: Readonly<Record<string, Stamped>>
  readonly runs: Readonly<Record<string, unknown>>
}

/** Opens what is known. A kept file that is damaged, or of another version, is taken for none. */
export function openSiteState(host: Host, kept: string | undefined): SiteState {
  const stored = kept === undefined ? undefined : readState(host, kept)
  const files = new Map<string, Stamped>(Object.entries(stored?.files ?? {}))
  const runs = new Map<string, unknown>(Object.entries(stored?.runs ?? {}))
  let isChanged = false
  return {
    digestOf(file) {
      const stamp = host.stamp(file)
      const known = files.get(file)
      if (stamp !== undefined && known?.[0] === stamp) return { digest: known[1] }
      try {
        const bytes = host.read(file)
        const digest = host.digest(bytes)
        isChanged = true
        if (stamp === undefined) files.delete(file)
        else files.set(file, [stamp, digest])
        return { digest, bytes }
      } catch (error) {
        if (!(error instanceof HostError)) throw error
        files.delete(file)
        return undefined
      }
    },
    run: (name) => runs.get(name),
    setRun(name, run) {
      runs.set(name, run)
      isChanged = true
    },
    save(present) {
      if (!isChanged || kept === undefined) return
      isChanged = false
      const state: StoredState = {
        version: host.version(),
        files: Object.fromEntries([...files].filter(([file]) => present.has(file))),
        runs: Object.fromEntries(runs),
      }
      const text = JSON.stringify(state)
      try {
        host.write(kept, `${host.digest(text)}\n${text}\n`)
      } catch (error) {
        if (!(error instanceof HostError)) throw error
      }
    },
  }
}

function readState(host: Host, kept: string): StoredState | undefined {
  try {
    const text = new TextDecoder().decode(host.read(kept))
    const end = text.indexOf('\n')
    const json = text.slice(end + 1, -1)
    if (text.slice(0, end) !== host.digest(json)) return undefined
    const state = JSON.parse(json) as StoredState
    return state.version === host.version() ? state : undefined
  } catch (error) {
    if (error instanceof HostError) return undefined
    throw error
  }
}

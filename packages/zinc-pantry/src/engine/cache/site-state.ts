import { type Host, HostError, type StampedFile } from '../../host/host.ts'
import { MAX_FILE_BYTES } from '../../read/decode.ts'

/** The digests of the files of a site, and the records of runs over it. */
export interface SiteState {
  /** The digest of a file, read only where it may have changed; undefined where it cannot be read. */
  digestOf(file: string): string | undefined
  /** The bytes that were read for a digest, once, where they are still there. */
  takeBytes(file: string): Uint8Array | undefined
  /** In the run that begins only these files may have changed; undefined where all may have. */
  setChanged(changed: ReadonlySet<string> | undefined): void
  /** Of some files those that have another content than when they were last asked for. */
  listChanged(files: Iterable<string>): readonly string[]
  /** The files that may have changed; undefined where all may. */
  touched(): readonly string[] | undefined
  /** The digest that a file had at the end of the last run, and what the results of its collection depended on. */
  lastOf(file: string, collection: string): { readonly digest: string | undefined; readonly scope: string | undefined }
  /** Says what the results of a collection depend on beside its files. */
  setScope(collection: string, scope: string): void
  run(name: string): unknown
  setRun(name: string, run: unknown): void
  /** What is known of files as they are in this run. */
  known(): ReadonlyMap<string, Stamped>
  /** Keeps it; forgets files but the given ones. */
  save(files: () => ReadonlySet<string>): void
}

/** The number of bytes that were read for digests and are held until they are used. */
const MOST_UNUSED_BYTES = 64 * 2 ** 20

/** A digest, and the stamp that the file had then. */
export type Stamped = readonly [stamp: string, digest: string]

/** What is kept: `{"version":"…","files":["content/gable.md","stamp","digest",…],"runs":{},"scopes":{}}` behind a checksum of it. */
interface StoredState {
  readonly version: string
  /** Paths, stamps and digests by turns: a list is read in a quarter of the time of an object of thousands of keys. */
  readonly files: readonly string[]
  readonly runs: Readonly<Record<string, unknown>>
  readonly scopes: Readonly<Record<string, string>>
}

/** What is known of files from another run of the process, and those that may have changed since. */
export interface StateSeed {
  readonly state: SiteState
  readonly changed: ReadonlySet<string>
}

/**
 * Opens what is known, from a file or from another run. A kept file that is damaged, or of another version, is
 * taken for none.
 */
export function openSiteState(host: Host, kept: string | undefined, seed?: StateSeed): SiteState {
  const stored = kept === undefined ? undefined : readState(host, kept)
  const files = seed ? new Map(seed.state.known()) : stampedFiles(stored?.files ?? [])
  const runs = new Map<string, unknown>(Object.entries(stored?.runs ?? {}))
  const scopes = new Map(Object.entries(stored?.scopes ?? {}))
  /** What is another in this run than at the end of the last. */
  let lastScopes = new Map(scopes)
  const lastDigests = new Map<string, string | undefined>()
  let isChanged = false
  let changed = seed?.changed
  /** Files that were looked at in this run. */
  const asked = new Set<string>()
  /** Files that may have changed in a run that did not look at them. */
  const unsure = new Set<string>()
  /** Bytes that were read for a digest, until they are read for themselves. */
  const unused = new Map<string, Uint8Array>()
  let unusedBytes = 0
  /** Reads a file where it may have changed. */
  const look = (file: string, known: Stamped | undefined): string | undefined => {
    asked.add(file)
    unsure.delete(file)
    const standing = known && host.stamp(file)
    if (standing !== undefined && known?.[0] === standing) return known[1]
    try {
      // What is larger is never read whole, so that its state has to do.
      const { stamp, sizeBytes, bytes } = host.readStamped?.(file, MAX_FILE_BYTES) ?? readByParts(host, file)
      const digest = host.digest(bytes ?? `${sizeBytes} ${host.identity(file)}`)
      isChanged = true
      if (!lastDigests.has(file)) lastDigests.set(file, known?.[1])
      files.set(file, [stamp ?? '', digest])
      if (bytes && unusedBytes + bytes.length < MOST_UNUSED_BYTES) {
        unused.set(file, bytes)
        unusedBytes += bytes.length
      }
      return digest
    } catch (error) {
      if (!(error instanceof HostError)) throw error
      files.delete(file)
      return undefined
    }
  }
  const isKnown = (file: string): boolean => asked.has(file) || (changed?.has(file) === false && !unsure.has(file))
  const forgetBytes = (): void => {
    unused.clear()
    unusedBytes = 0
  }
  return {
    setChanged(some) {
      for (const file of changed ?? files.keys()) if (!asked.has(file)) unsure.add(file)
      changed = some
      asked.clear()
      lastDigests.clear()
      lastScopes = new Map(scopes)
      // Of a run that was not made after all.
      forgetBytes()
    },
    listChanged: (some) => [...some].filter((file) => files.get(file)?.[1] !== look(file, files.get(file))),
    touched: () => changed && [...changed],
    digestOf(file) {
      const known = files.get(file)
      return known && isKnown(file) ? known[1] : look(file, known)
    },
    takeBytes(file) {
      const bytes = unused.get(file)
      if (bytes) unusedBytes -= bytes.length
      unused.delete(file)
      return bytes
    },
    lastOf: (file, collection) => ({
      digest: lastDigests.has(file) ? lastDigests.get(file) : files.get(file)?.[1],
      scope: lastScopes.get(collection),
    }),
    setScope(collection, scope) {
      isChanged ||= scopes.get(collection) !== scope
      scopes.set(collection, scope)
    },
    run: (name) => runs.get(name),
    setRun(name, run) {
      runs.set(name, run)
      isChanged = true
    },
    known: () => new Map([...files].filter(([file]) => isKnown(file))),
    save(listPresent) {
      if (!isChanged || kept === undefined) return
      isChanged = false
      const present = listPresent()
      forgetBytes()
      const state: StoredState = {
        version: host.version(),
        files: [...files].flatMap(([file, [stamp, digest]]) => (present.has(file) ? [file, stamp, digest] : [])),
        runs: Object.fromEntries(runs),
        scopes: Object.fromEntries(scopes),
      }
      const text = JSON.stringify(state)
      try {
        host.write(kept, `${host.checksum(new TextEncoder().encode(text), '')}\n${text}\n`)
      } catch (error) {
        if (!(error instanceof HostError)) throw error
      }
    },
  }
}

function readByParts(host: Host, file: string): StampedFile {
  const stamp = host.stamp(file)
  const sizeBytes = host.size(file) ?? 0
  return { stamp, sizeBytes, bytes: sizeBytes > MAX_FILE_BYTES ? undefined : host.read(file) }
}

function stampedFiles(list: readonly string[]): Map<string, Stamped> {
  const files = new Map<string, Stamped>()
  for (let at = 0; at + 2 < list.length; at += 3)
    files.set(list[at] as string, [list[at + 1] as string, list[at + 2] as string])
  return files
}

const NEW_LINE = 10

function readState(host: Host, kept: string): StoredState | undefined {
  try {
    const bytes = host.read(kept)
    const start = bytes.indexOf(NEW_LINE) + 1
    const json = bytes.subarray(start, -1)
    const decoder = new TextDecoder()
    if (decoder.decode(bytes.subarray(0, start - 1)) !== host.checksum(json, '')) return undefined
    const state = JSON.parse(decoder.decode(json)) as StoredState
    return state.version === host.version() ? state : undefined
  } catch (error) {
    if (error instanceof HostError) return undefined
    throw error
  }
}

import { ENTRY_FILES, type EntryFiles, isMarked, type Manifest } from '../emit/entry-files.ts'
import { type Host, LEFT_OVER } from '../host/host.ts'
import { readText } from './read-text.ts'

const CHUNK =
  /^(?:(?:entries|catalogues|rows|indexes|notes|bodies)\/[\w$]+-[0-9a-f]{12,16}(?:-\d+)?\.js|images\/[\w-]+-\d+-(?:q\d+-)?[0-9a-f]{12}\.(?:avif|webp|jpeg|png)|runtime\/[0-9a-f]{12}\/[\w.-]+\.(?:js|txt))$/

/** The states of written files, by path below the generated folder; see `Host.identity`. */
export type WrittenFiles = ReadonlyMap<string, string>

/** Writes a generated folder so that a reader always finds a whole one. */
export interface Publisher {
  /** Writes a chunk, or an image. */
  write(path: string, content: string | Uint8Array): void
  /** Keeps a chunk that was written before. */
  keep(path: string): void
  /** Keeps a file if it is there as it was written; tells whether it is. */
  keepWhole(path: string): boolean
  /** Lets chunks that are written in the meantime come to an end. */
  drain(): Promise<void>
  /**
   * Replaces the entry files, the last of them last, once all chunks are written, and removes what no one can hold any
   * more. Gives what was written, or undefined where chunks that were there are gone, since another build removed them:
   * then nothing is replaced, and all is to be written again. Throws a {@link ForeignFile} where an entry file would
   * replace a file that no build wrote.
   */
  finish(entryFiles: EntryFiles): Promise<Generation | undefined>
  /** True where this process wrote the folder last, so that what it put there is there. */
  readonly isSole: boolean
  /** Must be called in any case. */
  end(): Promise<void>
  /** Files that had to be written so far. */
  readonly written: number
}

/** An output as a process wrote it. */
export interface Generation {
  /** The text of the manifest. */
  readonly manifest: string
  readonly files: WrittenFiles
  /** Chunks of the generation before, which readers may still hold. */
  readonly before: ReadonlySet<string>
}

/** A file of somebody else where one of ours would be. */
export class ForeignFile extends Error {
  readonly file: string
  constructor(file: string) {
    super(`${file} is not ours`)
    this.file = file
  }
}

/** True where all files of an output are as they were written. */
export const isWhole = (
  host: Host,
  folder: string,
  files: Iterable<readonly [path: string, identity: string]>,
): boolean => [...files].every(([path, identity]) => host.identity(`${folder}/${path}`) === identity)

/**
 * Starts to write a generated folder. Chunks have names of their own for every content, so new ones stand beside the
 * old; then the entry files that name them are replaced, the module last. The chunks of the generation just replaced stay
 * until the next one, for readers that hold its module. While another build is under way nothing is removed. Only files
 * of our own naming are ever deleted, and only those that a build wrote are replaced. `generation` is what this process
 * wrote last; `known` are files that are right where their state is still the same.
 */
export function startPublishing(
  host: Host,
  folder: string,
  {
    generation,
    known,
  }: { readonly generation?: Generation | undefined; readonly known?: WrittenFiles | undefined } = {},
): Publisher {
  const at = (path: string): string => `${folder}/${path}`
  // What this process wrote is ours.
  if (!generation) refuseForeign(host, folder)
  const lock = host.lock(folder)
  const writing = host.startWriting()
  const manifest = readText(host, at('manifest.json'))
  // As long as nobody else wrote the folder, it holds what this process put there.
  const last = generation?.manifest === manifest ? generation : undefined
  const right = last?.files ?? known
  const previous: ReadonlySet<string> = last ? new Set(last.files.keys()) : chunksOf(manifest)
  /** By path; undefined for what is being written. */
  const present = new Map<string, string | undefined>()
  let written = 0
  /** Chunks that no reader can hold any more. */
  const findStale = (): readonly string[] => {
    const isStale = (path: string): boolean => !present.has(path) && !previous.has(path)
    if (last) return [...last.before].filter((path) => CHUNK.test(path) && isStale(path))
    const listed = host.list(folder)?.files ?? []
    return listed.filter((path) => isLeftOver(path) || (CHUNK.test(path) && isStale(path)))
  }
  /** The state of a file that has a text already. */
  const stateOf = (path: string, content: string | Uint8Array): string | undefined => {
    const state = host.identity(at(path))
    if (state === undefined || right?.get(path) === state) return state
    return hasContent(host, at(path), content) ? state : undefined
  }
  return {
    get written() {
      return written
    },
    isSole: last !== undefined,
    async end() {
      // Nothing of it is read where it was not waited for.
      await writing.settled().catch(() => undefined)
      lock.end()
    },
    drain: writing.drain,
    keepWhole(path) {
      const state = host.identity(at(path))
      if (state === undefined || right?.get(path) !== state) return false
      present.set(path, state)
      return true
    },
    write(path, text) {
      const state = stateOf(path, text)
      present.set(path, state)
      if (state !== undefined) return
      written++
      writing.write(at(path), text)
    },
    keep(path) {
      present.set(path, right?.get(path) ?? host.identity(at(path)) ?? '')
    },
    async finish(entryFiles) {
      await writing.settled()
      // What the same process put there is looked at where something tells that it changed.
      const isGone = ([path, state]: readonly [string, string | undefined]): boolean =>
        state !== undefined && last?.files.get(path) !== state && host.identity(at(path)) !== state
      if ([...present].some(isGone)) return undefined
      for (const [path, text] of entryFiles) {
        if (readText(host, at(path)) === text) continue
        host.write(at(path), text)
        written++
      }
      const files = new Map([...present].map(([path, state]) => [path, state ?? stateNow(host, at(path))]))
      for (const path of entryFiles.keys()) files.set(path, stateNow(host, at(path)))
      // Those of an earlier setting would lead to what is gone.
      const left = ENTRY_FILES.filter((path) => !entryFiles.has(path) && isMarked(readText(host, at(path)) ?? ''))
      for (const path of left) host.remove(at(path))
      const next = { manifest: entryFiles.get('manifest.json') ?? '', files, before: previous }
      // Listed before the look at others: what they write from now on is not in it.
      const stale = findStale()
      if (!lock.isShared()) {
        for (const path of stale) host.remove(at(path))
        for (const path of stale)
          if (path.startsWith('runtime/')) host.removeEmptyFolders?.(at(path.replace(/\/[^/]*$/, '')))
      }
      return next
    },
  }
}

/** True where a file has a content already. */
function hasContent(host: Host, file: string, content: string | Uint8Array): boolean {
  if (typeof content === 'string') return host.size(file) === byteLength(content) && readText(host, file) === content
  return host.size(file) === content.length && host.digest(host.read(file)) === host.digest(content)
}

/** The state of a file that was just written; one that is gone was removed meanwhile, which is found out later. */
const stateNow = (host: Host, file: string): string => host.identity(file) ?? ''

/** True for a file that a build was writing when it was killed. */
function isLeftOver(path: string): boolean {
  const target = path.replace(LEFT_OVER, '')
  return target !== path && (CHUNK.test(target) || ENTRY_FILES.some((name) => name === target))
}

/**
 * Throws where a file stands in the place of an entry file that no build wrote. A manifest says that all are ours; where
 * it is damaged or gone, those that say it themselves are.
 */
function refuseForeign(host: Host, folder: string): void {
  const texts = new Map<string, string | undefined>(
    ENTRY_FILES.map((name) => [name, readText(host, `${folder}/${name}`)]),
  )
  const manifest = texts.get('manifest.json')
  const isListed = manifest !== undefined && isManifest(manifest)
  const hasMark = (name: string): boolean => isMarked(texts.get(name) ?? '')
  const isOurs = (name: string): boolean =>
    isListed || (name === 'manifest.json' ? ENTRY_FILES.some(hasMark) : hasMark(name))
  const foreign = ENTRY_FILES.find((name) => texts.get(name) !== undefined && !isOurs(name))
  if (foreign !== undefined) throw new ForeignFile(`${folder}/${foreign}`)
}

/** True for a manifest of a build of any version. */
function isManifest(text: string): boolean {
  const { layout, collections } = readManifest(text)
  return typeof layout === 'number' && typeof collections === 'object' && collections !== null
}

function readManifest(text: string | undefined): Partial<Manifest> {
  try {
    const value: unknown = JSON.parse(text ?? '')
    return typeof value === 'object' && value !== null ? value : {}
  } catch {
    return {}
  }
}

function byteLength(text: string): number {
  return new TextEncoder().encode(text).length
}

/** The chunks that a manifest names; none where it cannot be read. */
function chunksOf(manifest: string | undefined): Set<string> {
  const { collections, images = [], runtime = [] } = readManifest(manifest)
  const chunks = Object.values(collections ?? {}).flatMap((one) => (Array.isArray(one?.chunks) ? one.chunks : []))
  const others = [images, runtime].flatMap((paths) => (Array.isArray(paths) ? paths : []))
  return new Set([...chunks, ...others].filter((path) => CHUNK.test(path)))
}

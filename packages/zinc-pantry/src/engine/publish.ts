import type { Manifest } from '../emit/emit-site.ts'
import type { PartWriter } from '../emit/part-keeper.ts'
import { type Host, LEFT_OVER } from '../host/host.ts'
import { readText } from './read-text.ts'

const PART = /^(?:entries|catalogues|rows|indexes|notes|bodies)\/[\w$]+-[0-9a-f]{12,16}(?:-\d+)?\.js$/

/** Writes a generated folder so that a reader always finds a whole one. */
export interface Publisher extends PartWriter {
  /** Lets parts that are written in the meantime come to an end. */
  turn(): Promise<void>
  /**
   * Replaces the heads, the last of them last, once all parts are written, and removes what no one can hold any more.
   * Gives the sizes of all parts, or undefined where parts that were there are gone, since another build removed them:
   * then nothing is replaced, and all is to be written again.
   */
  finish(heads: ReadonlyMap<string, string>): Promise<ReadonlyMap<string, number> | undefined>
  /** True where this process wrote the folder last, so that what it put there is there. */
  readonly isSole: boolean
  /** Must be called in any case. */
  end(): Promise<void>
  /** Files that had to be written so far. */
  readonly written: number
}

/** The generations that the same process wrote last. */
export interface PublishMemory {
  last?: {
    /** The text of the manifest. */
    readonly manifest: string
    readonly parts: ReadonlyMap<string, number>
    /** Parts of the generation before, which readers may still hold. */
    readonly before: ReadonlySet<string>
  }
}

/**
 * Starts to write a generated folder. Parts have names of their own for every content, so new ones stand beside the
 * old; then the heads that name them are replaced, the module last. The parts of the generation just replaced stay
 * until the next one, for readers that hold its head. While another build is under way nothing is removed. Only files of
 * our own naming are ever deleted.
 */
export function startPublishing(host: Host, folder: string, memory: PublishMemory = {}): Publisher {
  const at = (path: string): string => `${folder}/${path}`
  const occupation = host.occupy(folder)
  const writing = host.startWriting()
  const manifest = readText(host, at('manifest.json'))
  // As long as nobody else wrote the folder, it holds what this process put there.
  const last = memory.last?.manifest === manifest ? memory.last : undefined
  const previous: ReadonlySet<string> = last ? new Set(last.parts.keys()) : partsOf(manifest)
  const present = new Map<string, number>()
  const found: string[] = []
  let written = 0
  /** Parts that no reader can hold any more. */
  const findStale = (): readonly string[] => {
    const isStale = (path: string): boolean => !present.has(path) && !previous.has(path)
    if (last) return [...last.before].filter(isStale)
    const listed = host.list(folder)?.files ?? []
    return listed.filter((path) => LEFT_OVER.test(path) || (PART.test(path) && isStale(path)))
  }
  const isGone = (path: string): boolean =>
    last?.parts.get(path) !== present.get(path) && host.size(at(path)) !== present.get(path)
  return {
    get written() {
      return written
    },
    isSole: last !== undefined,
    async end() {
      // Nothing of it is read where it was not waited for.
      await writing.settled().catch(() => undefined)
      occupation.end()
    },
    turn: writing.turn,
    // The name of a part says its content, so that one that is there already is right.
    write(path, text) {
      // Without a manifest there can only be what a killed build left.
      const size = manifest === undefined ? undefined : host.size(at(path))
      const isThere = size !== undefined && size === byteLength(text)
      const length = isThere ? size : writing.write(at(path), text)
      present.set(path, length)
      if (isThere) found.push(path)
      else written++
      return length
    },
    keep(path, sizeBytes) {
      present.set(path, sizeBytes)
      found.push(path)
    },
    async finish(heads) {
      await writing.settled()
      if (found.some(isGone)) return undefined
      for (const [path, text] of heads) {
        if (readText(host, at(path)) === text) continue
        host.write(at(path), text)
        written++
      }
      memory.last = { manifest: heads.get('manifest.json') ?? '', parts: present, before: previous }
      // Listed before the look at others: what they write from now on is not in it.
      const stale = findStale()
      if (!occupation.isShared()) for (const path of stale) host.remove(at(path))
      return present
    },
  }
}

function byteLength(text: string): number {
  return new TextEncoder().encode(text).length
}

/** The parts that a manifest names; none where it cannot be read. */
function partsOf(manifest: string | undefined): Set<string> {
  try {
    const { collections = {} } = (JSON.parse(manifest ?? '') as Partial<Manifest> | null) ?? {}
    return new Set(Object.values(collections).flatMap(({ parts }) => (Array.isArray(parts) ? parts : [])))
  } catch {
    return new Set()
  }
}

import type { Manifest } from '../emit/emit-site.ts'
import type { Host } from '../host/host.ts'
import { readText } from './read-text.ts'

const PART = /^(?:entries|catalogues|rows|indexes|notes|bodies)\/[\w$]+-[0-9a-f]{12,16}(?:-\d+)?\.js$/
const LEFT_OVER = /\.\d+\.tmp$/

/** Writes a generated folder so that a reader always finds a whole one. */
export interface Publisher {
  /** Writes a part. Its name says its content, so that one that is there already is right. */
  part(path: string, text: string): void
  /**
   * Replaces the heads, the last of them last, and removes what no one can hold any more. Gives the sizes of all parts,
   * or undefined where parts that were there are gone, since another build removed them: then nothing is replaced, and
   * all is to be written again.
   */
  finish(heads: ReadonlyMap<string, string>): Readonly<Record<string, number>> | undefined
  /** Must be called in any case. */
  end(): void
  /** Files that had to be written so far. */
  readonly written: number
}

/**
 * Starts to write a generated folder. Parts have names of their own for every content, so new ones stand beside the
 * old; then the heads that name them are replaced, the module last. The parts of the generation just replaced stay
 * until the next one, for readers that hold its head. While another build is under way nothing is removed. Only files of
 * our own naming are ever deleted.
 */
export function startPublishing(host: Host, folder: string): Publisher {
  const at = (path: string): string => `${folder}/${path}`
  const occupation = host.occupy(folder)
  const previous = partsOf(readManifest(host, at('manifest.json')))
  const present = new Map<string, number>()
  const found: string[] = []
  let written = 0
  return {
    get written() {
      return written
    },
    end: occupation.end,
    part(path, text) {
      const length = byteLength(text)
      present.set(path, length)
      if (host.size(at(path)) === length) {
        found.push(path)
        return
      }
      host.write(at(path), text)
      written++
    },
    finish(heads) {
      if (found.some((path) => host.size(at(path)) === undefined)) return undefined
      for (const [path, text] of heads) {
        if (readText(host, at(path)) === text) continue
        host.write(at(path), text)
        written++
      }
      // Listed before the look at others: what they write from now on is not in it.
      const listed = host.list(folder)?.files ?? []
      const sizes = Object.fromEntries(present)
      if (occupation.isShared()) return sizes
      for (const path of listed)
        if (LEFT_OVER.test(path) || (PART.test(path) && !present.has(path) && !previous.has(path)))
          host.remove(at(path))
      return sizes
    },
  }
}

function byteLength(text: string): number {
  return new TextEncoder().encode(text).length
}

function readManifest(host: Host, file: string): Partial<Manifest> {
  const text = readText(host, file)
  if (text === undefined) return {}
  try {
    return (JSON.parse(text) as Partial<Manifest> | null) ?? {}
  } catch {
    return {}
  }
}

function partsOf({ collections }: Partial<Manifest>): Set<string> {
  return new Set(Object.values(collections ?? {}).flatMap(({ parts }) => (Array.isArray(parts) ? parts : [])))
}

import type { Contents } from '../change/contents.ts'
import type { Host } from '../host/host.ts'
import { readBytes } from './read-text.ts'

/** Where a content is kept: in a file with others, from a byte to another. */
export interface KeptContent {
  readonly digest: string
  readonly pack: string
  readonly start: number
  readonly end: number
}

/** The number of bytes after which contents go into another file. */
const PACK_BYTES = 2 ** 24

/** Packs of contents one after another: a file for each would be most of the time that a change takes. */
export interface Packs {
  /** Places of the contents, by their files; null for files that are not there. */
  readonly places: ReadonlyMap<string, KeptContent | null>
  readonly packs: ReadonlyMap<string, Uint8Array>
}

/** Puts contents into packs, whose names begin with a path. */
export function packContents(contents: Contents, digest: Host['digest'], path: string): Packs {
  const places = new Map<string, KeptContent | null>()
  const packs = new Map<string, Uint8Array>()
  let own: Uint8Array[] = []
  let length = 0
  const close = (): void => {
    const pack = new Uint8Array(length)
    let at = 0
    for (const bytes of own) {
      pack.set(bytes, at)
      at += bytes.length
    }
    packs.set(`${path}-${packs.size}`, pack)
    own = []
    length = 0
  }
  for (const [file, bytes] of contents) {
    if (!bytes) {
      places.set(file, null)
      continue
    }
    if (length > 0 && length + bytes.length > PACK_BYTES) close()
    places.set(file, {
      digest: digest(bytes),
      pack: `${path}-${packs.size}`,
      start: length,
      end: length + bytes.length,
    })
    own.push(bytes)
    length += bytes.length
  }
  if (own.length > 0) close()
  return { places, packs }
}

/** Makes what reads contents again; it gives undefined where one is not there as it was. */
export function createContentReader(host: Host): (kept: KeptContent) => Uint8Array | undefined {
  let name: string | undefined
  let bytes: Uint8Array | undefined
  return ({ digest, pack, start, end }) => {
    if (pack !== name) {
      name = pack
      bytes = readBytes(host, pack)
    }
    const content = bytes?.subarray(start, end)
    return content && host.digest(content) === digest ? content : undefined
  }
}

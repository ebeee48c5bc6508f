import { type Host, HostError } from '../../host/host.ts'
import { readBytes } from '../read-text.ts'
import { CACHE_FOLDER } from './site-memory.ts'

/** Images that are kept from process to process. */
export interface KeptImages {
  /** The bytes of an image, by its name, where they are kept and whole. */
  find(name: string): Uint8Array | undefined
  keep(name: string, bytes: Uint8Array): void
  /** Ends what is written, and forgets what is not needed. */
  end(needed: ReadonlySet<string>): Promise<void>
}

const FOLDER = `${CACHE_FOLDER}/images`
/** The number of kept images that a build does not need and that stay all the same. */
const MOST_UNUSED = 64

/** Opens the folder of images that are kept. The name of each ends with a checksum, by which damage is found. */
export function openKeptImages(host: Host): KeptImages {
  const paths = new Map(
    (host.list(FOLDER)?.files ?? []).map((path) => [path.slice(0, path.lastIndexOf('.')), `${FOLDER}/${path}`]),
  )
  const writing = host.startWriting()
  const pathOf = (name: string, bytes: Uint8Array): string => `${FOLDER}/${name}.${host.checksum(bytes, name)}`
  return {
    find(name) {
      const path = paths.get(name)
      const bytes = path === undefined ? undefined : readBytes(host, path)
      return bytes && pathOf(name, bytes) === path ? bytes : undefined
    },
    // What cannot be kept is made again the next time.
    keep: (name, bytes) => void attempt(() => writing.write(pathOf(name, bytes), bytes)),
    async end(needed) {
      await writing.settled().catch(() => undefined)
      const unused = [...paths].filter(([name]) => !needed.has(name))
      // Those of drafts, too, are needed in turn.
      if (unused.length <= needed.size + MOST_UNUSED) return
      for (const [, path] of unused) attempt(() => host.remove(path))
    },
  }
}

function attempt<Result>(action: () => Result): Result | undefined {
  try {
    return action()
  } catch (error) {
    if (error instanceof HostError) return undefined
    throw error
  }
}

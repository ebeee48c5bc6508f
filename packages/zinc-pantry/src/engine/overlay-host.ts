import type { Contents } from '../change/contents.ts'
import { type Host, HostError } from '../host/host.ts'

/** A host on which some files have another content, are there besides, or are not there. Nothing is written. */
export function overlayHost(host: Host, contents: Contents): Host {
  const overlaid = <Result>(
    file: string,
    known: (bytes: Uint8Array | undefined) => Result,
    other: () => Result,
  ): Result => (contents.has(file) ? known(contents.get(file)) : other())
  return {
    ...host,
    list(folder, dotNames) {
      const listing = host.list(folder, dotNames)
      if (!listing) return undefined
      const files = new Set(listing.files)
      for (const [path, bytes] of contents) {
        if (!path.startsWith(`${folder}/`)) continue
        const file = path.slice(folder.length + 1)
        if (bytes) files.add(file)
        else files.delete(file)
      }
      return { ...listing, files: [...files].sort() }
    },
    read: (file, maxBytes) =>
      overlaid(
        file,
        (bytes) => {
          if (!bytes) throw new HostError('it does not exist')
          return maxBytes === undefined ? bytes : bytes.subarray(0, maxBytes)
        },
        () => host.read(file, maxBytes),
      ),
    readStamped: (file, maxBytes) =>
      overlaid(
        file,
        () => undefined,
        () => host.readStamped?.(file, maxBytes),
      ),
    size: (file) =>
      overlaid(
        file,
        (bytes) => bytes?.length,
        () => host.size(file),
      ),
    loadConfiguration(file, options) {
      const decoder = new TextDecoder()
      const own = [...contents].flatMap(([path, bytes]) => (bytes ? [[path, decoder.decode(bytes)] as const] : []))
      // Of two hosts over each other the outer one is asked first.
      const texts = new Map([...own, ...(options?.texts ?? [])])
      // What is kept is of the files as they are.
      const kept = [...texts.keys()].some(isImported) ? undefined : options?.kept
      return host.loadConfiguration(file, { ...options, kept, texts })
    },
    stamp: (file) =>
      overlaid(
        file,
        () => undefined,
        () => host.stamp(file),
      ),
  }
}

/** True for a file that a configuration may be made of. */
const isImported = (file: string): boolean => /\.(?:[cm]?[jt]sx?|json)$/.test(file)

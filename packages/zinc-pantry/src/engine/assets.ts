import { imageSize } from 'image-size'
import { suggestNearest } from '../diagnostics/suggest.ts'
import { type Host, HostError } from '../host/host.ts'
import { resolveFrom } from '../link/resolve-path.ts'
import { sniffKind } from '../read/sniff-kind.ts'
import type { AssetAnswer, AssetFacts } from '../schema/asset.ts'

/** Answers what is known of files that entries name; each file is read once. */
export type AssetReader = (path: string, from: string) => AssetAnswer

/** Makes a reader for the files of the content folder. */
export function createAssetReader(host: Host, content: string, files: readonly string[]): AssetReader {
  const known = new Set(files)
  const facts = new Map<string, AssetFacts>()
  return (path, from) => {
    const file = resolveFrom(path.startsWith('/') ? '' : from, path)
    if (file === undefined) return { outside: true }
    const seen = facts.get(file)
    if (seen) return { facts: seen }
    const read = known.has(file) ? readFacts(host, content, file) : undefined
    if (!read) return { missing: file, suggestion: suggestBeside(path, file, files) }
    facts.set(file, read)
    return { facts: read }
  }
}

/** A file of the same folder with a similar name, as the writer would write it. */
function suggestBeside(path: string, file: string, files: readonly string[]): string | undefined {
  const folder = file.slice(0, file.lastIndexOf('/') + 1)
  const beside = files.filter((other) => other.startsWith(folder) && !other.slice(folder.length).includes('/'))
  const suggestion = suggestNearest(
    file.slice(folder.length),
    beside.map((other) => other.slice(folder.length)),
  )
  return suggestion === undefined ? undefined : path.slice(0, path.lastIndexOf('/') + 1) + suggestion
}

function readFacts(host: Host, content: string, file: string): AssetFacts | undefined {
  try {
    const bytes = host.read(`${content}/${file}`)
    const kind = sniffKind(bytes, file)
    return { file, sizeBytes: bytes.length, kind, ...dimensionsOf(bytes) }
  } catch (error) {
    if (error instanceof HostError) return undefined
    throw error
  }
}

function dimensionsOf(bytes: Uint8Array): Pick<AssetFacts, 'width' | 'height'> {
  try {
    const { width, height } = imageSize(bytes)
    return { width, height }
  } catch {
    return { width: undefined, height: undefined }
  }
}

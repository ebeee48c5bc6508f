import { imageSize } from 'image-size'
import { createSuggester } from '../diagnostics/suggest.ts'
import { type Host, HostError } from '../host/host.ts'
import { resolveFrom } from '../link/resolve-path.ts'
import { namesByFolder } from '../link/suggest-path.ts'
import { MAX_FILE_BYTES } from '../read/decode.ts'
import { isAnimated } from '../read/is-animated.ts'
import { sniffKind } from '../read/sniff-kind.ts'
import type { AssetAnswer, AssetFacts } from '../schema/asset.ts'
import type { KeptFacts, SiteMemory } from './cache/site-memory.ts'

/** Answers what is known of files that entries name; each file is read once. */
export type AssetReader = (path: string, from: string) => AssetAnswer

/** Makes a reader for the files of the content folder. */
export function createAssetReader(
  context: AssetContext,
  { files, guarded }: { readonly files: readonly string[]; readonly guarded: ReadonlyMap<string, string> },
): AssetReader {
  let known: ReadonlySet<string> | undefined
  const suggestBeside = createNeighbourSuggester(files)
  const facts = new Map<string, AssetFacts>()
  return (path, from) => {
    const file = resolveFrom(path.startsWith('/') ? '' : from, path)
    if (file === undefined) return { outside: true }
    const collection = guarded.get(file)
    if (collection !== undefined) return { guarded: collection }
    const seen = facts.get(file)
    if (seen) return { facts: seen }
    known ??= new Set(files)
    const read = known.has(file) ? readFacts(file, context) : undefined
    if (!read) return { missing: file, suggestion: suggestBeside(path, file) }
    facts.set(file, read)
    return { facts: read }
  }
}

/** Makes what finds a file of the same folder with a similar name, as the writer would write it. */
function createNeighbourSuggester(files: readonly string[]): (path: string, file: string) => string | undefined {
  const suggest = createSuggester()
  let folders: ReturnType<typeof namesByFolder> | undefined
  return (path, file) => {
    const end = file.lastIndexOf('/') + 1
    folders ??= namesByFolder(files)
    const names = folders.get(file.slice(0, end)) ?? []
    const suggestion = suggest(file.slice(0, end), file.slice(end), { size: names.length, words: () => names })
    return suggestion === undefined ? undefined : path.slice(0, path.lastIndexOf('/') + 1) + suggestion
  }
}

/** The number of bytes of a large file that are read for its kind and its dimensions. */
const HEAD_BYTES = 2 ** 20

/** Where files are read, and what is known of them. */
interface AssetContext {
  readonly host: Host
  readonly content: string
  readonly memory: Pick<SiteMemory, 'store' | 'state' | 'assets'>
  /** What the addresses of files begin with. */
  readonly base: string
}

function readFacts(file: string, { host, content, memory, base }: AssetContext): AssetFacts | undefined {
  const digest = memory.state.digestOf(`${content}/${file}`)
  if (digest === undefined) return undefined
  const key = host.digest(`image facts of ${file} ${digest}`)
  const known = memory.assets.get(key) ?? (memory.store.get(key) as KeptFacts | undefined)
  if (known) {
    memory.assets.set(key, known)
    return {
      digest,
      base,
      ...known,
      width: known.width ?? undefined,
      height: known.height ?? undefined,
      kind: known.kind ?? undefined,
    }
  }
  try {
    const path = `${content}/${file}`
    const size = host.size(path) ?? 0
    const bytes = memory.state.takeBytes(path) ?? host.read(path, size > MAX_FILE_BYTES ? HEAD_BYTES : undefined)
    const kind = sniffKind(bytes, file)
    const facts = {
      file,
      sizeBytes: Math.max(size, bytes.length),
      kind,
      ...dimensionsOf(bytes),
      ...(isAnimated(bytes, kind) ? ({ isAnimated: true } as const) : {}),
    }
    memory.assets.set(key, facts)
    memory.store.put(key, [JSON.stringify(facts)])
    return { digest, base, ...facts }
  } catch (error) {
    if (error instanceof HostError) return undefined
    throw error
  }
}

/** The dimensions as browsers show an image: one that was taken with the camera on its side is turned. */
function dimensionsOf(bytes: Uint8Array): Pick<AssetFacts, 'width' | 'height'> {
  try {
    const { width, height, orientation = 1 } = imageSize(bytes)
    return orientation > 4 ? { width: height, height: width } : { width, height }
  } catch {
    return { width: undefined, height: undefined }
  }
}

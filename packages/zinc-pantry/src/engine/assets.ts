import { imageSize } from 'image-size'
import { createSuggester } from '../diagnostics/suggest.ts'
import { type Host, HostError } from '../host/host.ts'
import { resolveFrom } from '../link/resolve-path.ts'
import { namesByFolder } from '../link/suggest-path.ts'
import { MAX_FILE_BYTES } from '../read/decode.ts'
import { sniffKind } from '../read/sniff-kind.ts'
import type { AssetAnswer, AssetFacts } from '../schema/asset.ts'
import type { KeptFacts, SiteMemory } from './cache/site-memory.ts'

/** Answers what is known of files that entries name; each file is read once. */
export type AssetReader = (path: string, from: string) => AssetAnswer

/** Makes a reader for the files of the content folder. */
export function createAssetReader(
  { host, content, memory }: AssetContext,
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
    const read = known.has(file) ? readFacts(file, { host, content, memory }) : undefined
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
}

function readFacts(file: string, { host, content, memory }: AssetContext): AssetFacts | undefined {
  const digest = memory.state.digestOf(`${content}/${file}`)
  if (digest === undefined) return undefined
  const key = host.digest(`facts of ${file} ${digest}`)
  const known = memory.assets.get(key) ?? (memory.store.get(key) as KeptFacts | undefined)
  if (known) {
    memory.assets.set(key, known)
    return {
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
    const facts = {
      file,
      sizeBytes: Math.max(size, bytes.length),
      kind: sniffKind(bytes, file),
      ...dimensionsOf(bytes),
    }
    memory.assets.set(key, facts)
    memory.store.put(key, JSON.stringify(facts))
    return facts
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

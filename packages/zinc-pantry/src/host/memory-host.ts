import { createNameTest } from './dot-names.ts'
import { type Host, HostError } from './host.ts'

/** A host in memory, for tests and for browsers. The map is the file system: paths to texts. */
export interface MemoryHost extends Host {
  readonly files: Map<string, string | Uint8Array>
}

/**
 * Makes a host whose files are the given ones; `configuration` is what any configuration file gives.
 *
 * @example
 * ```ts
 * import { pantry, text } from 'zinc-pantry'
 * import { checkSite, createMemoryHost } from 'zinc-pantry/engine'
 *
 * const configuration = pantry({ collections: { huts: { files: 'huts/*.md', fields: { name: text() } } } })
 * const host = createMemoryHost({ 'content/huts/gable.md': '---\nname: Gable\n---\n' }, configuration)
 * console.log((await checkSite({ host, configurationFile: 'pantry.config.ts' })).entryCount) // 1
 * ```
 */
export function createMemoryHost(
  files: Readonly<Record<string, string | Uint8Array>>,
  configuration?: unknown,
): MemoryHost {
  const map = new Map(Object.entries(files))
  const encoder = new TextEncoder()
  return {
    files: map,
    list(folder, dotNames) {
      const below = [...map.keys()].filter((path) => path.startsWith(`${folder}/`))
      if (below.length === 0) return undefined
      const isVisited = createNameTest(dotNames)
      const files = below.map((path) => path.slice(folder.length + 1))
      const visited = files.filter((path) => path.split('/').every(isVisited))
      return { files: visited.sort(), strayLinks: [], unreadable: [] }
    },
    read(file, maxBytes) {
      const content = map.get(file)
      if (content === undefined) throw new HostError('it does not exist')
      const bytes = typeof content === 'string' ? encoder.encode(content) : content
      return maxBytes === undefined ? bytes : bytes.subarray(0, maxBytes)
    },
    size(file) {
      const content = map.get(file)
      return typeof content === 'string' ? encoder.encode(content).length : content?.length
    },
    stamp: () => undefined,
    identity(file) {
      const content = map.get(file)
      return content === undefined ? undefined : digestContent(content)
    },
    digest: digestContent,
    checksum: (content, before) => digestContent(before + digestContent(content)).slice(0, 8),
    write: (file, text) => void map.set(file, text),
    startWriting: () => ({
      write(file, content) {
        map.set(file, content)
        return typeof content === 'string' ? encoder.encode(content).length : content.length
      },
      drain: async () => {},
      settled: async () => {},
    }),
    remove: (file) => void map.delete(file),
    watch: async () => ({ close: async () => undefined }),
    lock: () => ({ isShared: () => false, end: () => undefined }),
    version: () => 'memory',
    loadConfiguration: async () => ({ kind: 'loaded', value: configuration }),
    fetch: async () => {
      throw new HostError('there is no network in memory')
    },
    // Packages are none of its files.
    findImport: (specifier, file) =>
      specifier.startsWith('.') ? map.has(new URL(specifier, `file:///${file}`).pathname.slice(1)) : undefined,
    environment: () => undefined,
    withinLimit: (work) => work(),
    wait: async () => {},
    now: () => performance.now(),
    clock: () => new Date().toISOString(),
  }
}

/** Two plain 64-bit FNV-1a: memory needs no protection against made collisions. */
function digestContent(content: string | Uint8Array): string {
  const bytes = typeof content === 'string' ? new TextEncoder().encode(content) : content
  return [0xcbf29ce484222325n, 0x9ae16a3b2f90404fn].map((start) => digestBytes(bytes, start)).join('')
}

function digestBytes(bytes: Uint8Array, start: bigint): string {
  let hash = start
  for (const byte of bytes) hash = BigInt.asUintN(64, (hash ^ BigInt(byte)) * 0x100000001b3n)
  return hash.toString(16).padStart(16, '0')
}

import type { EmittedSite, Manifest } from '../emit/emit-site.ts'
import type { Host } from '../host/host.ts'
import { readText } from './read-text.ts'

const PART = /^(?:entries|indexes|notes|bodies)\/[\w$]+-[0-9a-f]{16}\.js$/
const LEFT_OVER = /\.\d+\.tmp$/

/**
 * Writes a generated folder so that a reader always finds a whole one. Parts have names of their own
 * for every content, so new ones stand beside the old; then the heads that name them are replaced,
 * the module last. The parts of the generation just replaced stay until the next one, for readers
 * that hold its head. Only files of our own naming are ever deleted.
 */
export function publishSite(host: Host, folder: string, site: EmittedSite): { written: number } {
  const at = (path: string): string => `${folder}/${path}`
  const previous = partsOf(readManifest(host, at('manifest.json')))
  let written = 0
  for (const [path, text] of site.parts) {
    const size = host.size(at(path))
    if (size !== undefined && size === byteLength(text)) continue
    host.write(at(path), text)
    written++
  }
  for (const [path, text] of site.heads) {
    if (readText(host, at(path)) === text) continue
    host.write(at(path), text)
    written++
  }
  const listed = host.list(folder)?.files ?? []
  const stale = listed.filter(
    (path) => LEFT_OVER.test(path) || (PART.test(path) && !site.parts.has(path) && !previous.has(path)),
  )
  for (const path of stale) host.remove(at(path))
  return { written }
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
  return new Set(Object.values(collections ?? {}).flatMap(({ parts }) => Object.values(parts ?? {}).flat()))
}

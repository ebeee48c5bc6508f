import { existsSync, mkdirSync, rmdirSync, rmSync, writeFileSync } from 'node:fs'
import { dirname, resolve } from 'node:path'
import { crc32 } from 'node:zlib'
import type { Host } from './host.ts'
import { loadColouring } from './node-colouring.ts'
import { loadNodeConfiguration } from './node-configuration.ts'
import { digestContent } from './node-digest.ts'
import { fetchNode } from './node-fetch.ts'
import { createHeapLimiter } from './node-heap.ts'
import { readPatch, readRevisions, readVersions } from './node-history.ts'
import { nodeImages } from './node-images.ts'
import { findNodeImport } from './node-import.ts'
import { identityOf, listFolder, stampOf, statOf } from './node-listing.ts'
import { lockFolder } from './node-lock.ts'
import { createTimedMatcher } from './node-match.ts'
import { readQueryRuntime } from './node-query-runtime.ts'
import { readBytes, readStamped } from './node-reading.ts'
import { explained } from './node-reason.ts'
import { createNodeThreads } from './node-threads.ts'
import { withinLimit } from './node-time-limit.ts'
import { readToolVersion } from './node-version.ts'
import { watchNode } from './node-watch.ts'
import { replaceFile, startNodeWriting } from './node-writing.ts'

/** Options of {@link createNodeHost}. */
export interface NodeHostOptions {
  /** How long a configuration may take to load, and a function of it that is a source. Default: 60,000 ms. */
  readonly timeLimitMs?: number
  /**
   * After how many bytes that were read the process collects its garbage more often, where its heap is at least half as large: it takes
   * less memory and more time. Default: never, since it is a setting of the whole process. The command sets it to 200 MiB.
   */
  readonly thriftyAfterBytes?: number
}

/**
 * A host on the file system of Node. `root` is the folder that all paths are relative to.
 *
 * @example
 * ```ts
 * import { checkSite, createNodeHost } from 'zinc-pantry/engine'
 *
 * const host = createNodeHost('site', { timeLimitMs: 10_000 })
 * console.log((await checkSite({ host, configurationFile: 'pantry.config.ts' })).fileCount)
 * ```
 */
export function createNodeHost(root: string, { timeLimitMs = 60_000, thriftyAfterBytes }: NodeHostOptions = {}): Host {
  const base = resolve(root)
  const noteRead = thriftyAfterBytes === undefined ? undefined : createHeapLimiter(thriftyAfterBytes)
  // Not joined, which would take a sixth of the time of asking for the state of a file.
  const absolute = (path: string): string => `${base}/${path}`
  /** Folders that were made; making one again takes as long as writing a small file. */
  const made = new Set<string>()
  const prepare = (file: string): string => {
    const target = absolute(file)
    const folder = dirname(target)
    if (!made.has(folder) || !existsSync(folder)) mkdirSync(folder, { recursive: true })
    made.add(folder)
    return target
  }
  const own: Host = {
    root: base,
    list: (folder, dotNames) => listFolder(absolute(folder), dotNames),
    read(file, maxBytes) {
      const bytes = explained(() => readBytes(absolute(file), maxBytes))
      noteRead?.(bytes.length)
      return bytes
    },
    readStamped(file, maxBytes) {
      // A host that is made of this one may read in a way of its own.
      if (this.read !== own.read || this.stamp !== own.stamp) return undefined
      const found = explained(() => readStamped(absolute(file), maxBytes))
      noteRead?.(found.bytes?.length ?? 0)
      return found
    },
    size: (file) => statOf(absolute(file))?.size,
    stamp: (file) => stampOf(statOf(absolute(file))),
    identity: (file) => identityOf(absolute(file)),
    digest: digestContent,
    checksum: (content, before) => crc32(content, crc32(before)).toString(16).padStart(8, '0'),
    write(file, text) {
      explained(() => {
        const target = prepare(file)
        const temporary = `${target}.${process.pid}.tmp`
        replaceFile({ target, temporary }, () => writeFileSync(temporary, text))
      })
    },
    startWriting: () => startNodeWriting({ prepare, explained }),
    remove(file) {
      explained(() => rmSync(absolute(file), { force: true }))
    },
    removeEmptyFolders(folder) {
      try {
        for (let at = folder; at !== '' && at !== '.'; at = dirname(at)) rmdirSync(absolute(at))
      } catch {
        // It holds something, or somebody was faster.
      }
    },
    watch: (watched, onChange) => watchNode(base, watched, onChange),
    versions: (folder) => readVersions(absolute(folder)),
    revisions: (file) => readRevisions(absolute(file)),
    patchOf: (file, revision) => readPatch(absolute(file), revision),
    times(file) {
      const found = statOf(absolute(file))
      const instant = (time: Date): string => time.toISOString()
      return found && { first: instant(found.birthtime), last: instant(found.mtime) }
    },
    images: nodeImages,
    queryRuntime: readQueryRuntime,
    threads: createNodeThreads(process.env.ZINC_PANTRY_THREADS),
    colouring: loadColouring,
    lock: (folder) => explained(() => lockFolder(absolute(folder))),
    version: readToolVersion,
    loadConfiguration: (file, { kept: folder, texts } = {}) =>
      loadNodeConfiguration(base, file, {
        timeLimitMs,
        kept: folder === undefined ? undefined : { folder, version: readToolVersion() },
        texts,
      }),
    fetch: fetchNode,
    matches: createTimedMatcher(),
    findImport: (specifier, file) => findNodeImport(specifier, absolute(file)),
    environment: (name) => process.env[name],
    withinLimit: (work) => withinLimit(timeLimitMs, work),
    wait: (milliseconds) => new Promise((resolve) => setTimeout(resolve, milliseconds)),
    now: () => performance.now(),
    clock: () => new Date().toISOString(),
  }
  return own
}

import {
  existsSync,
  mkdirSync,
  readdirSync,
  readFileSync,
  realpathSync,
  rmSync,
  type Stats,
  statSync,
  writeFileSync,
} from 'node:fs'
import { dirname, join, resolve, sep } from 'node:path'
import { crc32 } from 'node:zlib'
import { type Host, HostError, type Listing, type UnreadableFolder } from './host.ts'
import { loadNodeConfiguration } from './node-configuration.ts'
import { digestContent } from './node-digest.ts'
import { fetchNode } from './node-fetch.ts'
import { createTimedMatcher } from './node-match.ts'
import { occupyFolder } from './node-occupation.ts'
import { readToolVersion } from './node-version.ts'
import { watchNode } from './node-watch.ts'
import { replaceFile, startNodeWriting } from './node-writing.ts'

/** A host on the file system of Node. `root` is the folder that all paths are relative to. */
export function createNodeHost(root: string): Host {
  const base = resolve(root)
  // Not joined, which would take a sixth of the time of asking for the state of a file.
  const absolute = (path: string): string => `${base}/${path}`
  /** Folders that were made; making one again takes as long as writing a small file. */
  const made = new Set<string>()
  let version: string | undefined
  const readVersion = (): string => {
    version ??= readToolVersion()
    return version
  }
  const prepare = (file: string): string => {
    const target = absolute(file)
    const folder = dirname(target)
    if (!made.has(folder) || !existsSync(folder)) mkdirSync(folder, { recursive: true })
    made.add(folder)
    return target
  }
  return {
    list: (folder) => listFolder(absolute(folder)),
    read(file) {
      return explained(() => readFileSync(absolute(file)))
    },
    size: (file) => statOf(absolute(file))?.size,
    stamp: (file) => stampOf(absolute(file)),
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
    watch: (watched, onChange) => watchNode(base, watched, onChange),
    occupy: (folder) => explained(() => occupyFolder(absolute(folder))),
    version: readVersion,
    loadConfiguration: (file, folder) =>
      loadNodeConfiguration(base, file, folder === undefined ? undefined : { folder, version: readVersion() }),
    fetch: fetchNode,
    matches: createTimedMatcher(),
    environment: (name) => process.env[name],
    wait: (milliseconds) => new Promise((resolve) => setTimeout(resolve, milliseconds)),
    now: () => performance.now(),
    clock: () => new Date().toISOString(),
  }
}

/** So long after a change a file system may still give another one the same time. */
const UNSETTLED_MS = 100

function stampOf(path: string): string | undefined {
  const found = statOf(path)
  if (!found || Date.now() - found.ctimeMs < UNSETTLED_MS) return undefined
  const { size, mtimeMs, ctimeMs, ino } = found
  return `${size} ${mtimeMs} ${ctimeMs} ${ino}`
}

function statOf(path: string): Stats | undefined {
  try {
    // Most often there is none, and an error would take longer than the question.
    return statSync(path, { throwIfNoEntry: false })
  } catch {
    return undefined
  }
}

const REASONS: Readonly<Record<string, string>> = {
  ENOENT: 'it does not exist',
  EACCES: 'access is not permitted',
  EPERM: 'access is not permitted',
  EISDIR: 'it is a folder',
  ENOSPC: 'the disk is full',
  EROFS: 'the disk is read-only',
  ENOTDIR: 'a folder in its path is a file',
  ENAMETOOLONG: 'its name is too long',
}

const reasonOf = (error: unknown): string => {
  const code = error instanceof Error && 'code' in error ? String(error.code) : ''
  return REASONS[code] ?? (code || String(error))
}

function explained<Result>(action: () => Result): Result {
  try {
    return action()
  } catch (error) {
    throw new HostError(reasonOf(error))
  }
}

function listFolder(folder: string): Listing | undefined {
  const real = realPath(folder)
  if (real === undefined || !statSync(real).isDirectory()) return undefined
  const files: string[] = []
  const strayLinks: string[] = []
  const unreadable: UnreadableFolder[] = []
  const walk = (path: string, relative: string, above: readonly string[]): void => {
    for (const item of itemsOf(path, relative)) {
      const { name } = item
      if (name.startsWith('.') || name === 'node_modules') continue
      const inner = relative === '' ? name : `${relative}/${name}`
      if (item.isDirectory()) walk(join(path, name), inner, [...above, join(path, name)])
      else if (item.isFile()) files.push(inner)
      else if (item.isSymbolicLink()) follow(join(path, name), inner, above)
    }
  }
  const itemsOf = (path: string, relative: string) => {
    try {
      return readdirSync(path, { withFileTypes: true })
    } catch (error) {
      unreadable.push({ path: relative, reason: reasonOf(error) })
      return []
    }
  }
  const follow = (path: string, relative: string, above: readonly string[]): void => {
    const target = realPath(path)
    if (!target?.startsWith(real + sep) || above.includes(target)) strayLinks.push(relative)
    else if (statSync(target).isDirectory()) walk(target, relative, [...above, target])
    else files.push(relative)
  }
  walk(real, '', [real])
  return { files: files.sort(), strayLinks: strayLinks.sort(), unreadable }
}

function realPath(path: string): string | undefined {
  try {
    return realpathSync(path)
  } catch {
    return undefined
  }
}

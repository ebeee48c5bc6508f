import { createHash } from 'node:crypto'
import {
  mkdirSync,
  readdirSync,
  readFileSync,
  realpathSync,
  renameSync,
  rmSync,
  statSync,
  writeFileSync,
} from 'node:fs'
import { dirname, join, resolve, sep } from 'node:path'
import { type Host, HostError, type Listing } from './host.ts'
import { loadNodeConfiguration } from './node-configuration.ts'

/** A host on the file system of Node. `root` is the folder that all paths are relative to. */
export function createNodeHost(root: string): Host {
  const absolute = (path: string): string => join(root, path)
  return {
    list: (folder) => listFolder(absolute(folder)),
    read(file) {
      return explained(() => readFileSync(absolute(file)))
    },
    size: (file) => statSync(absolute(file), { throwIfNoEntry: false })?.size,
    digest: (text) => createHash('sha256').update(text).digest('hex').slice(0, 16),
    write(file, text) {
      const target = absolute(file)
      const temporary = `${target}.${process.pid}.tmp`
      explained(() => {
        mkdirSync(dirname(target), { recursive: true })
        writeFileSync(temporary, text)
        renameSync(temporary, target)
      })
    },
    remove(file) {
      explained(() => rmSync(absolute(file), { force: true }))
    },
    loadConfiguration: (file) => loadNodeConfiguration(resolve(root), file),
    now: () => performance.now(),
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

function explained<Result>(action: () => Result): Result {
  try {
    return action()
  } catch (error) {
    const code = error instanceof Error && 'code' in error ? String(error.code) : ''
    throw new HostError(REASONS[code] ?? (code || String(error)))
  }
}

function listFolder(folder: string): Listing | undefined {
  const real = realPath(folder)
  if (real === undefined || !statSync(real).isDirectory()) return undefined
  const files: string[] = []
  const strayLinks: string[] = []
  const walk = (path: string, relative: string, above: readonly string[]): void => {
    for (const item of readdirSync(path, { withFileTypes: true })) {
      const { name } = item
      if (name.startsWith('.') || name === 'node_modules') continue
      const inner = relative === '' ? name : `${relative}/${name}`
      if (item.isDirectory()) walk(join(path, name), inner, [...above, join(path, name)])
      else if (item.isFile()) files.push(inner)
      else if (item.isSymbolicLink()) follow(join(path, name), inner, above)
    }
  }
  const follow = (path: string, relative: string, above: readonly string[]): void => {
    const target = realPath(path)
    const inside = target?.startsWith(real + sep) === true
    if (target === undefined || !inside || above.includes(target)) return void strayLinks.push(relative)
    if (statSync(target).isDirectory()) walk(target, relative, [...above, target])
    else files.push(relative)
  }
  walk(real, '', [real])
  return { files: files.sort(), strayLinks: strayLinks.sort() }
}

function realPath(path: string): string | undefined {
  try {
    return realpathSync(path)
  } catch {
    return undefined
  }
}

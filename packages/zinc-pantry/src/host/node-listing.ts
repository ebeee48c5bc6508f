import { type Dirent, readdirSync, realpathSync, type Stats, statSync } from 'node:fs'
import { sep } from 'node:path'
import { createNameTest } from './dot-names.ts'
import type { Listing, UnreadableFolder } from './host.ts'
import { reasonOf } from './node-reason.ts'

/**
 * Links may lead to one folder so often. Folders whose links lead to each other in pairs would have paths without
 * number.
 */
const MOST_WAYS = 16

/** Is told of everything in a tree of folders, by absolute path and by the path below its root. */
export interface TreeVisitor {
  file(path: string, relative: string): void
  folder?(path: string): void
  /** A link within the tree that is followed. */
  link?(path: string, target: string): void
  strayLink?(relative: string): void
  unreadable?(relative: string, reason: string): void
}

/** Visits a tree of folders; hidden items and `node_modules` are left out, links followed where they stay in it. */
export function visitTree(folder: string, visitor: TreeVisitor, dotNames?: readonly string[]): boolean {
  const real = realPath(folder)
  if (real === undefined || !statOf(real)?.isDirectory()) return false
  const isVisited = createNameTest(dotNames)
  const ways = new Map<string, number>()
  const walk = (path: string, relative: string, above: readonly string[]): void => {
    visitor.folder?.(path)
    for (const item of itemsOf(path, relative)) {
      const { name } = item
      if (!isVisited(name)) continue
      const inner = relative === '' ? name : `${relative}/${name}`
      const own = `${path}${sep}${name}`
      if (item.isDirectory()) walk(own, inner, [...above, own])
      else if (item.isFile()) visitor.file(own, inner)
      else if (item.isSymbolicLink()) follow(own, inner, above)
    }
  }
  const itemsOf = (path: string, relative: string): Dirent[] => {
    try {
      return readdirSync(path, { withFileTypes: true })
    } catch (error) {
      visitor.unreadable?.(relative, reasonOf(error))
      return []
    }
  }
  const follow = (path: string, relative: string, above: readonly string[]): void => {
    const target = realPath(path)
    const found = target?.startsWith(real + sep) && !above.includes(target) ? statOf(target) : undefined
    if (target !== undefined && found?.isDirectory() && countWays(target) <= MOST_WAYS) {
      visitor.link?.(path, target)
      walk(target, relative, [...above, target])
    } else if (target !== undefined && found?.isFile()) {
      visitor.link?.(path, target)
      visitor.file(target, relative)
      // What is neither a file nor a folder, such as a pipe, could keep a reader waiting for ever.
    } else visitor.strayLink?.(relative)
  }
  const countWays = (target: string): number => {
    const count = (ways.get(target) ?? 0) + 1
    ways.set(target, count)
    return count
  }
  walk(real, '', [real])
  return true
}

/** The files of a folder and of those below it. */
export function listFolder(folder: string, dotNames?: readonly string[]): Listing | undefined {
  const files: string[] = []
  const strayLinks: string[] = []
  const unreadable: UnreadableFolder[] = []
  const visitor: TreeVisitor = {
    file: (_path, relative) => void files.push(relative),
    strayLink: (relative) => void strayLinks.push(relative),
    unreadable: (path, reason) => void unreadable.push({ path, reason }),
  }
  const isThere = visitTree(folder, visitor, dotNames)
  return isThere ? { files: files.sort(), strayLinks: strayLinks.sort(), unreadable } : undefined
}

export function realPath(path: string): string | undefined {
  try {
    return realpathSync(path)
  } catch {
    return undefined
  }
}

/** The state of a file; undefined where there is none, or where it cannot be known. */
export function statOf(path: string): Stats | undefined {
  try {
    // Most often there is none, and an error would take longer than the question.
    return statSync(path, { throwIfNoEntry: false })
  } catch {
    return undefined
  }
}

/** How long after a change a file system may still give another one the same time. */
const UNSETTLED_MS = 100

/** Says which state a file is in; undefined where there is none, or where it was changed a moment ago. */
export const stampOf = (found: Stats | undefined): string | undefined =>
  !found || Date.now() - found.ctimeMs < UNSETTLED_MS ? undefined : identify(found)

/** The same of a file that only this process is expected to write. */
export function identityOf(path: string): string | undefined {
  const found = statOf(path)
  return found && identify(found)
}

/** Of most files both times are one; to write a time as text takes longer than all the rest. */
const identify = ({ size, mtimeMs, ctimeMs, ino }: Stats): string =>
  mtimeMs === ctimeMs ? `${size} ${mtimeMs} ${ino}` : `${size} ${mtimeMs} ${ctimeMs} ${ino}`

import { addTo } from '../diagnostics/add-to.ts'
import { groupBy } from '../diagnostics/group-by.ts'
import type { Suggester } from '../diagnostics/suggest.ts'
import { lastName } from './resolve-path.ts'

/** Says what a broken link likely meant, as its writer would write it. */
export type PathSuggester = (path: string, from: string, file: string | undefined) => string | undefined

/** Makes a suggester over the files and the entries of a site. */
export function createPathSuggester(
  files: readonly string[],
  names: ReadonlyMap<string, unknown>,
  suggest: Suggester,
): PathSuggester {
  let folders: ReturnType<typeof namesByFolder> | undefined
  let byName: ReadonlyMap<string, readonly string[]> | undefined
  return (path, from, file) => {
    const base = lastName(path)
    // A file of that name elsewhere was most likely moved, or the link was.
    byName ??= groupBy(files, lastName)
    const [moved, ...others] = byName.get(base) ?? []
    if (moved !== undefined && others.length === 0) return relativePath(from, moved)
    const folder = file?.slice(0, file.lastIndexOf('/') + 1)
    folders ??= namesByFolder(files)
    const beside = folders.get(folder ?? '') ?? []
    const near =
      folder === undefined ? undefined : suggest(`in ${folder}`, base, { size: beside.length, words: () => beside })
    if (near !== undefined) return path.slice(0, path.lastIndexOf('/') + 1) + near
    return path.startsWith('.') || moved !== undefined
      ? moved && relativePath(from, moved)
      : suggest('names', path, { size: names.size, words: () => names.keys() })
  }
}

/** The names of the files that lie in each folder; a folder ends with a slash. */
export function namesByFolder(files: readonly string[]): ReadonlyMap<string, readonly string[]> {
  const folders = new Map<string, string[]>()
  for (const file of files) {
    const slash = file.lastIndexOf('/') + 1
    addTo(folders, file.slice(0, slash), file.slice(slash))
  }
  return folders
}

/** The path from one file to another. */
function relativePath(from: string, to: string): string {
  const start = from.split('/').slice(0, -1)
  const end = to.split('/')
  let shared = 0
  while (shared < start.length && start[shared] === end[shared]) shared++
  return [...start.slice(shared).map(() => '..'), ...end.slice(shared)].join('/')
}

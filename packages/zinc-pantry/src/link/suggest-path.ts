import type { Suggester } from '../diagnostics/suggest.ts'

/** Says what a broken link likely meant, as its writer would write it. */
export type PathSuggester = (path: string, from: string, file: string | undefined) => string | undefined

/** Makes a suggester over the files and the entries of a site. */
export function createPathSuggester(
  files: readonly string[],
  names: ReadonlyMap<string, unknown>,
  suggest: Suggester,
): PathSuggester {
  let folders: Map<string, string[]> | undefined
  let byBase: Map<string, string[]> | undefined
  const fill = (): { folders: Map<string, string[]>; byBase: Map<string, string[]> } => {
    if (folders && byBase) return { folders, byBase }
    folders = new Map()
    byBase = new Map()
    for (const file of files) {
      const slash = file.lastIndexOf('/') + 1
      addTo(folders, file.slice(0, slash), file.slice(slash))
      addTo(byBase, file.slice(slash), file)
    }
    return { folders, byBase }
  }
  return (path, from, file) => {
    const base = path.slice(path.lastIndexOf('/') + 1)
    // A file of that name elsewhere was most likely moved, or the link was.
    const [moved, ...others] = fill().byBase.get(base) ?? []
    if (moved !== undefined && others.length === 0) return relativePath(from, moved)
    const folder = file?.slice(0, file.lastIndexOf('/') + 1)
    const beside = fill().folders.get(folder ?? '') ?? []
    const near =
      folder === undefined ? undefined : suggest(`in ${folder}`, base, { size: beside.length, words: () => beside })
    if (near !== undefined) return path.slice(0, path.lastIndexOf('/') + 1) + near
    return path.startsWith('.') || moved !== undefined
      ? moved && relativePath(from, moved)
      : suggest('names', path, { size: names.size, words: () => names.keys() })
  }
}

function addTo(map: Map<string, string[]>, key: string, value: string): void {
  const list = map.get(key)
  if (list) list.push(value)
  else map.set(key, [value])
}

/** The path from one file to another. */
function relativePath(from: string, to: string): string {
  const start = from.split('/').slice(0, -1)
  const end = to.split('/')
  let shared = 0
  while (shared < start.length && start[shared] === end[shared]) shared++
  return [...start.slice(shared).map(() => '..'), ...end.slice(shared)].join('/')
}

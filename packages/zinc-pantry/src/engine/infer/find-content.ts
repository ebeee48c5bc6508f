import picomatch from 'picomatch'
import type { Refusal } from '../../change/change.ts'
import type { Host } from '../../host/host.ts'
import { isReadable } from './read-files.ts'

/** The content of a site that has no configuration yet. */
export interface FoundContent {
  /** The folder, relative to the root. */
  readonly content: string
  /** Files that may hold records, relative to that folder. */
  readonly files: readonly string[]
  /** All files of it. */
  readonly listing: readonly string[]
}

/** Files beside the content that are none. */
const NO_CONTENT = /^(?:package(?:-lock)?\.json|tsconfig[^/]*\.json|README\.md|CHANGELOG\.md|LICENSE\.md)$/

/** Finds the folder of the content: that of the patterns, or the only one at the root that holds any. */
export function findContent(host: Host, patterns: readonly string[]): FoundContent | Refusal {
  const all = (host.list('.')?.files ?? []).filter((path) => !path.startsWith('generated/'))
  const isWanted = patterns.length > 0 ? picomatch([...patterns]) : () => true
  const found = all.filter((path) => isReadable(path) && isWanted(path) && !NO_CONTENT.test(path))
  const content = patterns.length > 0 ? commonFolder(patterns) : onlyFolder(found)
  if (typeof content !== 'string') return content
  const inside = (path: string): string[] => (path.startsWith(`${content}/`) ? [path.slice(content.length + 1)] : [])
  const files = found.flatMap(inside)
  if (files.length === 0)
    return {
      refused: `No file in ${content} can hold content`,
      help: 'Those end in .md, .mdx, .yaml, .json, .jsonc, .toml, .csv, .jsonl',
    }
  return { content, files, listing: all.flatMap(inside) }
}

/** The folder that all patterns lie in. */
function commonFolder(patterns: readonly string[]): string | Refusal {
  const folders = patterns.map((pattern) => {
    const steps = pattern.replace(/^\.\//, '').split('/').slice(0, -1)
    const glob = steps.findIndex((step) => /[*?[\]{}()!]/.test(step))
    return glob === -1 ? steps : steps.slice(0, glob)
  })
  const [first = []] = folders
  let depth = 0
  while (depth < first.length && folders.every((steps) => steps[depth] === first[depth])) depth++
  if (depth === 0)
    return {
      refused: 'Content needs a folder of its own',
      help: 'Name files below one folder, such as "content/**/*.md"',
    }
  return first.slice(0, depth).join('/')
}

function onlyFolder(files: readonly string[]): string | Refusal {
  const counts = new Map<string, number>()
  for (const path of files) {
    const folder = path.includes('/') ? path.slice(0, path.indexOf('/')) : '.'
    counts.set(folder, (counts.get(folder) ?? 0) + 1)
  }
  if (counts.has('content')) return 'content'
  const folders = [...counts.keys()].filter((folder) => folder !== '.')
  const [only, ...others] = folders
  if (only !== undefined && others.length === 0) return only
  if (only === undefined)
    return { refused: 'There is no content here', help: 'Name its files, such as "content/**/*.md"' }
  const list = folders.map((folder) => `${folder} (${counts.get(folder)})`).join(', ')
  return { refused: `Content may be in several folders: ${list}`, help: `Name its files, such as "${only}/**"` }
}

import { suggestNearest } from '../diagnostics/suggest.ts'
import type { LinkedEntry } from '../validate/entry.ts'
import type { FailedFile } from './dangling.ts'
import type { LinkedCollection } from './link-entries.ts'
import { resolveFrom } from './resolve-path.ts'
import { createPathSuggester } from './suggest-path.ts'

/** What bodies may link to. */
export interface LinkContext {
  readonly collections: readonly LinkedCollection[]
  /** Files that could not be read, by collection. */
  readonly failedFiles: ReadonlyMap<string, readonly FailedFile[]>
  /** All files of the content folder. */
  readonly files: readonly string[]
}

/** Where a link of a body leads. */
export type LinkTarget =
  | { readonly kind: 'outside' }
  | { readonly kind: 'asset'; readonly file: string }
  | {
      readonly kind: 'entry'
      readonly entry: LinkedEntry
      readonly fragment: string
      readonly address: string | undefined
    }
  | { readonly kind: 'no-page'; readonly entry: LinkedEntry }
  | { readonly kind: 'failed'; readonly collection: string; readonly id: string; readonly file: string }
  | { readonly kind: 'broken'; suggest(): string | undefined }
  | { readonly kind: 'no-heading'; readonly fragment: string; suggest(): string | undefined }

/** Finds out where links lead. */
export type LinkResolver = (href: string, from: LinkedEntry) => LinkTarget

const OUTSIDE: LinkTarget = { kind: 'outside' }
const SCHEME = /^(?:[a-z][a-z0-9+.-]*:|\/\/)/i
const INDEX = ['index.md', 'index.mdx', 'README.md', 'readme.md']
const WRITTEN = ['.md', '.mdx']

/** Makes a resolver of the links in bodies: to files, entries, page addresses, headings and assets. */
export function createLinkResolver({ collections, files, failedFiles }: LinkContext): LinkResolver {
  const entries = collections.flatMap((one) => one.entries)
  const known = new Set(files)
  const byFile = new Map<string, LinkedEntry>()
  const byName = new Map<string, LinkedEntry[]>()
  const byAddress = new Map<string, LinkedEntry>()
  const addressField = new Map(collections.map(({ collection }) => [collection.name, collection.address]))
  const addressOf = ({ collection, data }: LinkedEntry): string | undefined => {
    const field = addressField.get(collection)
    const address = field === undefined ? undefined : data?.[field]
    return typeof address === 'string' ? address : undefined
  }
  for (const entry of entries) {
    if (entry.source.pointer === '') byFile.set(entry.source.file, entry)
    const name = `${entry.collection}/${entry.id}`
    byName.set(name, [...(byName.get(name) ?? []), entry])
    const address = addressOf(entry)
    if (address !== undefined && !byAddress.has(address)) byAddress.set(address, entry)
  }
  const prefixes = new Set([...byAddress.keys()].map((address) => address.split('/', 2).join('/')))
  // Where no collection has pages, what becomes of links is the site's own affair.
  const hasPages = collections.some(({ collection }) => collection.address !== undefined)
  const suggestPath = createPathSuggester(files, byName)

  const toEntry = (entry: LinkedEntry, fragment: string, from: LinkedEntry): LinkTarget => {
    const ids = fragment === '' ? undefined : entry.body?.parsed.ids()
    if (!ids || ids.includes(fragment) || fragment.toLowerCase() === 'top') {
      const address = addressOf(entry)
      if (address === undefined && hasPages && from !== entry) return { kind: 'no-page', entry }
      return { kind: 'entry', entry, fragment, address }
    }
    return { kind: 'no-heading', fragment, suggest: () => suggestNearest(fragment, ids) }
  }
  const toPage = (path: string, fragment: string, from: LinkedEntry): LinkTarget => {
    const page =
      byAddress.get(path) ?? byAddress.get(`${path.replace(/\/$/, '')}/`) ?? byAddress.get(path.replace(/\/$/, ''))
    if (page) return toEntry(page, fragment, from)
    if (known.has(path.slice(1))) return { kind: 'asset', file: path.slice(1) }
    // Other pages of the site are not ours to know; those beside our own are.
    if (!prefixes.has(path.split('/', 2).join('/'))) return OUTSIDE
    return { kind: 'broken', suggest: () => suggestNearest(path, byAddress.keys()) }
  }
  /** A file, a file whose ending is left out, or the page of a folder. */
  const findFile = (file: string): string | undefined => {
    if (known.has(file)) return file
    const ending = WRITTEN.find((one) => known.has(file + one))
    if (ending !== undefined) return file + ending
    const folder = file === '' ? '' : `${file}/`
    const index = INDEX.find((name) => known.has(folder + name))
    return index && folder + index
  }

  /** An entry that may be in a file that could not be read. */
  const findFailed = (path: string): LinkTarget | undefined => {
    const [collection = '', ...rest] = path.split('/')
    const id = rest.join('/')
    const culprit = failedFiles.get(collection)?.find((one) => one.id === undefined || one.id === id)
    return culprit && { kind: 'failed', collection, id, file: culprit.file }
  }

  return (href, from) => {
    if (SCHEME.test(href)) return OUTSIDE
    const [address = '', fragment = ''] = decode(href).split('#', 2)
    const path = address.replace(/\?.*$/s, '')
    if (address === '') return toEntry(from, fragment, from)
    if (path.startsWith('/')) return toPage(path, fragment, from)
    const file = resolveFrom(from.source.file, path)
    const found = file === undefined ? undefined : findFile(file)
    const entry = (found === undefined ? undefined : byFile.get(found)) ?? inLocale(byName.get(path), from)
    if (entry) return toEntry(entry, fragment, from)
    if (found !== undefined) return { kind: 'asset', file: found }
    const failed = findFailed(path)
    if (failed) return failed
    return { kind: 'broken', suggest: () => suggestPath(path, from.source.file, file) }
  }
}

/** Of the versions of an entry that of the same language, or else the first. */
const inLocale = (versions: readonly LinkedEntry[] | undefined, { locale }: LinkedEntry): LinkedEntry | undefined =>
  versions?.find((version) => version.locale === locale) ?? versions?.[0]

function decode(href: string): string {
  if (!href.includes('%')) return href
  try {
    return decodeURIComponent(href)
  } catch {
    return href
  }
}

import picomatch from 'picomatch'
import { addTo } from '../diagnostics/add-to.ts'
import { groupBy } from '../diagnostics/group-by.ts'
import { createSuggester } from '../diagnostics/suggest.ts'
import type { LinkedEntry } from '../validate/entry.ts'
import { addressOf as addressOfPage } from './check-addresses.ts'
import type { FailedFile } from './dangling.ts'
import type { LinkedCollection } from './link-entries.ts'
import { type Hidden, versionKey } from './publication.ts'
import { resolveFrom, withoutNumbers } from './resolve-path.ts'
import { createPathSuggester } from './suggest-path.ts'

/** What bodies may link to. */
export interface LinkContext {
  readonly collections: readonly LinkedCollection[]
  /** Files that could not be read, by collection. */
  readonly failedFiles: ReadonlyMap<string, readonly FailedFile[]>
  /** All files of the content folder. */
  readonly files: readonly string[]
  /** Files that the site serves as they are. */
  readonly publicFiles: readonly string[]
  /** Patterns of addresses that something else serves. */
  readonly served: readonly string[]
  /** What is put before the paths of files of the content folder. */
  readonly assetBase: string
  /** What is not to be seen. */
  readonly hidden: Hidden
  /** Files that hold something that is not to be seen, and the collections that read them. */
  readonly guarded: ReadonlyMap<string, string>
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
  | { readonly kind: 'hidden'; readonly entry: LinkedEntry; readonly reason: string }
  | { readonly kind: 'guarded'; readonly collection: string }
  | { readonly kind: 'failed'; readonly collection: string; readonly id: string; readonly file: string }
  | { readonly kind: 'broken'; suggest(): string | undefined }
  | { readonly kind: 'no-heading'; readonly fragment: string; suggest(): string | undefined }

/** Finds out where links lead. */
export type LinkResolver = (href: string, from: LinkedEntry) => LinkTarget

/** A resolver of earlier runs, so that as long as links lead where they led nothing is looked at again. */
export interface ResolverMemory {
  last?: KeptResolver
  /** Grows when links may lead elsewhere than before. */
  generation: number
}

interface KeptResolver {
  readonly context: LinkContext
  readonly entries: readonly LinkedEntry[]
  readonly resolve: LinkResolver
  /** Puts an entry in the place of another one with the same names. */
  replace(old: LinkedEntry, entry: LinkedEntry): void
  readonly addressOf: (entry: LinkedEntry) => string | undefined
}

/** Makes a resolver of the links in bodies, or the last one where all that links may name is as it was. */
export function createLinkResolver(context: LinkContext, memory?: ResolverMemory): LinkResolver {
  const entries = context.collections.flatMap((one) => one.entries)
  const { last } = memory ?? {}
  if (memory && last && isSameSurface(last, context, entries)) {
    for (let at = 0; at < entries.length; at++) {
      const old = last.entries[at] as LinkedEntry
      const entry = entries[at] as LinkedEntry
      if (old === entry) continue
      if (String(old.body?.parsed.ids()) !== String(entry.body?.parsed.ids())) memory.generation++
      last.replace(old, entry)
    }
    memory.last = { ...last, context, entries }
    return last.resolve
  }
  const made = makeResolver(context, entries)
  if (memory) {
    memory.last = made
    memory.generation++
  }
  return made.resolve
}

/** True where the same files, ids and addresses are there, in the same places. */
function isSameSurface(last: KeptResolver, context: LinkContext, entries: readonly LinkedEntry[]): boolean {
  const failed = ({ failedFiles }: LinkContext): string => JSON.stringify([...failedFiles])
  const fieldsOf = ({ collections }: LinkContext): string =>
    JSON.stringify(collections.map(({ collection }) => [collection.name, collection.address]))
  return (
    last.context.files === context.files &&
    last.context.publicFiles === context.publicFiles &&
    last.context.served === context.served &&
    isSameMap(last.context.hidden, context.hidden) &&
    isSameMap(last.context.guarded, context.guarded) &&
    failed(last.context) === failed(context) &&
    fieldsOf(last.context) === fieldsOf(context) &&
    last.entries.length === entries.length &&
    last.entries.every((old, at) => {
      const entry = entries[at] as LinkedEntry
      if (old === entry) return true
      return (
        old.id === entry.id &&
        old.locale === entry.locale &&
        old.collection === entry.collection &&
        old.source.file === entry.source.file &&
        old.source.pointer === entry.source.pointer &&
        (old.data === undefined) === (entry.data === undefined) &&
        last.addressOf(old) === last.addressOf(entry)
      )
    })
  )
}

const isSameMap = (one: ReadonlyMap<string, string>, other: ReadonlyMap<string, string>): boolean =>
  one === other || (one.size === other.size && [...one].every(([key, value]) => other.get(key) === value))

const OUTSIDE: LinkTarget = { kind: 'outside' }
const SCHEME = /^(?:[a-z][a-z0-9+.-]*:|\/\/)/i
const INDEX = ['index.md', 'index.mdx', 'README.md', 'readme.md']
const WRITTEN = ['.md', '.mdx']

/** Makes a resolver of the links in bodies: to files, entries, page addresses, headings and assets. */
function makeResolver(context: LinkContext, entries: readonly LinkedEntry[]): KeptResolver {
  const { collections, files, publicFiles, served, assetBase, failedFiles, hidden, guarded } = context
  const known = new Set(files)
  const byFile = new Map<string, LinkedEntry>()
  const byName = new Map<string, LinkedEntry[]>()
  const byAddress = new Map<string, LinkedEntry>()
  const models = new Map(collections.map(({ collection }) => [collection.name, collection]))
  const addressOf = (entry: LinkedEntry): string | undefined => {
    const collection = models.get(entry.collection)
    return collection && addressOfPage(entry, collection)
  }
  /** Files of numbered collections by their paths without the numbers. */
  const numbered = new Map<string, string>()
  for (const entry of entries) {
    const { file, pointer } = entry.source
    if (pointer === '') byFile.set(file, entry)
    if (entry.rank !== undefined && withoutNumbers(file) !== file) numbered.set(withoutNumbers(file), file)
    const name = `${entry.collection}/${entry.id}`
    addTo(byName, name, entry)
    const address = addressOf(entry)
    if (address !== undefined && !byAddress.has(decode(address))) byAddress.set(decode(address), entry)
  }
  const publicPaths = new Set(publicFiles)
  const isServed = picomatch(served.length > 0 ? [...served] : ['!**'], { dot: true })
  // Where no collection has pages, what becomes of links is the site's own affair.
  const hasPages = collections.some(({ collection }) => collection.address !== undefined)
  const suggest = createSuggester()
  const suggestPath = createPathSuggester(files, byName, suggest)

  let bySegment: ReadonlyMap<string, readonly string[]> | undefined
  /** The nearest address, rather one with the same last segment. */
  const suggestPage = (path: string): string | undefined => {
    const last = lastSegment(path)
    bySegment ??= groupBy(byAddress.keys(), lastSegment)
    const alike = bySegment.get(last) ?? []
    const near = suggest(`pages ${last}`, path, { size: alike.length, words: () => alike })
    if (near !== undefined || (alike.length === 1 && last !== '')) return near ?? alike[0]
    return suggest('pages', path, { size: byAddress.size, words: () => byAddress.keys() })
  }

  const isSeen = (entry: LinkedEntry): boolean => !hidden.has(versionKey(entry))
  const suggestHeading = (fragment: string, entry: LinkedEntry, ids: readonly string[]): string | undefined =>
    suggest(`headings of ${versionKey(entry)}`, fragment, { size: ids.length, words: () => ids })
  const toEntry = (entry: LinkedEntry, fragment: string, from: LinkedEntry): LinkTarget => {
    const reason = isSeen(from) ? hidden.get(versionKey(entry)) : undefined
    if (reason !== undefined) return { kind: 'hidden', entry, reason }
    const ids = fragment === '' ? undefined : entry.body?.parsed.ids()
    if (!ids || ids.includes(fragment) || fragment.toLowerCase() === 'top') {
      const address = addressOf(entry)
      // What has errors of its own has no address because of them.
      if (address === undefined && from !== entry && entry.data) return { kind: 'no-page', entry }
      return { kind: 'entry', entry, fragment, address }
    }
    return { kind: 'no-heading', fragment, suggest: () => suggestHeading(fragment, entry, ids) }
  }
  const toAsset = (file: string): LinkTarget => {
    const collection = guarded.get(file)
    return collection === undefined ? { kind: 'asset', file } : { kind: 'guarded', collection }
  }
  /** A page of an entry that has errors, whose address is not known because of them. */
  const findFailedPage = (path: string): LinkTarget | undefined => {
    const last = lastSegment(path)
    for (const { collection, entries: own } of collections) {
      if (collection.address === undefined) continue
      const failed = own.find(({ data, slug }) => !data && lastSegment(slug) === last)
      if (failed) return { kind: 'failed', collection: collection.name, id: failed.id, file: failed.locate([]).file }
      const file = failedFiles.get(collection.name)?.find(({ id }) => id === undefined || lastSegment(id) === last)
      if (file) return { kind: 'failed', collection: collection.name, id: file.id ?? last, file: file.file }
    }
    return undefined
  }
  const toPage = (path: string, fragment: string, from: LinkedEntry): LinkTarget => {
    const plain = path.replace(/\/$/, '')
    const page = byAddress.get(path) ?? byAddress.get(`${plain}/`) ?? byAddress.get(plain)
    if (page) return toEntry(page, fragment, from)
    const file = [path.slice(1), ...(path.startsWith(assetBase) ? [path.slice(assetBase.length)] : [])].find((one) =>
      known.has(one),
    )
    if (file !== undefined) return toAsset(file)
    const isPublic = [path, `${plain}.html`, `${plain}/index.html`].some((one) => publicPaths.has(one.slice(1)))
    // Every site has a first page. Where no collection has pages, which pages there are is the site's own affair.
    const failed = findFailedPage(path)
    if (failed) return failed
    if (isPublic || plain === '' || !hasPages || isServed(path) || isServed(plain)) return OUTSIDE
    return { kind: 'broken', suggest: () => suggestPage(path) }
  }
  /** Of the versions of an entry those that are to be seen, where there are any. */
  const seenFirst = (versions: readonly LinkedEntry[] | undefined): readonly LinkedEntry[] | undefined => {
    const seen = hidden.size > 0 ? versions?.filter(isSeen) : undefined
    return seen && seen.length > 0 ? seen : versions
  }
  /** A file, a file whose ending is left out, or the page of a folder. */
  const findFile = (file: string): string | undefined => {
    const plain = known.has(file)
      ? file
      : [file, ...WRITTEN.map((ending) => file + ending)].find((one) => numbered.has(one))
    if (plain !== undefined) return numbered.get(plain) ?? plain
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

  const resolve: LinkResolver = (href, from) => {
    if (SCHEME.test(href)) return OUTSIDE
    const [address = '', written = ''] = href.split('#', 2)
    const fragment = decode(written)
    const path = decode(address.replace(/\?.*$/s, ''))
    if (address === '') return toEntry(from, fragment, from)
    if (path.startsWith('/')) return toPage(removeDotSegments(path), fragment, from)
    const file = resolveFrom(from.source.file, path)
    const found = file === undefined ? undefined : findFile(file)
    const entry = (found === undefined ? undefined : byFile.get(found)) ?? inLocale(seenFirst(byName.get(path)), from)
    if (entry) return toEntry(entry, fragment, from)
    if (found !== undefined) return toAsset(found)
    const failed = findFailed(path)
    if (failed) return failed
    return { kind: 'broken', suggest: () => suggestPath(path, from.source.file, file) }
  }
  const replace = (old: LinkedEntry, entry: LinkedEntry): void => {
    const { file } = old.source
    if (byFile.get(file) === old) byFile.set(file, entry)
    const address = addressOf(old)
    if (address !== undefined && byAddress.get(decode(address)) === old) byAddress.set(decode(address), entry)
    const name = `${old.collection}/${old.id}`
    byName.set(name, byName.get(name)?.map((one) => (one === old ? entry : one)) ?? [entry])
  }
  return { context, entries, resolve, replace, addressOf }
}

/** The last name of an address, without an ending of a file. */
const lastSegment = (address: string): string =>
  /([^/]*?)(?:\.\w+)?\/?$/.exec(address.replace(/\/index$/, ''))?.[1] ?? ''

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

/** A path without segments of dots, by RFC 3986, section 5.2.4. */
function removeDotSegments(path: string): string {
  if (!/\/\.\.?(?:\/|$)/.test(path)) return path
  const kept: string[] = []
  for (const segment of path.slice(1).split('/')) {
    if (segment === '..') kept.pop()
    else if (segment !== '.') kept.push(segment)
  }
  return `/${kept.join('/')}${/\/\.\.?$/.test(path) ? '/' : ''}`
}

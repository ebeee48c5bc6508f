import picomatch from 'picomatch'
import { addTo } from '../diagnostics/add-to.ts'
import { groupBy } from '../diagnostics/group-by.ts'
import { hasScheme } from '../diagnostics/has-scheme.ts'
import { createSuggester, type Suggester } from '../diagnostics/suggest.ts'
import { type FailedFile, type FailedFiles, indexFailedFiles } from './failed-files.ts'
import { type EntryName, isSameEntry, type Page, qualifiedId, versionKey } from './pages.ts'
import type { Hidden } from './publication.ts'
import { decodePart, lastSegment, resolveFrom, withoutNumbers } from './resolve-path.ts'
import { createPathSuggester } from './suggest-path.ts'

/** Everything that bodies may link to. */
export interface LinkContext {
  /** The pages of all entries, by collection. */
  readonly collections: readonly CollectionPages[]
  /** Files that could not be read, by collection. */
  readonly failedFiles: ReadonlyMap<string, readonly FailedFile[]>
  /** All files of the content folder. */
  readonly files: readonly string[]
  /** Files that the site serves as they are. */
  readonly publicFiles: readonly string[]
  /** Patterns of addresses that something else serves. */
  readonly served: readonly string[]
  /** Endings of files with text, which links may leave out. */
  readonly writtenEndings: readonly string[]
  /** The prefix of the paths of files of the content folder. */
  readonly assetBase: string
  /** The entries that are not to be seen. */
  readonly hidden: Hidden
  /** Files that hold something that is not to be seen, and the collections that read them. */
  readonly guarded: ReadonlyMap<string, string>
}

/** The entries of a collection, as links know them. */
export interface CollectionPages {
  readonly name: string
  /** True where its entries have pages. */
  readonly hasPages: boolean
  /** Made when they are first asked for: of many sites nobody asks. */
  pages(): readonly Page[]
}

/** Where a link of a body leads. */
export type LinkTarget =
  | { readonly kind: 'outside' }
  | { readonly kind: 'asset'; readonly file: string }
  | {
      readonly kind: 'entry'
      readonly page: EntryName
      /** The heading that is meant; empty for the whole page. Whether it is there is another question. */
      readonly fragment: string
      readonly address: string | undefined
    }
  | { readonly kind: 'no-page'; readonly page: EntryName; readonly fragment: string }
  | { readonly kind: 'hidden'; readonly page: EntryName; readonly reason: string }
  | { readonly kind: 'guarded'; readonly collection: string }
  | { readonly kind: 'failed'; readonly collection: string; readonly id: string; readonly file: string }
  | { readonly kind: 'broken'; suggest(): string | undefined }

/** Finds out where links lead. */
export type LinkResolver = (href: string, from: EntryName) => LinkTarget

const OUTSIDE: LinkTarget = { kind: 'outside' }
const INDEX = ['index', 'README', 'readme']

/** Makes a resolver of the links in bodies: to files, entries, page addresses and assets. It indexes the site at the first. */
export function createLinkResolver(context: LinkContext): LinkResolver {
  let resolve: LinkResolver | undefined
  // One link is asked about several times in a row: for its address, for its picture, for the size of that.
  let last: { readonly href: string; readonly from: EntryName; readonly target: LinkTarget } | undefined
  return (href, from) => {
    if (last?.from === from && last.href === href) return last.target
    if (href.startsWith('//') || hasScheme(href)) return OUTSIDE
    resolve ??= createIndexedResolver(context)
    const target = resolve(href, from)
    last = { href, from, target }
    return target
  }
}

function createIndexedResolver(context: LinkContext): LinkResolver {
  const { collections, files, publicFiles, served, assetBase, hidden, guarded, writtenEndings } = context
  const failedFiles = new Map([...context.failedFiles].map(([name, own]) => [name, indexFailedFiles(own)]))
  const known = new Set(files)
  const { byFile, byName, byAddress, numbered } = indexPages(collections)
  const findFile = createFileFinder(known, numbered, writtenEndings)
  const publicPaths = new Set(publicFiles)
  const isServed = picomatch(served.length > 0 ? [...served] : ['!**'], { dot: true })
  // Where no collection has pages, what becomes of links is the site's own affair.
  const hasPages = collections.some((one) => one.hasPages)
  const suggest = createSuggester()
  const suggestPath = createPathSuggester(files, byName, suggest)

  const findFailedPage = createFailedPageFinder(context, failedFiles)
  const suggestPage = createPageSuggester(byAddress, suggest)
  const moved = indexFormer(collections)
  const isSeen = (page: EntryName): boolean => !hidden.has(versionKey(page))
  const toEntry = (page: Page, fragment: string, from: EntryName): LinkTarget => {
    const reason = hidden.size > 0 && isSeen(from) ? hidden.get(versionKey(page)) : undefined
    if (reason !== undefined) return { kind: 'hidden', page, reason }
    // What has errors of its own has no address because of them.
    if (page.address === undefined && page.failedFile === undefined && !isSameEntry(page, from))
      return { kind: 'no-page', page, fragment }
    return { kind: 'entry', page, fragment, address: page.address }
  }
  const toAsset = (file: string): LinkTarget => {
    const collection = guarded.get(file)
    return collection === undefined ? { kind: 'asset', file } : { kind: 'guarded', collection }
  }
  const toPage = (path: string, fragment: string, from: EntryName): LinkTarget => {
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
    return { kind: 'broken', suggest: () => moved.get(plain) ?? suggestPage(path) }
  }
  /** Of the versions of an entry those that are to be seen, where there are any. */
  const seenFirst = (versions: readonly Page[] | undefined): readonly Page[] | undefined => {
    const seen = hidden.size > 0 ? versions?.filter(isSeen) : undefined
    return seen && seen.length > 0 ? seen : versions
  }
  return (href, from) => {
    const hash = href.indexOf('#')
    const address = hash === -1 ? href : href.slice(0, hash)
    const fragment = hash === -1 ? '' : decodePart(href.slice(hash + 1))
    const query = address.indexOf('?')
    const path = decodePart(query === -1 ? address : address.slice(0, query))
    if (address === '') return { kind: 'entry', page: from, fragment, address: undefined }
    if (path.startsWith('/')) return toPage(removeDotSegments(path), fragment, from)
    const file = resolveFrom(from.source.file, path)
    const found = file === undefined ? undefined : findFile(file)
    const page = (found === undefined ? undefined : byFile.get(found)) ?? inLocale(seenFirst(byName.get(path)), from)
    if (page) return toEntry(page, fragment, from)
    if (found !== undefined) return toAsset(found)
    const failed = findFailedEntry(path, failedFiles)
    if (failed) return failed
    return { kind: 'broken', suggest: () => suggestPath(path, from.source.file, file) }
  }
}

/** The pages of a site by all that links may name. */
interface PageIndexes {
  readonly byFile: ReadonlyMap<string, Page>
  /** By their collections and ids, in all languages. */
  readonly byName: ReadonlyMap<string, readonly Page[]>
  readonly byAddress: ReadonlyMap<string, Page>
  /** Files of numbered collections by their paths without the numbers. */
  readonly numbered: ReadonlyMap<string, string>
}

function indexPages(collections: readonly CollectionPages[]): PageIndexes {
  const byFile = new Map<string, Page>()
  const byName = new Map<string, Page[]>()
  const byAddress = new Map<string, Page>()
  const numbered = new Map<string, string>()
  for (const page of collections.flatMap(({ pages }) => pages())) {
    const { file, pointer } = page.source
    if (pointer === '') byFile.set(file, page)
    if (page.rank !== undefined && withoutNumbers(file) !== file) numbered.set(withoutNumbers(file), file)
    addTo(byName, qualifiedId(page), page)
    const { address } = page
    if (address !== undefined && !byAddress.has(decodePart(address))) byAddress.set(decodePart(address), page)
  }
  return { byFile, byName, byAddress, numbered }
}

/** The addresses of pages by those that they had before. */
const indexFormer = (collections: readonly CollectionPages[]): ReadonlyMap<string, string> =>
  new Map(
    collections.flatMap(({ pages }) =>
      pages().flatMap(({ address, former }) =>
        address === undefined ? [] : former.map((one) => [decodePart(one).replace(/\/$/, ''), address] as const),
      ),
    ),
  )

/** Makes a suggester of addresses: the nearest, rather one with the same last segment. */
function createPageSuggester(
  byAddress: ReadonlyMap<string, Page>,
  suggest: Suggester,
): (path: string) => string | undefined {
  let bySegment: ReadonlyMap<string, readonly string[]> | undefined
  return (path) => {
    const last = lastSegment(path)
    bySegment ??= groupBy(byAddress.keys(), lastSegment)
    const alike = bySegment.get(last) ?? []
    const near = suggest(`pages ${last}`, path, { size: alike.length, words: () => alike })
    if (near !== undefined || (alike.length === 1 && last !== '')) return near ?? alike[0]
    return suggest('pages', path, { size: byAddress.size, words: () => byAddress.keys() })
  }
}

/** Makes the finder of a file, of a file whose ending is left out, or of the page of a folder. */
function createFileFinder(
  known: ReadonlySet<string>,
  numbered: PageIndexes['numbered'],
  endings: readonly string[],
): (file: string) => string | undefined {
  const indexes = INDEX.flatMap((name) => endings.map((ending) => name + ending))
  return (file) => {
    const plain = known.has(file)
      ? file
      : [file, ...endings.map((ending) => file + ending)].find((one) => numbered.has(one))
    if (plain !== undefined) return numbered.get(plain) ?? plain
    const ending = endings.find((one) => known.has(file + one))
    if (ending !== undefined) return file + ending
    const folder = file === '' ? '' : `${file}/`
    const index = indexes.find((name) => known.has(folder + name))
    return index && folder + index
  }
}

/** Makes the finder of a page of an entry that has errors, whose address is not known because of them. */
function createFailedPageFinder(
  { collections }: LinkContext,
  failedFiles: ReadonlyMap<string, FailedFiles>,
): (path: string) => LinkTarget | undefined {
  const known = collections.flatMap(({ name, hasPages, pages }) => {
    if (!hasPages) return []
    const failed = pages().filter(({ failedFile }) => failedFile !== undefined)
    const bySegment = new Map(failed.toReversed().map((page) => [lastSegment(page.slug), page]))
    return [{ name, bySegment, files: failedFiles.get(name) }]
  })
  return (path) => {
    const last = lastSegment(path)
    for (const { name, bySegment, files } of known) {
      const page = bySegment.get(last)
      if (page?.failedFile !== undefined)
        return { kind: 'failed', collection: name, id: page.id, file: page.failedFile }
      const one = files?.endingIn(last) ?? files?.open
      if (one) return { kind: 'failed', collection: name, id: one.id ?? last, file: one.file }
    }
    return undefined
  }
}

/** An entry that may be in a file that could not be read. */
function findFailedEntry(path: string, failedFiles: ReadonlyMap<string, FailedFiles>): LinkTarget | undefined {
  const [collection = '', ...rest] = path.split('/')
  const id = rest.join('/')
  const files = failedFiles.get(collection)
  const culprit = files?.withId(id) ?? files?.open
  return culprit && { kind: 'failed', collection, id, file: culprit.file }
}

/** Of the versions of an entry that of the same language, or else the first. */
const inLocale = (versions: readonly Page[] | undefined, { locale }: EntryName): Page | undefined =>
  versions?.find((version) => version.locale === locale) ?? versions?.[0]

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

import { type Highlighter, loadHighlighter } from '../body/highlighter.ts'
import { computeEntries } from '../compute/compute-entries.ts'
import { arrangeDiagnostics, createDiagnostic, type Diagnostic, type Place } from '../diagnostics/diagnostic.ts'
import type { TextSource } from '../diagnostics/render-text.ts'
import { assignFiles, type CollectionFiles } from '../find/assign-files.ts'
import type { Host, Listing } from '../host/host.ts'
import { checkCollections } from '../link/check-collections.ts'
import { checkLanguages } from '../link/check-languages.ts'
import { checkLinks } from '../link/check-links.ts'
import { checkUnique } from '../link/check-unique.ts'
import { findUnused } from '../link/find-unused.ts'
import { type CollectionEntries, type LinkedCollection, linkEntries } from '../link/link-entries.ts'
import { createLinkResolver, type LinkResolver } from '../link/link-resolver.ts'
import { selectPublished, type Viewing } from '../link/publication.ts'
import type { Model } from '../schema/model.ts'
import type { SettingProblem } from '../schema/settings-reader.ts'
import { createAssetReader } from './assets.ts'
import { checkCollection } from './check-collection.ts'
import { createFileReader } from './file-reader.ts'
import { placeSettings } from './load-model.ts'
import { locateSetting } from './locate-setting.ts'
import { orderEntries } from './order-entries.ts'
import { proposeEdits } from './propose-edit.ts'
import { readText } from './read-text.ts'
import { applySeverities } from './severities.ts'
import { type LoadedSource, loadSource } from './sources.ts'

/** What a check found. */
export interface Checked {
  /** What is to be seen, in the order of each collection. */
  readonly collections: readonly LinkedCollection[]
  readonly diagnostics: readonly Diagnostic[]
  readonly fileCount: number
  /** Entries of all collections, those that are not to be seen included. */
  readonly entryCount: number
  /** Where links of bodies lead. */
  readonly resolveLink: LinkResolver
  /** Colours code; undefined where no code has colours. */
  readonly highlighter: Highlighter | undefined
  /** The texts of the files that were read, for showing diagnostics. */
  readonly textOf: TextSource
}

/** How far a check has come. */
export interface Progress {
  readonly done: number
  readonly total: number
}

/** What a check works with. */
export interface CheckContext {
  readonly host: Host
  readonly model: Model
  readonly configurationFile: string
  readonly viewing: Viewing
  /** Lists files and pages that nothing uses. */
  readonly unused: boolean
  onProgress?(progress: Progress): void
}

const LINK_CODES = ['link-broken', 'link-fragment', 'link-without-page']

/** Finds, reads, validates, links and computes all content. Nothing is written. */
export async function checkContent(context: CheckContext): Promise<Checked> {
  const { host, model, configurationFile } = context
  const texts = new Map<string, string>()
  const textOf: TextSource = (file) => texts.get(file) ?? readText(host, file)
  const listing = host.list(model.content)
  if (!listing) {
    const parameters = { setting: 'content', folder: model.content }
    const problem: SettingProblem = { code: 'config-folder-missing', path: ['content'], parameters }
    const diagnostics = await placeSettings(host, configurationFile, [problem])
    return {
      collections: [],
      diagnostics,
      fileCount: 0,
      entryCount: 0,
      resolveLink: () => ({ kind: 'outside' }),
      highlighter: undefined,
      textOf,
    }
  }
  const loaded = await loadSources(context)
  const { assigned, problems } = assignFiles(model.collections, listing.files)
  const total = assigned.reduce((sum, { files }) => sum + files.length, 0)
  let done = 0
  const readFile = createFileReader({ host, content: model.content }, texts, () =>
    context.onProgress?.({ done: done++, total }),
  )
  const asset = createAssetReader(host, model.content, listing.files)
  const checked: Awaited<ReturnType<typeof checkCollection>>[] = []
  for (const files of assigned) {
    const source = loaded.get(files.collection.name)?.text
    if (source) texts.set(source.file, source.text)
    checked.push(await checkCollection(files, { model, readFile, asset, source }))
  }
  const settings = await placeSettings(host, configurationFile, [
    ...problems,
    ...checked.flatMap((one) => one.problems),
    ...missingSingles(checked),
  ])
  const highlighter = model.plainLanguages && (await loadHighlighter())
  const connected = connect(checked, context, { files: listing.files, textOf })
  const diagnostics = [
    ...describeListing(listing, model.content),
    ...settings,
    ...[...loaded.values()].flatMap((source) => source.diagnostics),
    ...checked.flatMap((one) => one.diagnostics),
    ...connected.diagnostics,
    ...(context.unused ? describeUnused(connected, listing.files, { assigned, content: model.content }) : []),
    ...(highlighter ? checkLanguages(connected.collections, highlighter, model.plainLanguages ?? []) : []),
  ]
  return {
    collections: connected.collections,
    diagnostics: proposeEdits(applySeverities(arrangeDiagnostics(diagnostics), model.severities), textOf),
    fileCount: total,
    entryCount: connected.entryCount,
    resolveLink: connected.resolveLink,
    highlighter,
    textOf,
  }
}

/** What comes from elsewhere, by collection; all are asked at once. */
async function loadSources({ host, model, configurationFile: file }: CheckContext): Promise<Map<string, LoadedSource>> {
  const asked = model.collections.flatMap((collection) => (collection.source ? [collection] : []))
  if (asked.length === 0) return new Map()
  const text = readText(host, file) ?? ''
  const loaded = await Promise.all(
    asked.map(async (collection) => {
      const span = await locateSetting(text, ['collections', collection.name, 'from'])
      return [collection.name, await loadSource(host, collection, { file, span })] as const
    }),
  )
  return new Map(loaded)
}

function describeUnused(
  { everything, resolveLink: resolve }: Connected,
  files: readonly string[],
  { assigned, content }: { readonly assigned: readonly CollectionFiles[]; readonly content: string },
): Diagnostic[] {
  const read = new Set(assigned.flatMap((one) => one.files.map(({ path }) => path)))
  return findUnused({ collections: everything, resolve, assets: files.filter((file) => !read.has(file)), content })
}

interface Connected extends Pick<Checked, 'collections' | 'entryCount' | 'resolveLink'> {
  /** Also what is not to be seen. */
  readonly everything: readonly LinkedCollection[]
  readonly diagnostics: Diagnostic[]
}

/** Everything that concerns more than one entry. */
function connect(
  checked: readonly CollectionEntries[],
  { model, viewing }: CheckContext,
  { files, textOf }: { readonly files: readonly string[]; readonly textOf: TextSource },
): Connected {
  const { linked, diagnostics } = linkEntries(checked, model.blocks)
  diagnostics.push(...checkUnique(linked, model.sharedSlugs), ...checkCollections(linked, model.locales))
  const ordered = linked.map(({ collection, entries }) => ({ collection, entries: orderEntries(collection, entries) }))
  const { published, diagnostics: hidden } = selectPublished(ordered, viewing)
  const whole = computeEntries(ordered, model.blocks)
  diagnostics.push(...hidden, ...whole.diagnostics)
  // What is not to be seen must leave no trace in what is computed either.
  const collections = published === ordered ? whole.computed : computeEntries(published, model.blocks).computed
  const resolveLink = createLinkResolver({
    collections: whole.computed,
    files,
    failedFiles: new Map(checked.map(({ collection, failedFiles }) => [collection.name, failedFiles])),
  })

  const isOff = (code: string): boolean => model.severities.get(code) === 'off'
  if (!LINK_CODES.every(isOff))
    for (const diagnostic of checkLinks(whole.computed, resolveLink, textOf)) diagnostics.push(diagnostic)
  const entryCount = linked.reduce((sum, { entries }) => sum + entries.length, 0)
  return { collections, everything: whole.computed, diagnostics, entryCount, resolveLink }
}

function missingSingles(checked: readonly CollectionEntries[]): SettingProblem[] {
  return checked.flatMap(({ collection: { single, name }, entries, failedFiles }) => {
    if (!single || entries.length + failedFiles.length > 0) return []
    return [{ code: 'single-missing', path: ['collections', name, 'files'], parameters: { collection: name } }]
  })
}

function describeListing({ strayLinks, unreadable }: Listing, content: string): Diagnostic[] {
  const place = (path: string): Place => ({ file: path === '' ? content : `${content}/${path}`, span: [0, 0] })
  return [
    ...strayLinks.map((path) => createDiagnostic('file-link-stray', place(path), {})),
    ...unreadable.map(({ path, reason }) => createDiagnostic('file-unreadable', place(path), { reason })),
  ]
}

import { HIGHLIGHTER_PACKAGE, type Highlighter, loadHighlighter } from '../body/highlighter.ts'
import { computeEntries } from '../compute/compute-entries.ts'
import { arrangeDiagnostics, createDiagnostic, type Diagnostic, type Place } from '../diagnostics/diagnostic.ts'
import type { TextSource } from '../diagnostics/render-text.ts'
import { findUnportable } from '../find/unportable-name.ts'
import type { Host, Listing } from '../host/host.ts'
import { checkAddresses } from '../link/check-addresses.ts'
import { checkCollections } from '../link/check-collections.ts'
import { checkImports } from '../link/check-imports.ts'
import { checkLanguages } from '../link/check-languages.ts'
import { checkLinks } from '../link/check-links.ts'
import { checkUnique } from '../link/check-unique.ts'
import { findUnused, findUsedFiles } from '../link/find-unused.ts'
import { type CollectionEntries, type ImplicitEntry, type LinkedCollection, linkEntries } from '../link/link-entries.ts'
import { createLinkResolver, type LinkContext, type LinkResolver } from '../link/link-resolver.ts'
import { findUnpublished, listMoments, type Viewing, withoutHidden } from '../link/publication.ts'
import type { PatternMatcher } from '../schema/field.ts'
import { allFields, mayDangle } from '../schema/model.ts'
import { loadPatternMatcher } from '../schema/patterns/load-matcher.ts'
import type { SettingProblem } from '../schema/settings-reader.ts'
import { type AssetReader, createAssetReader } from './assets.ts'
import { type AssignMemory, assignAgain, describeNearMisses, findGuardedAgain } from './assigned-files.ts'
import type { SiteMemory } from './cache/site-memory.ts'
import { type CheckedCollection, checkCollection } from './check-collection.ts'
import { createFileReader } from './file-reader.ts'
import type { Without } from './impact/effects.ts'
import { placeSettings } from './load-model.ts'
import { orderComputed, orderEntries } from './order-entries.ts'
import { proposeEdits } from './propose-edit.ts'
import { readText } from './read-text.ts'
import { applySeverities } from './severities.ts'
import type { Survey } from './survey.ts'

/** What a check found. */
export interface Checked {
  /** What is to be seen, in the order of each collection. */
  readonly collections: readonly LinkedCollection[]
  readonly diagnostics: readonly Diagnostic[]
  readonly fileCount: number
  readonly unmatchedCount: number
  /** Records that gave no entry, since nothing names them. */
  readonly unnamedCount: number
  /** Files that could not be read, or not whole. */
  readonly failedFileCount: number
  readonly implicit: readonly ImplicitEntry[]
  /** Entries of all collections, those that are not to be seen included. */
  readonly entryCount: number
  /** Where links of bodies lead. */
  readonly resolveLink: LinkResolver
  /** True where bodies import something, so that the outcome depends on more than the content. */
  readonly hasImports: boolean
  /** What is known of files of the content folder. */
  readonly asset: AssetReader
  /** Dates and instants at which something begins or ends to be seen. */
  readonly moments: readonly string[]
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
export interface CheckContext extends Survey {
  readonly host: Host
  readonly configurationFile: string
  readonly viewing: Viewing
  /** Lists files and pages that nothing uses. */
  readonly unused: boolean
  readonly memory: SiteMemory
  /** What is to be taken for not there. */
  readonly without?: Without
  onProgress?(progress: Progress): void
}

/** Colours are asked for, and what knows them is not there. */
const NO_HIGHLIGHTER: SettingProblem = {
  code: 'config-package-missing',
  path: ['highlight'],
  parameters: { setting: 'highlight', name: HIGHLIGHTER_PACKAGE },
}

const LINK_CODES = ['link-broken', 'link-fragment', 'link-without-page', 'image-alternative']

/** Reads, validates, links and computes all content. Nothing is written. */
export async function checkContent(context: CheckContext): Promise<Checked> {
  const { host, model, configurationFile, sources, memory, code, without } = context
  const listing = without ? listWithout(context.listing, without) : context.listing
  const texts = new Map<string, string>()
  const textOf: TextSource = (file) => texts.get(file) ?? readText(host, file)
  const { assigned, problems, unmatched, nearMisses } = assignAgain(model, listing.files, memory.stages?.assigned)
  const total = assigned.reduce((sum, { files }) => sum + files.length, 0)
  let done = 0
  const readFile = createFileReader({ host, content: model.content }, texts, () =>
    context.onProgress?.({ done: done++, total }),
  )
  const guarded = findGuardedAgain({ assigned, model }, memory.stages?.assigned)
  const asset = createAssetReader({ host, content: model.content, memory }, { files: listing.files, guarded })
  const matches = await loadPatternMatcher(
    [...model.collections.map(allFields), ...model.blocks.values()],
    host.matches,
  )
  const checked: CheckedCollection[] = []
  for (const files of assigned) {
    const source = sources.get(files.collection.name)?.text
    if (source) texts.set(source.file, source.text)
    const found = await checkCollection(files, { host, model, readFile, asset, source, memory, code, matches })
    checked.push(without ? { ...found, entries: found.entries.filter((entry) => !without.isEntry(entry)) } : found)
  }
  const highlighter = model.plainLanguages && (await loadHighlighter())
  const lacksHighlighter = model.plainLanguages !== undefined && !highlighter
  const settings = await placeSettings(host, configurationFile, [
    ...(lacksHighlighter ? [NO_HIGHLIGHTER] : []),
    ...problems,
    ...checked.flatMap((one) => one.problems),
    ...missingSingles(checked),
  ])
  const look = () => {
    const { publicFiles } = context
    const connected = connect(checked, context, { files: listing.files, publicFiles, guarded, textOf, matches })
    const plain = model.plainLanguages ?? []
    const imports = checkImports(
      connected.everything,
      (specifier, file) => host.findImport?.(specifier, file),
      (folder) => host.list(folder)?.files.filter((name) => !name.includes('/')) ?? [],
    )
    return {
      ...connected,
      imports,
      languages: highlighter ? checkLanguages(connected.collections, highlighter, plain) : [],
    }
  }
  let connected = look()
  const lacking = checked.filter(({ bodies }) => bodies.lacksMdx())
  if (lacking.length > 0) {
    // Something has to be said of a body that was only recalled so far.
    await Promise.all(lacking.map(({ bodies }) => bodies.loadMdx()))
    connected = look()
  }
  const diagnostics = [
    ...describeListing(listing, { content: model.content, memory: memory.stages?.assigned }),
    ...settings,
    ...[...sources.values()].flatMap((source) => source.diagnostics),
    ...checked.flatMap((one) => one.diagnostics),
    ...connected.diagnostics,
    ...(await placeSettings(host, configurationFile, connected.problems)),
    ...describeNearMisses(nearMisses, () => findUsedFiles(connected.everything, connected.resolveLink), model.content),
    ...(context.unused ? describeUnused(connected, unmatched, model.content) : []),
    ...connected.languages,
    ...connected.imports.diagnostics,
  ]
  const owners = new Map(
    assigned.flatMap(({ collection, files }) => files.map(({ path }) => [`${model.content}/${path}`, collection.name])),
  )
  const arranged = applySeverities(arrangeDiagnostics(diagnostics), model.severities).map((one): Diagnostic => {
    const collection = owners.get(one.file)
    return collection === undefined ? one : { ...one, collection }
  })
  return {
    collections: connected.collections,
    diagnostics: proposeEdits(arranged, textOf),
    fileCount: total,
    unmatchedCount: unmatched.length,
    unnamedCount: checked.reduce((sum, one) => sum + one.unnamedCount, 0),
    failedFileCount: checked.reduce((sum, one) => sum + one.failedFiles.length, 0),
    entryCount: connected.entryCount,
    implicit: connected.implicit,
    resolveLink: connected.resolveLink,
    hasImports: connected.imports.hasImports,
    asset,
    moments: connected.moments,
    highlighter,
    textOf,
  }
}

const listWithout = (listing: Listing, { files }: Without): Listing => ({
  ...listing,
  files: listing.files.filter((path) => !files.includes(path)),
})

const describeUnused = (
  { everything, resolveLink: resolve }: Connected,
  assets: readonly string[],
  content: string,
): Diagnostic[] => findUnused({ collections: everything, resolve, assets, content })

interface Connected extends Pick<Checked, 'collections' | 'entryCount' | 'implicit' | 'resolveLink' | 'moments'> {
  /** Also what is not to be seen. */
  readonly everything: readonly LinkedCollection[]
  readonly diagnostics: Diagnostic[]
  /** Of settings that only the content shows to be wrong. */
  readonly problems: readonly SettingProblem[]
}

/** Everything that concerns more than one entry. */
function connect(
  checked: readonly CollectionEntries[],
  { model, viewing, memory: { stages } }: CheckContext,
  {
    files,
    publicFiles,
    guarded,
    textOf,
    matches,
  }: Pick<LinkContext, 'files' | 'publicFiles' | 'guarded'> & {
    readonly textOf: TextSource
    readonly matches: PatternMatcher
  },
): Connected {
  const { linked, implicit, diagnostics, problems } = linkEntries(
    checked,
    { blocks: model.blocks, matches, mayDangle: mayDangle(model) },
    stages?.linked,
  )
  const ordered = linked.map((one) => orderEntries(one, 'written'))
  const computed = computeEntries(ordered, { blocks: model.blocks, matches, memory: stages?.computed.whole })
  const whole = orderComputed(computed.computed)
  const unpublished = findUnpublished(computed.computed, { ...viewing, locales: model.locales })
  const { hidden, blocked } = unpublished
  diagnostics.push(
    ...computed.diagnostics,
    ...checkUnique(whole, model.sharedSlugs, stages?.unique),
    ...checkCollections(whole, model.locales),
    ...unpublished.diagnostics,
  )
  let collections = whole
  if (hidden.size > 0) {
    // What is not to be seen must leave no trace in what is computed either.
    const memory = stages?.computed.published
    const seen = withoutHidden(ordered, { hidden, blocked })
    const published = computeEntries(seen, { blocks: model.blocks, matches, memory, hasRules: false })
    diagnostics.push(...published.diagnostics)
    collections = orderComputed(published.computed)
  }
  diagnostics.push(...checkAddresses(collections, stages?.addresses))
  const context = {
    collections: whole,
    files,
    publicFiles,
    served: model.served,
    assetBase: model.assetBase,
    failedFiles: new Map(checked.map(({ collection, failedFiles }) => [collection.name, failedFiles])),
    hidden,
    guarded,
  }
  const resolveLink = createLinkResolver(context, stages?.links)

  const checks = stages && { known: stages.linkChecks, resolver: stages.links }
  const isOff = (code: string): boolean => model.severities.get(code) === 'off'
  const codes = [
    ...LINK_CODES,
    ...(hidden.size > 0 ? ['link-unpublished'] : []),
    ...(guarded.size > 0 ? ['link-source'] : []),
  ]
  if (!codes.every(isOff))
    for (const diagnostic of checkLinks(whole, { resolve: resolveLink, textOf, memory: checks }))
      diagnostics.push(diagnostic)
  const entryCount = linked.reduce((sum, { entries }) => sum + entries.length, 0)
  const moments = listMoments(whole)
  return { collections, everything: whole, diagnostics, problems, entryCount, implicit, resolveLink, moments }
}

function missingSingles(checked: readonly CollectionEntries[]): SettingProblem[] {
  return checked.flatMap(({ collection: { single, name }, entries, failedFiles }) => {
    if (!single || entries.length + failedFiles.length > 0) return []
    return [{ code: 'single-missing', path: ['collections', name, 'files'], parameters: { collection: name } }]
  })
}

function describeListing(
  { files, strayLinks, unreadable }: Listing,
  { content, memory }: { readonly content: string; readonly memory: AssignMemory | undefined },
): Diagnostic[] {
  const place = (path: string): Place => ({ file: path === '' ? content : `${content}/${path}`, span: [0, 0] })
  const unportable = memory?.names?.files === files ? memory.names.unportable : findUnportable(files)
  if (memory) memory.names = { files, unportable }
  return [
    ...unportable.map((one) => createDiagnostic('file-name-unportable', place(one.name), one)),
    ...strayLinks.map((path) => createDiagnostic('file-link-stray', place(path), {})),
    ...unreadable.map(({ path, reason }) => createDiagnostic('file-unreadable', place(path), { reason })),
  ]
}

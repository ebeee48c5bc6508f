import { HIGHLIGHTER_PACKAGE, type Highlighter, loadHighlighter } from '../body/highlighter.ts'
import type { Seen } from '../compute/derive.ts'
import { arrangeDiagnostics, createDiagnostic, type Diagnostic, type Place } from '../diagnostics/diagnostic.ts'
import type { TextSource } from '../diagnostics/render-text.ts'
import { assignFiles } from '../find/assign-files.ts'
import { findUnportable, type UnportableName } from '../find/unportable-name.ts'
import type { Host, Listing } from '../host/host.ts'
import { checkImports } from '../link/check-imports.ts'
import { checkLanguages, hasUnknownLanguage } from '../link/check-languages.ts'
import { findUnused, findUsedFiles } from '../link/find-unused.ts'
import type { ImplicitEntry } from '../link/implicit-entries.ts'
import type { CollectionEntries, LinkedCollection } from '../link/link-entry.ts'
import type { LinkResolver } from '../link/link-resolver.ts'
import type { Viewing } from '../link/publication.ts'
import { extensions } from '../read/formats.ts'
import { allFields, type Model } from '../schema/model.ts'
import { loadPatternMatcher } from '../schema/patterns/load-matcher.ts'
import type { SettingProblem } from '../schema/settings-reader.ts'
import type { LinkedEntry } from '../validate/entry.ts'
import { type AssetReader, createAssetReader } from './assets.ts'
import { describeNearMisses, findGuardedFiles } from './assigned-files.ts'
import type { Bodies } from './bodies.ts'
import type { SiteMemory } from './cache/site-memory.ts'
import { type CheckedCollection, checkCollection } from './check-collection.ts'
import { createFileReader } from './file-reader.ts'
import { createSeenFinder } from './graph/compute-site.ts'
import { connectSite } from './graph/connect-site.ts'
import type { Without } from './impact/effects.ts'
import { placeSettings } from './load-model.ts'
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
  /** What the derived fields of an entry looked at. */
  readonly seenBy: (entry: LinkedEntry) => Seen
  /** True where bodies import something, so that the outcome depends on more than the content. */
  readonly hasImports: boolean
  /** What is known of files of the content folder. */
  readonly asset: AssetReader
  /** Another object where that may be different from the last run. */
  readonly assetState: unknown
  /** Dates and instants at which something begins or ends to be seen. */
  readonly moments: readonly string[]
  /** Colours code; undefined where no code has colours. */
  readonly highlighter: Highlighter | undefined
  /** The texts of the files that were read, for showing diagnostics. */
  readonly textOf: TextSource
  /** What a parse finds in bodies. */
  readonly bodies: Bodies | undefined
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

/** Reads, validates, links and computes all content. Nothing is written. */
export async function checkContent(context: CheckContext): Promise<Checked> {
  const { host, model, configurationFile, sources, memory, code, without } = context
  const listing = without ? listWithout(context.listing, without) : context.listing
  const texts = new Map<string, string>()
  const textOf: TextSource = (file) => texts.get(file) ?? readText(host, file)
  const { memo } = memory
  const { files } = listing
  const { assigned, problems, unmatched, nearMisses } = memo.value('assigned', [model, files], () =>
    assignFiles(model.collections, files, extensions),
  )
  const total = assigned.reduce((sum, { files }) => sum + files.length, 0)
  let done = 0
  const readFile = createFileReader({ host, content: model.content }, texts, () =>
    context.onProgress?.({ done: done++, total }),
  )
  const guarded = memo.value('guarded', [assigned], () => findGuardedFiles(assigned, model.blocks))
  const asset = createAssetReader({ host, content: model.content, memory }, { files: listing.files, guarded })
  /** The collection that reads a file. */
  const owners = memo.value(
    'owners',
    [assigned],
    () =>
      new Map<string, string>(
        assigned.flatMap(({ collection, files: own }) =>
          own.map(({ path }) => [`${model.content}/${path}`, collection.name] as const),
        ),
      ),
  )
  const touched = memory.state.touched()
  const onlyContent = touched?.every((file) => owners.has(file)) === true
  const assetState = memo.keepEqual<object>('asset state', {}, () => onlyContent)
  // What is known of other files is as it was, unless one of them was touched.
  const dirty = onlyContent ? new Set(touched.map((file) => file.slice(model.content.length + 1))) : undefined
  const matches = await loadPatternMatcher(
    [...model.collections.map(allFields), ...model.blocks.values()],
    host.matches,
  )
  const checked: CheckedCollection[] = []
  for (const files of assigned) {
    const source = sources.get(files.collection.name)?.text
    if (source) texts.set(source.file, source.text)
    const found = await checkCollection(files, {
      ...{ host, model, readFile, asset, source, memory, code, matches },
      touched: source ? undefined : dirty,
    })
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
  const { publicFiles, viewing } = context
  const connected = connectSite(memo, checked, {
    ...{ model, viewing, files, publicFiles, guarded, textOf, matches },
    bodies: memory.bodies,
  })
  const imports = checkImports(
    connected.everything,
    (specifier, file) => host.findImport?.(specifier, file),
    (folder) => host.list(folder)?.files.filter((name) => !name.includes('/')) ?? [],
  )
  const diagnostics = [
    ...describeListing(
      listing,
      memo.value('unportable', [files], () => findUnportable(files)),
      model.content,
    ),
    ...settings,
    ...[...sources.values()].flatMap((source) => source.diagnostics),
    ...checked.flatMap((one) => one.diagnostics),
    ...connected.diagnostics,
    ...(await placeSettings(host, configurationFile, connected.problems)),
    ...describeNearMisses(nearMisses, () => findUsedFiles(connected.everything, connected.resolveLink), model.content),
    ...(context.unused
      ? findUnused({
          collections: connected.everything,
          resolve: connected.resolveLink,
          linksOf: (entry) => memory.bodies.locateLinks(entry, () => false),
          assets: unmatched,
          content: model.content,
        })
      : []),
    ...(highlighter ? findUnknownLanguages(connected.collections, highlighter, { model, bodies: memory.bodies }) : []),
    ...imports.diagnostics,
  ]
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
    seenBy: (entry) => createSeenFinder(connected.whole)(entry),
    hasImports: imports.hasImports,
    asset,
    assetState,
    moments: connected.moments,
    highlighter,
    textOf,
    bodies: memory.bodies,
  }
}

const listWithout = (listing: Listing, { files }: Without): Listing => ({
  ...listing,
  files: listing.files.filter((path) => !files.includes(path)),
})

function findUnknownLanguages(
  collections: readonly LinkedCollection[],
  { languages, knows }: Highlighter,
  { model, bodies }: { readonly model: Model; readonly bodies: Bodies },
): Diagnostic[] {
  const isKnown = (language: string): boolean => knows(language) || model.plainLanguages?.includes(language) === true
  return collections.flatMap(({ entries }) =>
    entries.flatMap(({ body }) =>
      body && hasUnknownLanguage(body, isKnown)
        ? checkLanguages(body, bodies.locateFences(body, isKnown), languages)
        : [],
    ),
  )
}

function missingSingles(checked: readonly CollectionEntries[]): SettingProblem[] {
  return checked.flatMap(({ collection: { single, name }, entries, failedFiles }) => {
    if (!single || entries.length + failedFiles.length > 0) return []
    return [{ code: 'single-missing', path: ['collections', name, 'files'], parameters: { collection: name } }]
  })
}

function describeListing(
  { strayLinks, unreadable }: Listing,
  unportable: readonly UnportableName[],
  content: string,
): Diagnostic[] {
  const place = (path: string): Place => ({ file: path === '' ? content : `${content}/${path}`, span: [0, 0] })
  return [
    ...unportable.map((one) => createDiagnostic('file-name-unportable', place(one.name), one)),
    ...strayLinks.map((path) => createDiagnostic('file-link-stray', place(path), {})),
    ...unreadable.map(({ path, reason }) => createDiagnostic('file-unreadable', place(path), { reason })),
  ]
}

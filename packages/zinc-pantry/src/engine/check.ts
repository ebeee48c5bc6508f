import { HIGHLIGHTER_PACKAGE, type Highlighter, loadHighlighter } from '../body/highlighter.ts'
import { arrangeDiagnostics, createDiagnostic, type Diagnostic, type Place } from '../diagnostics/diagnostic.ts'
import type { TextSource } from '../diagnostics/render-text.ts'
import { findUnportable, type UnportableName } from '../find/unportable-name.ts'
import type { Host, Listing, VersionHistory } from '../host/host.ts'
import { checkImports, hasImports } from '../link/check-imports.ts'
import { checkLanguages, hasUnknownLanguage } from '../link/check-languages.ts'
import type { LocatedLinks } from '../link/check-links.ts'
import { findUnused, findUsedFiles } from '../link/find-unused.ts'
import type { ImplicitEntry } from '../link/implicit-entries.ts'
import type { CollectionEntries, LinkedCollection } from '../link/link-entry.ts'
import type { LinkResolver } from '../link/link-resolver.ts'
import type { Model } from '../schema/model.ts'
import type { SettingProblem } from '../schema/settings-reader.ts'
import type { LinkedEntry } from '../validate/entry.ts'
import type { AssetReader } from './assets.ts'
import { describeNearMisses } from './assigned-files.ts'
import type { Bodies } from './bodies.ts'
import type { CheckContext } from './check-context.ts'
import { findSourceSetting } from './find-source-setting.ts'
import { type CheckedFiles, checkFiles } from './graph/check-files.ts'
import type { ComputedSite } from './graph/compute-site.ts'
import { type ConnectedSite, connectSite } from './graph/connect-site.ts'
import { placeSettings } from './load-model.ts'
import { proposeEdits } from './propose-edit.ts'
import { createTextSource } from './read-text.ts'
import { applySeverities } from './severities.ts'

/** The findings of a check. */
export interface Checked {
  /** The published entries, in the order of each collection. */
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
  /** All entries with what is computed, those that are not to be seen included. */
  readonly whole: ComputedSite
  /** True where bodies import something, so that the outcome depends on more than the content. */
  readonly hasImports: boolean
  /** The facts of files of the content folder. */
  readonly asset: AssetReader
  /** The collection that reads a file, by its path from the root. */
  readonly owners: ReadonlyMap<string, string>
  /** Another object where that may be different from the last run. */
  readonly assetState: unknown
  /** Dates and instants at which something begins or ends to be seen. */
  readonly boundaries: readonly string[]
  /** Colours code; undefined where no code has colours. */
  readonly highlighter: Highlighter | undefined
  /** The texts of the files that were read, for showing diagnostics. */
  readonly textOf: TextSource
  /** The bodies of the site, for questions that take a parse. */
  readonly bodies: Bodies | undefined
}

/** Colours are asked for, and what knows them is not there. */
const NO_HIGHLIGHTER: SettingProblem = {
  code: 'config-package-missing',
  path: ['highlight'],
  parameters: { setting: 'highlight', name: HIGHLIGHTER_PACKAGE },
}

/** Reads, validates, links and computes all content. Nothing is written. */
export async function checkContent(context: CheckContext): Promise<Checked> {
  const { host, model, memory, publicFiles, viewing, versions } = context
  const texts = new Map<string, string>()
  const textOf = createTextSource(host, texts)
  const files = await checkFiles(context, texts)
  const { checked, listing, guarded, matches, owners } = files
  const highlighter = model.plainLanguages && (await loadHighlighter(host.colouring))
  const connected = connectSite(memory.memo, checked, {
    ...{ model, viewing, files: listing.files, publicFiles, guarded, textOf, matches },
    bodies: memory.bodies,
    history: { versions: versions?.files, timesOf: (file) => host.times?.(`${model.content}/${file}`) },
  })
  const importing = connected.everything.flatMap(({ collection, entries }) =>
    memory.memo
      .within('importing')
      .map(collection.name, entries, { make: (entry) => (hasImports(entry) ? entry : undefined) })
      .filter((entry) => entry !== undefined),
  )
  const imports = checkImports(
    importing,
    (specifier, file) => host.findImport?.(specifier, file),
    (folder) => host.list(folder)?.files.filter((name) => !name.includes('/')) ?? [],
  )
  const diagnostics = [...(await describeProblems(context, { files, connected, highlighter })), ...imports]
  const arranged = applySeverities(arrangeDiagnostics(diagnostics), model.severities).map((one): Diagnostic => {
    const collection = owners.get(one.file)
    return collection === undefined ? one : { collection, ...one }
  })
  const faulty = new Set(arranged.map(({ collection }) => collection))
  // What the content shows to be wrong with settings is told there.
  const isSettingTold = arranged.some(({ file }) => !file.startsWith(`${model.content}/`))
  files.keep((name) => isSettingTold || faulty.has(name))
  const { collections, entryCount, implicit, resolveLink, boundaries, whole } = connected
  return {
    ...{ collections, entryCount, implicit, resolveLink, boundaries, whole, highlighter, textOf },
    diagnostics: proposeEdits(arranged, textOf, model.endings),
    fileCount: files.fileCount,
    unmatchedCount: files.unmatched.length,
    unnamedCount: checked.reduce((sum, one) => sum + one.unnamedCount, 0),
    failedFileCount: checked.reduce((sum, one) => sum + one.failedFiles.length, 0),
    hasImports: importing.length > 0,
    asset: files.asset,
    owners,
    assetState: files.assetState,
    bodies: memory.bodies,
  }
}

/** The results of a check that its problems are drawn from. */
interface CheckResults {
  readonly files: CheckedFiles
  readonly connected: ConnectedSite
  readonly highlighter: Highlighter | undefined
}

/** All problems of a site but those of imports, in no order. */
async function describeProblems(
  { host, model, configurationFile, sources, memory, unused, versions }: CheckContext,
  { files, connected, highlighter }: CheckResults,
): Promise<Diagnostic[]> {
  const { checked, listing, problems, nearMisses, unmatched } = files
  const { everything, resolveLink } = connected
  const { content } = model
  const lacksImages = describeImages(host, model)
  const lacksHighlighter = model.plainLanguages !== undefined && !highlighter
  const settings = [
    ...describeHistory(model, versions),
    ...(lacksHighlighter ? [NO_HIGHLIGHTER] : []),
    ...lacksImages,
    ...problems,
    ...checked.flatMap((one) => one.problems),
    ...missingSingles(checked),
    ...connected.problems,
  ]
  const unportable = memory.memo.value('unportable', [listing.files], () => findUnportable(listing.files))
  const linksOf = (entry: LinkedEntry): LocatedLinks => memory.bodies.locateLinks(entry, () => false)
  return [
    ...describeListing(listing, unportable, content),
    ...(await placeSettings(host, configurationFile, settings)),
    ...[...sources.values()].flatMap((source) => source.diagnostics),
    ...checked.flatMap((one) => one.diagnostics),
    ...connected.diagnostics,
    ...describeNearMisses(nearMisses, () => findUsedFiles(everything, resolveLink), content),
    ...(unused
      ? findUnused({ collections: everything, resolve: resolveLink, linksOf, assets: unmatched, content })
      : []),
    ...(highlighter ? findUnknownLanguages(connected.collections, highlighter, { model, bodies: memory.bodies }) : []),
  ]
}

/** Images are asked for in other sizes, and what makes them is not there. */
function describeImages({ images }: Host, model: Model): SettingProblem[] {
  const path = findSourceSetting(model)
  const name = path && images?.missing()
  if (path === undefined || name === undefined) return []
  return [{ code: 'config-package-missing', path, parameters: { setting: path.join('.'), name } }]
}

/** Fields that ask version control for what it does not know, each collection once. */
function describeHistory({ collections }: Model, versions: VersionHistory | undefined): SettingProblem[] {
  return collections.flatMap(({ name, fields }) => {
    const [field] =
      Object.entries(fields).find(
        ([, one]) =>
          one.kind === 'history' &&
          (versions ? one.options.from !== 'files' : (one.options.from ?? 'versions') === 'versions'),
      ) ?? []
    if (field === undefined || (versions && !versions.isShallow)) return []
    const path = ['collections', name, 'fields', field]
    return [{ code: versions ? 'history-shallow' : 'history-missing', path, parameters: { setting: path.join('.') } }]
  })
}

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

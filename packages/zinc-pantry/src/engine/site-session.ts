import { isFault } from '../diagnostics/diagnostic.ts'
import { dotNamesOf } from '../find/dot-names.ts'
import type { Changes, Host, Watched } from '../host/host.ts'
import type { Model } from '../schema/model.ts'
import type { WrittenOutput } from './cache/run-record.ts'
import { CACHE_FOLDER, openSiteMemory } from './cache/site-memory.ts'
import {
  contentFilesOf,
  keptAnswersOf,
  type LoadedInputs,
  listContent,
  listPublic,
  loadInputs,
  type SiteInputs,
} from './load-inputs.ts'
import { isWhole } from './publish.ts'
import { forgetOutput, runSite } from './run-site.ts'
import type { BuildReport, SiteOptions } from './site-report.ts'

/** A site that is built again and again, each time doing only what changed. */
export interface SiteSession {
  /**
   * Builds, knowing that nothing but the given files changed since the last time. Gives nothing where none of them has
   * another content, so that the last report stands; otherwise `onStart` is called first, but for the first build.
   */
  build(changes: Changes, onStart?: (changes: readonly string[]) => void): Promise<SessionReport | undefined>
  /** The folders that have to be watched; they can change with every build. */
  watched(): Watched
  /** True where the last build met a fault of the machine, which may be gone the next time. */
  hasFault(): boolean
  /** The output that this session wrote last. */
  output(): SessionOutput | undefined
  /** True for a file of the content that was there at the last build and is not there now. */
  isGone(path: string): boolean
  /** The files of the content and of the configuration. */
  files(): readonly string[]
  /** Keeps what was learnt for the next process. */
  save(): Promise<void>
}

/** The report of a build, and the changes that it was made for; none where there were too many to tell. */
export interface SessionReport {
  readonly report: BuildReport
  readonly changes: readonly string[]
}

/** An output, and what else a module of it is made of. */
export interface SessionOutput extends WrittenOutput {
  /** The content folder, relative to the root. */
  readonly content: string
  readonly locales: readonly string[]
  /** The prefix of the paths of its files. */
  readonly assetBase: string
}

/** How a session works. */
export interface SessionOptions extends SiteOptions {
  /** Code of bodies comes with what it was made from, for bundlers. Default: false. */
  readonly sourceMaps?: boolean
}

/**
 * Opens a session. Sources that are no files are asked once for each configuration.
 *
 * @example
 * ```ts
 * import { createNodeHost, openSession } from 'zinc-pantry/engine'
 *
 * const session = openSession({ host: createNodeHost('.'), configurationFile: 'pantry.config.ts' })
 * const first = await session.build(undefined)
 * const next = await session.build(['content/huts/gable.md'])
 * console.log(first?.report.entryCount, next?.report.writtenCount ?? 'as it was')
 * await session.save()
 * ```
 */
export function openSession(options: SessionOptions): SiteSession {
  const { host, configurationFile, drafts = false, cache = true } = options
  const memory = openSiteMemory(host, {
    isKept: cache,
    isLong: true,
    hasMaps: options.sourceMaps ?? false,
  })
  let loaded: LoadedInputs | undefined
  let built: SessionOutput | undefined
  let model: Model | undefined
  let isFaulty = false
  let listed: { readonly inputs: SiteInputs | undefined; readonly files: ReadonlySet<string> } | undefined
  const filesOf = (current: LoadedInputs): ReadonlySet<string> => {
    if (listed?.inputs !== current.inputs || !listed)
      listed = { inputs: current.inputs, files: new Set(contentFilesOf(current)) }
    return listed.files
  }
  /** Loads the inputs again as far as changes ask for it. Gives the files that may have another content; undefined for all. */
  const reload = async (changes: Changes): Promise<ReadonlySet<string> | undefined> => {
    const { inputs: last, configurationFiles = [] } = loaded ?? {}
    if (!loaded || !last || !changes || changes.some((path) => configurationFiles.includes(path))) {
      loaded = await loadInputs(host, configurationFile, { kept: cache ? CACHE_FOLDER : undefined, last: loaded })
      return undefined
    }
    const known = filesOf(loaded)
    if (changes.every((path) => known.has(path) && host.size(path) !== undefined)) return new Set(changes)
    const listing = listContent(host, last.model)
    if (!listing) return reload(undefined)
    loaded = { ...loaded, inputs: { ...last, listing, publicFiles: listPublic(host, last.model) } }
    return undefined
  }
  /** True where the output is not as it was written; asked where something in it may have changed. */
  const isDamaged = (changes: Changes): boolean => {
    if (!built) return false
    const { folder, files } = built
    const isConcerned =
      !changes || changes.some((path) => `${path}/`.startsWith(`${folder}/`) || folder.startsWith(`${path}/`))
    return isConcerned && !isWhole(host, folder, files)
  }
  return {
    async build(changes, onStart) {
      const started = host.now()
      const last = loaded
      const mustBuild = isFaulty || isDamaged(changes)
      if (mustBuild) forgetOutput(memory)
      // After a fault everything may be different.
      const told = isFaulty ? undefined : changes
      const concerned = told && last ? told.filter(createConcern(host, last, filesOf(last))) : told
      const touched = await reload(concerned)
      const current = loaded as LoadedInputs
      memory.state.setChanged(touched)
      const files = touched ?? (isSameInputs(last?.inputs, current.inputs) ? filesOf(current) : undefined)
      if (files && !memory.state.haveChanged(files) && !mustBuild) return undefined
      if (last) onStart?.(concerned ?? [])
      model = current.model ?? model
      const viewing = { drafts, instant: options.instant ?? host.clock() }
      const { report, output } = await runSite(current, { ...options, viewing, memory, isBuild: true })
      // While the configuration is wrong, results of files stand that are not listed.
      if (current.inputs) memory.forget(filesOf(current), keptAnswersOf(current))
      isFaulty = report.diagnostics.some(isFault)
      if (output && model) built = { ...output, ...pickSettings(model) }
      return { report: { ...report, milliseconds: host.now() - started }, changes: concerned ?? [] }
    },
    watched() {
      const { configurationFiles = [] } = loaded ?? {}
      const folders = [configurationFile, ...configurationFiles].map((path) =>
        path.slice(0, Math.max(0, path.lastIndexOf('/'))),
      )
      // While the configuration is wrong, what it said last holds.
      return {
        trees: model ? [model.content, model.publicFolder, model.output] : [],
        folders: [...new Set(folders)],
        dotNames: dotNamesOf(model?.collections ?? []),
      }
    },
    hasFault: () => isFaulty,
    output: () => built,
    isGone: (path) => loaded !== undefined && filesOf(loaded).has(path) && host.size(path) === undefined,
    files: () => [...(loaded?.configurationFiles ?? []), ...(loaded ? filesOf(loaded) : [])],
    async save() {
      if (loaded) await memory.save(new Set([...filesOf(loaded), ...keptAnswersOf(loaded)]))
    },
  }
}

/** Makes a test of paths that concern a site: what came and went at once, as some editors write, does not. */
const createConcern =
  (host: Host, { inputs, configurationFiles }: LoadedInputs, known: ReadonlySet<string>) =>
  (path: string): boolean => {
    if (configurationFiles.includes(path) || known.has(path)) return true
    if (!inputs) return host.size(path) !== undefined
    // What is served as it is matters by its name only.
    const { content, publicFolder } = inputs.model
    if (path === publicFolder || path.startsWith(`${publicFolder}/`)) return true
    if (path !== content && !path.startsWith(`${content}/`)) return false
    return host.size(path) !== undefined || [...known].some((file) => file.startsWith(`${path}/`))
  }

const pickSettings = ({ content, locales, assetBase }: Model): Omit<SessionOutput, keyof WrittenOutput> => ({
  content,
  locales,
  assetBase,
})

/** True where only contents can differ. */
function isSameInputs(one: SiteInputs | undefined, other: SiteInputs | undefined): boolean {
  if (!one || !other || one.code === undefined || one.code !== other.code) return false
  const inputsText = ({ listing, publicFiles, sources, versions }: SiteInputs): string =>
    JSON.stringify([
      listing,
      publicFiles,
      [...sources.values()].map(({ text }) => text?.text),
      [...(versions?.files ?? [])],
    ])
  return inputsText(one) === inputsText(other)
}

import { isFault } from '../diagnostics/diagnostic.ts'
import type { Changes, Watched } from '../host/host.ts'
import type { Model } from '../schema/model.ts'
import type { WrittenOutput } from './cache/run-record.ts'
import { CACHE_FOLDER, openSiteMemory } from './cache/site-memory.ts'
import { isWhole } from './publish.ts'
import { forgetOutput, runSite } from './run-site.ts'
import type { BuildReport, SiteOptions } from './site.ts'
import { listPublic, type Survey, type Surveyed, surveySite } from './survey.ts'

/** A site that is built again and again, each time doing only what changed. */
export interface SiteSession {
  /**
   * Builds, knowing that nothing but the given files changed since the last time. Gives nothing where none of them has
   * another content, so that the last report stands; otherwise `onStart` is called first, but for the first build.
   */
  build(changes: Changes, onStart?: (changes: readonly string[]) => void): Promise<SessionReport | undefined>
  /** What has to be watched; it can change with every build. */
  watched(): Watched
  /** True where the last build met a fault of the machine, which may be gone the next time. */
  hasFault(): boolean
  /** What was written last, by this session. */
  output(): SessionOutput | undefined
  /** True for a file of the content that was there at the last build and is not there now. */
  isGone(path: string): boolean
  /** The files of the content and of the configuration. */
  files(): readonly string[]
  /** Keeps what was learnt for the next process. */
  save(): Promise<void>
}

/** What a build found, and the changes that it was made for; none where there were too many to tell. */
export interface SessionReport {
  readonly report: BuildReport
  readonly changes: readonly string[]
}

/** An output, and what else a module of it is made of. */
export interface SessionOutput extends WrittenOutput {
  /** The content folder, relative to the root. */
  readonly content: string
  readonly locales: readonly string[]
  /** What is put before the paths of its files. */
  readonly assetBase: string
}

/** How a session works. */
export interface SessionOptions extends SiteOptions {
  /** Code of bodies comes with what it was made from, for bundlers. Default: false. */
  readonly sourceMaps?: boolean
}

/** Opens a session. Sources that are no files are asked once for each configuration. */
export function openSession(options: SessionOptions): SiteSession {
  const { host, configurationFile, drafts = false, cache = true } = options
  const memory = openSiteMemory(host, {
    isKept: cache,
    isLong: true,
    hasMaps: options.sourceMaps ?? false,
  })
  let surveyed: Surveyed | undefined
  let built: SessionOutput | undefined
  let model: Model | undefined
  let isFaulty = false
  let listed: { readonly survey: Survey | undefined; readonly files: ReadonlySet<string> } | undefined
  const filesOf = (current: Surveyed): ReadonlySet<string> => {
    if (listed?.survey !== current.survey || !listed)
      listed = { survey: current.survey, files: new Set(listFiles(current)) }
    return listed.files
  }
  const listFiles = ({ survey }: Surveyed): string[] =>
    survey?.listing.files.map((path) => `${survey.model.content}/${path}`) ?? []
  /** Kept answers of sources, which are files too. */
  const answersOf = ({ survey }: Surveyed): string[] =>
    [...(survey?.sources.values() ?? [])].flatMap(({ text }) => text?.file ?? [])
  /** Paths that concern the site: what came and went at once, as some editors write, is none. */
  const concerning = (changes: readonly string[], current: Surveyed): readonly string[] => {
    const { survey, inputs } = current
    const { content = '' } = survey?.model ?? {}
    const known = filesOf(current)
    return changes.filter((path) => {
      if (inputs.includes(path) || known.has(path)) return true
      if (!survey) return host.size(path) !== undefined
      // What is served as it is matters by its name only.
      const { publicFolder } = survey.model
      if (path === publicFolder || path.startsWith(`${publicFolder}/`)) return true
      if (path !== content && !path.startsWith(`${content}/`)) return false
      return host.size(path) !== undefined || [...known].some((file) => file.startsWith(`${path}/`))
    })
  }
  /** Surveys as far as changes ask for it. Gives the files that may have another content; undefined for all. */
  const survey = async (changes: Changes): Promise<ReadonlySet<string> | undefined> => {
    const { survey: last, inputs = [] } = surveyed ?? {}
    if (!surveyed || !last || !changes || changes.some((path) => inputs.includes(path))) {
      surveyed = await surveySite(host, configurationFile, { kept: cache ? CACHE_FOLDER : undefined, last: surveyed })
      return undefined
    }
    const known = filesOf(surveyed)
    if (changes.every((path) => known.has(path) && host.size(path) !== undefined)) return new Set(changes)
    const listing = host.list(last.model.content)
    if (!listing) return survey(undefined)
    surveyed = { ...surveyed, survey: { ...last, listing, publicFiles: listPublic(host, last.model) } }
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
      const last = surveyed
      const mustBuild = isFaulty || isDamaged(changes)
      if (mustBuild) forgetOutput(memory)
      // After a fault everything may be different.
      const told = isFaulty ? undefined : changes
      const concerned = told && last ? concerning(told, last) : told
      const touched = await survey(concerned)
      const current = surveyed as Surveyed
      memory.state.setChanged(touched)
      const files = touched ?? (isSameSurvey(last?.survey, current.survey) ? filesOf(current) : undefined)
      if (files && !memory.state.haveChanged(files) && !mustBuild) return undefined
      if (last) onStart?.(concerned ?? [])
      model = current.model ?? model
      const viewing = { drafts, instant: options.instant ?? host.clock() }
      const { report, output } = await runSite(current, { ...options, viewing, memory, isBuild: true })
      // While the configuration is wrong, results of files stand that are not listed.
      if (current.survey) memory.forget(filesOf(current), answersOf(current))
      isFaulty = report.diagnostics.some(isFault)
      if (output && model) built = { ...output, ...pickSettings(model) }
      return { report: { ...report, milliseconds: host.now() - started }, changes: concerned ?? [] }
    },
    watched() {
      const { inputs = [] } = surveyed ?? {}
      const folders = [configurationFile, ...inputs].map((path) => path.slice(0, Math.max(0, path.lastIndexOf('/'))))
      // While the configuration is wrong, what it said last holds.
      return { trees: model ? [model.content, model.publicFolder, model.output] : [], folders: [...new Set(folders)] }
    },
    hasFault: () => isFaulty,
    output: () => built,
    isGone: (path) => surveyed !== undefined && filesOf(surveyed).has(path) && host.size(path) === undefined,
    files: () => [...(surveyed?.inputs ?? []), ...(surveyed ? filesOf(surveyed) : [])],
    async save() {
      if (surveyed) await memory.save(new Set([...filesOf(surveyed), ...answersOf(surveyed)]))
    },
  }
}

const pickSettings = ({ content, locales, assetBase }: Model): Omit<SessionOutput, keyof WrittenOutput> => ({
  content,
  locales,
  assetBase,
})

/** True where only contents can differ. */
function isSameSurvey(one: Survey | undefined, other: Survey | undefined): boolean {
  if (!one || !other || one.code === undefined || one.code !== other.code) return false
  const textOf = ({ listing, publicFiles, sources }: Survey): string =>
    JSON.stringify([listing, publicFiles, [...sources.values()].map(({ text }) => text?.text)])
  return textOf(one) === textOf(other)
}

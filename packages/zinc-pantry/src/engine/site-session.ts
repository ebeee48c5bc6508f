import type { Changes } from '../host/host.ts'
import { CACHE_FOLDER, openSiteMemory } from './cache/site-memory.ts'
import { runSite } from './run-site.ts'
import type { BuildReport, SiteOptions } from './site.ts'
import { type Survey, type Surveyed, surveySite } from './survey.ts'

/** A site that is built again and again, each time doing only what changed. */
export interface SiteSession {
  /**
   * Builds, knowing that nothing but the given files changed since the last time. Gives nothing where none of them has
   * another content, so that the last report stands; otherwise `onStart` is called first, but for the first build.
   */
  build(changes: Changes, onStart?: () => void): Promise<BuildReport | undefined>
  /** What has to be watched; it can change with every build. */
  watched(): { readonly outside: readonly string[]; readonly ignored: readonly string[] }
  /** Keeps what was learnt for the next process. */
  save(): void
}

/** Opens a session. Sources that are no files are asked once for each configuration. */
export function openSession(options: SiteOptions): SiteSession {
  const { host, configurationFile, drafts = false, cache = true } = options
  const memory = openSiteMemory(host, { isKept: cache, isLong: true })
  let surveyed: Surveyed | undefined
  let listed: { readonly survey: Survey | undefined; readonly files: ReadonlySet<string> } | undefined
  const filesOf = (current: Surveyed): ReadonlySet<string> => {
    if (listed?.survey !== current.survey || !listed)
      listed = { survey: current.survey, files: new Set(listFiles(current)) }
    return listed.files
  }
  const listFiles = ({ survey }: Surveyed): string[] => [
    ...(survey?.listing.files.map((path) => `${survey.model.content}/${path}`) ?? []),
    ...[...(survey?.sources.values() ?? [])].flatMap(({ text }) => text?.file ?? []),
  ]
  /** Surveys as far as changes ask for it. Gives the files that may have another content; undefined for all. */
  const survey = async (changes: Changes): Promise<ReadonlySet<string> | undefined> => {
    const { survey: last, inputs = [] } = surveyed ?? {}
    if (!surveyed || !last || !changes || changes.some((path) => inputs.includes(path))) {
      surveyed = await surveySite(host, configurationFile, { kept: cache ? CACHE_FOLDER : undefined, last: surveyed })
      return undefined
    }
    const { content } = last.model
    const inside = changes.filter((path) => path === content || path.startsWith(`${content}/`))
    const known = filesOf(surveyed)
    if (inside.every((path) => known.has(path) && host.size(path) !== undefined)) return new Set(inside)
    const listing = host.list(content)
    if (!listing) return survey(undefined)
    surveyed = { ...surveyed, survey: { ...last, listing } }
    return undefined
  }
  return {
    async build(changes, onStart) {
      const started = host.now()
      const last = surveyed
      const touched = await survey(changes)
      const current = surveyed as Surveyed
      memory.state.trust(touched)
      const files = touched ?? (isSameSurvey(last?.survey, current.survey) ? filesOf(current) : undefined)
      if (files && !memory.state.haveChanged(files)) return undefined
      if (last) onStart?.()
      const viewing = { drafts, instant: options.instant ?? host.clock() }
      const { report } = await runSite(current, { ...options, viewing, memory, isBuild: true })
      memory.forget(filesOf(current))
      return { ...report, milliseconds: host.now() - started }
    },
    watched() {
      const { model, inputs = [] } = surveyed ?? {}
      const folders = [...inputs.map((path) => path.slice(0, path.lastIndexOf('/'))), model?.content ?? '']
      const outside = [...new Set(folders.filter((folder) => folder.startsWith('..')))]
      return { outside, ignored: [CACHE_FOLDER, ...(model ? [model.output] : [])] }
    },
    save() {
      if (surveyed) memory.save(filesOf(surveyed))
    },
  }
}

/** True where only contents can differ. */
function isSameSurvey(one: Survey | undefined, other: Survey | undefined): boolean {
  if (!one || !other || one.code === undefined || one.code !== other.code) return false
  const textOf = ({ listing, sources }: Survey): string =>
    JSON.stringify([listing, [...sources.values()].map(({ text }) => text?.text)])
  return textOf(one) === textOf(other)
}

import { isFault } from '../diagnostics/diagnostic.ts'
import type { Changes, Watched } from '../host/host.ts'
import type { Model } from '../schema/model.ts'
import type { WrittenOutput } from './cache/run-record.ts'
import { openSiteMemory } from './cache/site-memory.ts'
import { isWhole } from './publish.ts'
import type { BuildReport, SiteOptions } from './site-report.ts'
import { trackInputs } from './tracked-inputs.ts'

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
  const inputs = trackInputs(host, configurationFile, { cache })
  let built: SessionOutput | undefined
  let isFaulty = false
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
      const mustBuild = isFaulty || isDamaged(changes)
      const { forgetOutput, runSite } = await import('./run-site.ts')
      if (mustBuild) forgetOutput(memory)
      // After a fault everything may be different.
      const { last, current, concerned, touched, compared } = await inputs.follow(isFaulty ? undefined : changes)
      memory.begin(touched)
      const changed = compared && new Set(memory.state.listChanged(compared))
      if (changed?.size === 0 && !mustBuild) return undefined
      // What a system tells once more, and is as it was, is no change.
      const told = (concerned ?? []).filter((path) => !compared?.has(path) || changed?.has(path))
      if (last) onStart?.(told)
      const viewing = { drafts, instant: options.instant ?? host.clock() }
      const { report, output } = await runSite(current, { ...options, viewing, memory, isBuild: true })
      // While the configuration is wrong, results of files stand that are not listed.
      if (current.inputs && !touched) memory.forget(inputs.kept())
      isFaulty = report.diagnostics.some(isFault)
      const model = inputs.model()
      if (output && model) built = { ...output, ...pickSettings(model) }
      return { report: { ...report, milliseconds: host.now() - started }, changes: told }
    },
    watched: () => inputs.watched(({ output }) => [output]),
    hasFault: () => isFaulty,
    output: () => built,
    isGone: (path) => inputs.files().has(path) && host.size(path) === undefined,
    files: () => [...(inputs.current()?.configurationFiles ?? []), ...inputs.files()],
    async save() {
      if (inputs.current()) await memory.save(inputs.kept)
    },
  }
}

const pickSettings = ({ content, locales, assetBase }: Model): Omit<SessionOutput, keyof WrittenOutput> => ({
  content,
  locales,
  assetBase,
})

import { dotNamesOf } from '../find/dot-names.ts'
import type { Changes, Host, Watched } from '../host/host.ts'
import type { Model } from '../schema/model.ts'
import { CACHE_FOLDER } from './cache/site-memory.ts'
import {
  contentFilesOf,
  keptAnswersOf,
  type LoadedInputs,
  listContent,
  listPublic,
  loadInputs,
  type SiteInputs,
} from './load-inputs.ts'

/** The inputs of a site after some changes, and what of them matters. */
export interface FollowedInputs {
  readonly last: LoadedInputs | undefined
  readonly current: LoadedInputs
  /** The changes that concern the site; undefined where there were too many to tell. */
  readonly concerned: Changes
  /** The files that may have another content; undefined for all. */
  readonly touched: ReadonlySet<string> | undefined
  /** Files of which one must have another content for anything to be different; undefined where something is in any case. */
  readonly compared: ReadonlySet<string> | undefined
}

/** The inputs of a site that is worked on again and again, loaded anew as far as changes ask for it. */
export interface TrackedInputs {
  /** Loads them, knowing that nothing but the given files changed since the last time. */
  follow(changes: Changes): Promise<FollowedInputs>
  current(): LoadedInputs | undefined
  /** The files of the content, relative to the root. */
  files(): ReadonlySet<string>
  /** All files that results are kept of. */
  kept(): ReadonlySet<string>
  /** The last configuration that was right. */
  model(): Model | undefined
  /** The folders that have to be watched; `others` beside those of the content and the configuration. */
  watched(others: (model: Model) => readonly string[]): Watched
}

/** Tracks the inputs of a site. Sources that are no files are asked once for each configuration. */
export function trackInputs(
  host: Host,
  configurationFile: string,
  { cache }: { readonly cache: boolean },
): TrackedInputs {
  let loaded: LoadedInputs | undefined
  let model: Model | undefined
  let listed: { readonly inputs: SiteInputs | undefined; readonly files: ReadonlySet<string> } | undefined
  const filesOf = (current: LoadedInputs): ReadonlySet<string> => {
    if (listed?.inputs !== current.inputs || !listed)
      listed = { inputs: current.inputs, files: new Set(contentFilesOf(current)) }
    return listed.files
  }
  const reload = async (changes: Changes): Promise<ReadonlySet<string> | undefined> => {
    const { inputs: last, configurationFiles = [] } = loaded ?? {}
    if (!loaded || !last || !changes || changes.some((path) => configurationFiles.includes(path))) {
      const kept = cache ? CACHE_FOLDER : undefined
      loaded = await loadInputs(host, configurationFile, { kept, last: loaded && { ...loaded, model } })
      return undefined
    }
    const known = filesOf(loaded)
    if (changes.every((path) => known.has(path) && host.size(path) !== undefined)) return new Set(changes)
    const listing = listContent(host, last.model)
    if (!listing) return reload(undefined)
    loaded = { ...loaded, inputs: { ...last, listing, publicFiles: listPublic(host, last.model) } }
    return undefined
  }
  return {
    async follow(changes) {
      const last = loaded
      const concerned = changes && last ? changes.filter(createConcern(host, last, filesOf(last))) : changes
      const touched = await reload(concerned)
      const current = loaded as LoadedInputs
      model = current.model ?? model
      const compared = touched ?? (isSameInputs(last?.inputs, current.inputs) ? filesOf(current) : undefined)
      return { last, current, concerned, touched, compared }
    },
    current: () => loaded,
    files: () => (loaded ? filesOf(loaded) : new Set()),
    kept: () => (loaded ? new Set([...filesOf(loaded), ...keptAnswersOf(loaded)]) : new Set()),
    model: () => model,
    watched(others) {
      const { configurationFiles = [] } = loaded ?? {}
      const folders = [configurationFile, ...configurationFiles].map((path) =>
        path.slice(0, Math.max(0, path.lastIndexOf('/'))),
      )
      // While the configuration is wrong, what it said last holds.
      return {
        trees: model ? [model.content, model.publicFolder, ...others(model)] : [],
        folders: [...new Set(folders)],
        dotNames: dotNamesOf(model?.collections ?? []),
      }
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

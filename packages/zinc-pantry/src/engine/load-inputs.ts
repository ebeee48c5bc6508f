import { createDiagnostic, type Diagnostic } from '../diagnostics/diagnostic.ts'
import { dotNamesOf } from '../find/dot-names.ts'
import type { Host, Listing, VersionHistory } from '../host/host.ts'
import type { Model } from '../schema/model.ts'
import { locateSetting } from './configuration/locate-setting.ts'
import { keepOutline } from './keep-outline.ts'
import { loadModel } from './load-model.ts'
import { readText } from './read-text.ts'
import { type LoadedSource, loadSource } from './sources.ts'

/** All that a run starts from: the configuration, the names of the files, and what comes from elsewhere. */
export interface SiteInputs {
  readonly model: Model
  /** A digest of the configuration's code; undefined where that is not known. */
  readonly code: string | undefined
  readonly listing: Listing
  /** Files that the site serves as they are, relative to their folder. */
  readonly publicFiles: readonly string[]
  /** By collection. */
  readonly sources: ReadonlyMap<string, LoadedSource>
  /** The changes of the content; undefined where there is no version control, or nobody asks. */
  readonly versions: VersionHistory | undefined
}

/** The inputs of a run, or why there are none. */
export interface LoadedInputs {
  /** Undefined where there are errors. */
  readonly inputs: SiteInputs | undefined
  /** Undefined where the configuration is wrong. */
  readonly model: Model | undefined
  /** Of the configuration. */
  readonly diagnostics: readonly Diagnostic[]
  /** The files that the configuration was made from. */
  readonly configurationFiles: readonly string[]
}

/** How inputs are loaded. */
export interface LoadOptions {
  /** The folder of what is kept from run to run, if any. */
  readonly kept: string | undefined
  /**
   * Those of the last run of the same process: as long as the configuration is the same, what comes from elsewhere is
   * too.
   */
  readonly last?: LoadedInputs | undefined
  /** The collections that are asked for; what these do not need is left out. Default: all. */
  readonly only?: readonly string[] | undefined
}

/** Loads the configuration, lists the files, and asks what comes from elsewhere. */
export async function loadInputs(
  host: Host,
  configurationFile: string,
  { kept, last, only }: LoadOptions,
): Promise<LoadedInputs> {
  const loaded = await loadModel(host, configurationFile, kept)
  const { diagnostics, code, inputs: configurationFiles } = loaded
  const whole = loaded.model && keepOutline(loaded.model, last?.model)
  if (!whole) return { inputs: undefined, model: whole, diagnostics, configurationFiles }
  // A run in which nothing changed loads no parser.
  const needed = only && (await import('./needed-collections.ts'))
  const model = needed ? needed.withNeeded(whole, only) : whole
  const everything = listContent(host, whole)
  if (everything) {
    const listing = needed ? needed.withoutOthers(everything, { whole, own: model }) : everything
    const isSame = last?.inputs?.code !== undefined && last.inputs.code === code
    const sources = isSame ? last.inputs.sources : await loadSources(host, model, configurationFile)
    const publicFiles = listPublic(host, model)
    const versions = asksForVersions(model) ? await host.versions?.(model.content) : undefined
    const inputs = { model, code, listing, publicFiles, sources, versions }
    return { inputs, model, diagnostics, configurationFiles }
  }
  const span = await locateSetting(readText(host, configurationFile) ?? '', ['content'])
  const isFile = host.size(model.content) !== undefined
  const parameters = { setting: 'content', folder: model.content, isFile }
  const missing = createDiagnostic('config-folder-missing', { file: configurationFile, span }, parameters)
  return { inputs: undefined, model, diagnostics: [...diagnostics, missing], configurationFiles }
}

/** True where a field says when an entry changed, by version control. */
const asksForVersions = ({ collections }: Model): boolean =>
  collections.some(({ fields }) =>
    Object.values(fields).some((field) => field.kind === 'history' && field.options.from !== 'files'),
  )

/** True where a field says when an entry changed, by the times of files. */
export const asksForTimes = ({ collections }: Model): boolean =>
  collections.some(({ fields }) =>
    Object.values(fields).some(
      (field) => field.kind === 'history' && field.options.from !== undefined && field.options.from !== 'versions',
    ),
  )

/** All files of the content folder. */
export const listContent = (host: Host, model: Model): Listing | undefined =>
  host.list(model.content, dotNamesOf(model.collections))

/** The files of the content, relative to the root. */
export const contentFilesOf = ({ inputs }: Pick<LoadedInputs, 'inputs'>): string[] =>
  inputs?.listing.files.map((path) => `${inputs.model.content}/${path}`) ?? []

/** Kept answers of sources, which are files too. */
export const keptAnswersOf = ({ inputs }: Pick<LoadedInputs, 'inputs'>): string[] =>
  [...(inputs?.sources.values() ?? [])].flatMap(({ text }) => text?.file ?? [])

/** The files that a site serves as they are; most sites have a folder of such. */
export const listPublic = (host: Host, model: Model): readonly string[] => host.list(model.publicFolder)?.files ?? []

/** The answers of remote sources, by collection; all are asked at once. */
async function loadSources(host: Host, model: Model, file: string): Promise<Map<string, LoadedSource>> {
  const asked = model.collections.flatMap((collection) => (collection.source ? [collection] : []))
  const loaded = asked.map(async (collection) => {
    const source = await loadSource(host, collection, { file, span: [0, 0] })
    if (!source.diagnostics.some((diagnostic) => diagnostic.file === file)) return [collection.name, source] as const
    // Places in the configuration take a parser, which is loaded where there is something to say only.
    const span = await locateSetting(readText(host, file) ?? '', ['collections', collection.name, 'from'])
    const place = (diagnostic: Diagnostic): Diagnostic =>
      diagnostic.file === file ? { ...diagnostic, span } : diagnostic
    return [collection.name, { ...source, diagnostics: source.diagnostics.map(place) }] as const
  })
  return new Map(await Promise.all(loaded))
}

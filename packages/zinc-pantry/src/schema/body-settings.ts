import { checkSources, type SourceOptions } from './image-sources.ts'
import type { SettingStep, SettingsReader } from './settings-reader.ts'

/**
 * A plugin of an engine, alone or with its options: `plugin` or `[plugin, options]`. Markdown is read by
 * markdown-it, MDX by remark and rehype.
 */
export type BodyPlugin = BodyPluginFunction | readonly [plugin: BodyPluginFunction, ...options: unknown[]]

// biome-ignore lint/suspicious/noExplicitAny: the engines' own types are theirs to check, and not installed everywhere.
type BodyPluginFunction = (...parameters: any[]) => unknown

/** The treatment of raw HTML. */
export type RawHtml = 'keep' | 'drop' | 'sanitise'

/** The sizes and formats in which the images of bodies are made. */
export interface BodySources extends SourceOptions {
  /** How wide images are on the page, as the attribute `sizes` of the HTML standard: `(min-width: 60em) 40em, 100vw`. Default: none. */
  readonly sizes?: string
}

/** What the settings of a whole site ask of bodies: their readers are told it, and what is kept of bodies depends on it. */
export interface BodyDemands {
  /** True where code has colours, so that its languages are of interest. */
  readonly hasColours: boolean
  /** True where the text around links is told. */
  readonly hasExcerpts: boolean
}

/** How the bodies of a collection are read and rendered. */
export interface BodySettings {
  /** Tables, task items, strikethrough, bare addresses, footnotes and blocks, beside CommonMark. Default: true. */
  readonly extensions?: boolean
  /**
   * The treatment of raw HTML in Markdown: it is kept as written, dropped, or freed of all that can run code.
   * Default: `keep`, and `sanitise` where the collection is not trusted.
   */
  readonly rawHtml?: RawHtml
  /**
   * The components that bodies may use: those of the site's blocks, or `any`, whose properties are passed on as they are
   * written. Default: `declared`.
   */
  readonly components?: 'declared' | 'any'
  /**
   * Makes the id of a heading from its text; where it is taken already, a number is added. Default: letters and digits in lower
   * case, with `-` for each space and without other signs: `Getting there!` is `getting-there`.
   */
  readonly headingId?: (text: string) => string
  /**
   * The sizes and formats in which a build makes the images of Markdown, in bodies and fields: each is a `picture` with sources. By
   * the package `sharp`, which the site installs. Images written as HTML stay as they are. Default: none.
   */
  readonly sources?: BodySources
  /**
   * What reads and writes MDX: our own code where it is sure to give what the compiler gives, many times as fast, or always the
   * compiler. The results are the same; the variable of the environment `ZINC_PANTRY_MDX=compiler` sets it for one run.
   * Default: `own`.
   */
  readonly mdx?: 'own' | 'compiler'
  /** Plugins for markdown-it, which reads Markdown. Default: none. */
  readonly markdownPlugins?: readonly BodyPlugin[]
  /** Plugins for remark, which reads MDX. Default: none. */
  readonly remarkPlugins?: readonly BodyPlugin[]
  /** Plugins for rehype, which makes HTML of MDX. Default: none. */
  readonly rehypePlugins?: readonly BodyPlugin[]
}

/** A plugin with the name that diagnostics call it by. */
export interface NamedBodyPlugin {
  readonly name: string
  readonly plugin: (...parameters: unknown[]) => unknown
  readonly options: readonly unknown[]
}

/** {@link BodySettings}, checked and filled in. */
export interface BodyModel {
  readonly extensions: boolean
  readonly rawHtml: RawHtml
  readonly trusted: boolean
  readonly components: 'declared' | 'any'
  readonly headingId: ((text: string) => string) | undefined
  readonly sources: BodySources | undefined
  readonly mdx: 'own' | 'compiler'
  readonly markdownPlugins: readonly NamedBodyPlugin[]
  readonly remarkPlugins: readonly NamedBodyPlugin[]
  readonly rehypePlugins: readonly NamedBodyPlugin[]
}

const SETTINGS = [
  'extensions',
  'rawHtml',
  'components',
  'headingId',
  'sources',
  'mdx',
  'markdownPlugins',
  'remarkPlugins',
  'rehypePlugins',
]

/** Checks the setting `body`; undefined where a collection keeps no bodies. */
export function buildBody(
  reader: SettingsReader,
  path: readonly SettingStep[],
  { body, trusted }: { readonly body: unknown; readonly trusted: boolean },
): BodyModel | undefined {
  if (body === undefined || body === false) return undefined
  if (body !== true && (typeof body !== 'object' || body === null))
    return reader.invalid(path, body, 'true, false or an object of settings')
  const settings = body === true ? {} : (body as Record<string, unknown>)
  reader.known(path, settings, SETTINGS)
  const at = (name: string): SettingStep[] => [...path, name]
  const rawHtml = reader.oneOf(at('rawHtml'), settings.rawHtml, ['keep', 'drop', 'sanitise'])
  if (rawHtml === 'keep' && !trusted)
    reader.invalid(at('rawHtml'), rawHtml, '"drop" or "sanitise", since the collection is not trusted')
  const plugins = (name: string): NamedBodyPlugin[] => buildPlugins(reader, at(name), settings[name])
  return {
    extensions: reader.flag(at('extensions'), settings.extensions) ?? true,
    rawHtml: trusted ? (rawHtml ?? 'keep') : rawHtml === 'drop' ? 'drop' : 'sanitise',
    trusted,
    components: reader.oneOf(at('components'), settings.components, ['declared', 'any']) ?? 'declared',
    headingId: buildHeadingId(reader, at('headingId'), settings.headingId),
    sources: buildSources(reader, at('sources'), settings.sources),
    mdx: reader.oneOf(at('mdx'), settings.mdx, ['own', 'compiler']) ?? 'own',
    markdownPlugins: plugins('markdownPlugins'),
    remarkPlugins: plugins('remarkPlugins'),
    rehypePlugins: plugins('rehypePlugins'),
  }
}

function buildSources(reader: SettingsReader, path: SettingStep[], value: unknown): BodySources | undefined {
  const sources = checkSources(reader, path, value, ['sizes'])
  if (sources) reader.text([...path, 'sizes'], (sources as BodySources).sizes)
  return sources
}

function buildHeadingId(reader: SettingsReader, path: SettingStep[], value: unknown): BodyModel['headingId'] {
  if (value === undefined) return undefined
  if (typeof value === 'function') return value as (text: string) => string
  return reader.invalid(path, value, 'a function that makes an id of a text')
}

function buildPlugins(reader: SettingsReader, path: SettingStep[], value: unknown): NamedBodyPlugin[] {
  if (value === undefined) return []
  if (!Array.isArray(value)) {
    reader.invalid(path, value, 'a list of plugins')
    return []
  }
  return value.flatMap((item: unknown, position): NamedBodyPlugin[] => {
    const [plugin, ...options] = Array.isArray(item) ? (item as unknown[]) : [item]
    if (typeof plugin !== 'function') {
      reader.invalid([...path, position], plugin, 'a plugin: a function, or a list of one and its options')
      return []
    }
    const name = plugin.name === '' ? `${String(path.at(-1))}[${position}]` : plugin.name
    return [{ name, plugin: plugin as NamedBodyPlugin['plugin'], options }]
  })
}

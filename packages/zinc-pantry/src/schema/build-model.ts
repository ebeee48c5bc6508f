import { catalogue } from '../diagnostics/catalogue/index.ts'
import { isGroup } from '../diagnostics/own-key.ts'
import { suggestNearest } from '../diagnostics/suggest.ts'
import { FORMAT_NAMES, type FormatName } from '../values/format-names.ts'
import { buildCollection } from './build-collection.ts'
import { checkConnections } from './check-connections.ts'
import { checkFieldSet } from './check-fields.ts'
import { checkOverrides } from './check-overrides.ts'
import { checkSearch } from './check-search.ts'
import type { Fields } from './field.ts'
import { buildHints, checkHints } from './hints.ts'
import { blockTypes, isIdentifier, toIdentifier } from './identifiers.ts'
import type { BlockFields } from './kind.ts'
import { type CollectionModel, type Model, type Severities, visitFields } from './model.ts'
import type { Pantry } from './pantry.ts'
import { createSettingsReader, type SettingProblem, type SettingsReader } from './settings-reader.ts'

const SETTINGS = [
  'content',
  'endings',
  'output',
  'assetBase',
  'publicFolder',
  'served',
  'blocks',
  'hints',
  'locales',
  'sharedSlugs',
  'synonyms',
  'severities',
  'highlight',
  'standalone',
  'collections',
]

/** Folders that belong to others, or are removed by them. */
const FOREIGN_FOLDERS = ['.git', '.pantry', 'node_modules']

const EMPTY: Model = {
  content: 'content',
  endings: new Map(),
  output: 'generated/pantry',
  assetBase: '/',
  publicFolder: 'public',
  served: [],
  collections: [],
  blocks: new Map(),
  hints: {},
  sharedSlugs: [],
  locales: [],
  synonyms: [],
  standalone: false,
  severities: new Map(),
  plainLanguages: undefined,
  outline: {},
}

/**
 * Checks every setting of a configuration and fills in what is left out. The types of `pantry()`
 * forbid most mistakes, but a configuration may be plain JavaScript.
 */
export function buildModel(configuration: Pantry): { model: Model; problems: readonly SettingProblem[] } {
  const reader = createSettingsReader()
  const settings: unknown = configuration.settings
  if (typeof settings !== 'object' || settings === null) {
    reader.invalid(['pantry'], settings, 'an object of settings')
    return { model: EMPTY, problems: reader.problems }
  }
  reader.known([], settings, SETTINGS)
  const {
    content,
    endings,
    output,
    assetBase,
    publicFolder,
    served,
    collections,
    blocks,
    hints,
    locales,
    sharedSlugs,
    synonyms,
    severities,
    highlight,
    standalone,
  } = settings as Record<string, unknown>
  const languages = buildLocales(reader, locales)
  const model: Model = {
    content: folder(reader, 'content', content, EMPTY.content),
    endings: buildEndings(reader, endings),
    output: folder(reader, 'output', output, EMPTY.output),
    assetBase: buildAssetBase(reader, assetBase),
    publicFolder: folder(reader, 'publicFolder', publicFolder, EMPTY.publicFolder),
    served: buildServed(reader, served),
    collections: buildCollections(reader, collections, languages),
    blocks: buildBlocks(reader, blocks),
    hints: buildHints(reader, hints),
    locales: languages,
    standalone: reader.flag(['standalone'], standalone) ?? false,
    sharedSlugs: buildGroups(reader, 'sharedSlugs', sharedSlugs, 'a list of lists of collections'),
    synonyms: buildGroups(reader, 'synonyms', synonyms, 'a list of lists of words'),
    severities: buildSeverities(reader, severities),
    plainLanguages: buildHighlight(reader, highlight),
    outline: {},
  }
  checkTypeNames(reader, model)
  checkConnections(reader, model)
  checkOverrides(reader, model)
  checkAllHints(reader, model)
  checkSearch(reader, model)
  const taken = model.output.split('/').find((step) => FOREIGN_FOLDERS.includes(step))
  if (taken !== undefined) reader.invalid(['output'], model.output, `a folder of its own, not in "${taken}"`)
  if (overlaps(model.content, model.output))
    reader.invalid(['output'], model.output, `a folder apart from the content folder "${model.content}"`)
  return { model, problems: reader.problems }
}

function checkAllHints(reader: SettingsReader, { collections, blocks, hints }: Model): void {
  for (const collection of collections) {
    const path = ['collections', collection.name]
    visitFields(collection.fields, (field, at) => checkHints(reader, [...path, 'fields', ...at], field, hints))
    for (const [name, { field }] of Object.entries(collection.derived))
      checkHints(reader, [...path, 'derive', name, 'field'], field, hints)
  }
  for (const [name, fields] of blocks)
    visitFields(fields, (field, at) => checkHints(reader, ['blocks', name, 'fields', ...at], field, hints))
}

function buildAssetBase(reader: SettingsReader, value: unknown): string {
  const text = reader.text(['assetBase'], value)
  if (text === undefined) return EMPTY.assetBase
  return text === '' || text.endsWith('/') ? text : `${text}/`
}

/** Formats by endings in lower case, as names of files are compared with them. */
function buildEndings(reader: SettingsReader, endings: unknown): Map<string, FormatName> {
  const built = new Map<string, FormatName>()
  if (endings === undefined) return built
  if (!isGroup(endings)) {
    reader.invalid(['endings'], endings, 'an object with a format under each ending')
    return built
  }
  for (const [ending, value] of Object.entries(endings)) {
    const path = ['endings', ending]
    const format = reader.oneOf(path, value, FORMAT_NAMES)
    if (!/^\.[^./\\\s]+$/.test(ending)) reader.invalid(path, ending, 'an ending with one dot in front, such as .txt')
    else if (format) for (const one of [ending, ending.toLowerCase()]) built.set(one, format)
  }
  return built
}

/** Patterns of addresses, each from the root of the site. */
function buildServed(reader: SettingsReader, value: unknown): string[] {
  if (value === undefined) return []
  const isOne = typeof value === 'string'
  const patterns = isOne ? [value] : reader.texts(['served'], value)
  return patterns.filter((pattern, position) => {
    if (pattern.startsWith('/')) return true
    reader.invalid(isOne ? ['served'] : ['served', position], pattern, 'a pattern of addresses, such as /api/**')
    return false
  })
}

function buildHighlight(reader: SettingsReader, highlight: unknown): string[] | undefined {
  if (highlight === undefined || highlight === false) return undefined
  if (highlight === true) return []
  if (!isGroup(highlight)) return reader.invalid(['highlight'], highlight, 'true, false or an object of settings')
  reader.known(['highlight'], highlight, ['plain'])
  return highlight.plain === undefined ? [] : reader.texts(['highlight', 'plain'], highlight.plain)
}

const overlaps = (content: string, output: string): boolean =>
  `${output}/`.startsWith(`${content}/`) || `${content}/`.startsWith(`${output}/`)

/** A folder below the configuration's own: relative, with forward slashes, never outside. */
function folder(reader: SettingsReader, name: string, value: unknown, otherwise: string): string {
  const text = reader.text([name], value)
  if (text === undefined) return otherwise
  const steps = text
    .replaceAll('\\', '/')
    .split('/')
    .filter((step) => step !== '' && step !== '.')
  if (/^(?:\/|[A-Za-z]:)/.test(text) || steps.includes('..') || steps.length === 0) {
    reader.invalid([name], text, 'a folder below that of the configuration')
    return otherwise
  }
  return steps.join('/')
}

function buildCollections(reader: SettingsReader, collections: unknown, locales: readonly string[]): CollectionModel[] {
  if (!isGroup(collections)) {
    reader.invalid(['collections'], collections, 'an object with a collection under each name')
    return []
  }
  return Object.entries(collections).flatMap(([name, value]) => buildCollection(reader, name, { value, locales }) ?? [])
}

function buildBlocks(reader: SettingsReader, blocks: unknown): BlockFields {
  const built = new Map<string, Fields>()
  const open = new Set<string>()
  if (blocks === undefined) return built
  if (!isGroup(blocks)) {
    reader.invalid(['blocks'], blocks, 'an object with a block under each name')
    return built
  }
  for (const [name, settings] of Object.entries(blocks)) {
    const path = ['blocks', name]
    if (!isIdentifier(name)) reader.report('config-name-invalid', path, { name, suggestion: toIdentifier(name) })
    if (!isGroup(settings)) {
      reader.invalid(path, settings, 'an object of settings')
      continue
    }
    reader.known(path, settings, ['fields', 'unknownKeys'])
    const { fields, unknownKeys } = settings
    // A block of which nothing is said takes what it is given.
    const usual = fields === undefined ? 'keep' : 'refuse'
    if ((reader.oneOf([...path, 'unknownKeys'], unknownKeys, ['refuse', 'keep']) ?? usual) === 'keep') open.add(name)
    built.set(name, checkFieldSet(reader, [...path, 'fields'], Object(fields), { top: false, unknownKeys: 'refuse' }))
  }
  return Object.assign(built, { open })
}

function buildLocales(reader: SettingsReader, locales: unknown): string[] {
  if (locales === undefined) return []
  return reader.texts(['locales'], locales).filter((locale, position) => {
    try {
      return Intl.getCanonicalLocales(locale).length > 0
    } catch {
      reader.invalid(['locales', position], locale, 'a language tag, such as en or pt-BR')
      return false
    }
  })
}

/** Reads lists of lists of texts. */
function buildGroups(
  reader: SettingsReader,
  setting: 'sharedSlugs' | 'synonyms',
  groups: unknown,
  expected: string,
): string[][] {
  if (groups === undefined) return []
  if (Array.isArray(groups)) return groups.map((names, position) => reader.texts([setting, position], names))
  reader.invalid([setting], groups, expected)
  return []
}

/** Errors that leave an entry whole, so that a site may live with them. */
const LENIENT = [
  'address-duplicate',
  'field-unknown',
  'former-address-taken',
  'import-missing',
  'link-broken',
  'link-fragment',
  'locale-unknown',
  'ref-ambiguous',
  'ref-dangling',
  'ref-unpublished',
  'link-unpublished',
  'single-missing',
  'single-several',
  'slug-duplicate',
  'tree-cycle',
  'value-duplicate',
]

function buildSeverities(reader: SettingsReader, severities: unknown): Severities {
  const built = new Map<string, 'error' | 'warning' | 'off'>()
  if (severities === undefined) return built
  if (!isGroup(severities)) {
    reader.invalid(['severities'], severities, 'an object with a severity under each code')
    return built
  }
  const known = Object.keys(catalogue)
  for (const [code, value] of Object.entries(severities)) {
    const path = ['severities', code]
    const severity = reader.oneOf(path, value, ['error', 'warning', 'off'])
    const entry = Object.hasOwn(catalogue, code) ? catalogue[code as keyof typeof catalogue] : undefined
    if (!entry) reader.report('config-code-unknown', path, { code, suggestion: suggestNearest(code, known) })
    else if (severity && severity !== 'error' && entry.severity === 'error' && !LENIENT.includes(code))
      reader.report('config-severity-fixed', path, { code })
    else if (severity) built.set(code, severity)
  }
  return built
}

function checkTypeNames(reader: SettingsReader, model: Model): void {
  const taken = new Map<string, string>()
  const take = (names: readonly string[], owner: string, path: readonly string[]): void => {
    const made = names.find((candidate) => taken.has(candidate))
    if (made === undefined) for (const candidate of names) taken.set(candidate, owner)
    else reader.report('config-name-taken', [...path], { name: made, other: taken.get(made) ?? '' })
  }
  for (const { name, typeName } of model.collections)
    take([typeName, `${typeName}Id`, `${typeName}Fields`], `collections.${name}`, ['collections', name, 'entry'])
  for (const name of model.blocks.keys()) take(Object.values(blockTypes(name)), `blocks.${name}`, ['blocks', name])
}

import { isGroup } from '../diagnostics/own-key.ts'
import { ADDRESS_FIELD, buildAddress, isTemplate } from './address-template.ts'
import { buildBody } from './body-settings.ts'
import { buildDerived, buildRules, fieldsOf } from './build-derived.ts'
import { buildIdRule, buildSlugRule } from './build-naming.ts'
import { checkFieldSet } from './check-fields.ts'
import { buildClusters, buildIndexes, buildSearch } from './check-search.ts'
import type { Fields } from './field.ts'
import { createFieldUses } from './field-uses.ts'
import { isIdentifier, toIdentifier } from './identifiers.ts'
import type { CellSettings, CollectionModel } from './model.ts'
import type { RemoteSource, SourceFunction } from './remote.ts'
import type { SettingStep, SettingsReader } from './settings-reader.ts'

const SETTINGS = [
  'files',
  'from',
  'exclude',
  'perFile',
  'records',
  'id',
  'slug',
  'value',
  'entry',
  'body',
  'trusted',
  'unknownKeys',
  'description',
  'section',
  'single',
  'unique',
  'publication',
  'parent',
  'createFrom',
  'address',
  'formerAddresses',
  'search',
  'indexes',
  'clustered',
  'backlinks',
  'order',
  'numbered',
  'locales',
  'revised',
  'cells',
  'fields',
  'derive',
  'rules',
] as const

/** Checks the settings of one collection. Gives undefined where nothing can be made of them. */
export function buildCollection(
  reader: SettingsReader,
  name: string,
  { value, locales }: { readonly value: unknown; readonly locales: readonly string[] },
): CollectionModel | undefined {
  const path = ['collections', name]
  if (!isIdentifier(name)) {
    reader.report('config-name-invalid', path, { name, suggestion: toIdentifier(name) })
    return undefined
  }
  if (typeof value !== 'object' || value === null || Array.isArray(value)) {
    return reader.invalid(path, value, 'an object of settings')
  }
  reader.known(path, value, SETTINGS)
  const settings = value as Record<string, unknown>
  const at = (key: (typeof SETTINGS)[number]): SettingStep[] => [...path, key]
  const records = reader.text(at('records'), settings.records)
  if (records !== undefined && !records.startsWith('/'))
    reader.invalid(at('records'), records, 'a JSON Pointer, which starts with "/"')
  const unknownKeys = reader.oneOf(at('unknownKeys'), settings.unknownKeys, ['refuse', 'ignore']) ?? 'refuse'
  const fields = fieldSet(reader, at('fields'), settings.fields, unknownKeys)
  const template = isTemplate(settings.address)
    ? buildAddress(reader, at('address'), settings.address, { fields, locales })
    : undefined
  const computed = buildDerived(reader, at('derive'), settings.derive, fields)
  const taken = template && [...Object.keys(fields), ...Object.keys(computed)].includes(ADDRESS_FIELD)
  if (taken) reader.report('config-field-twice', at('address'), { name: ADDRESS_FIELD })
  const derived = template ? { ...computed, [ADDRESS_FIELD]: template.field } : computed
  const uses = createFieldUses(reader, fields, fieldsOf(derived))
  const trusted = reader.flag(at('trusted'), settings.trusted) ?? true
  return {
    name,
    typeName: typeName(reader, at('entry'), name, settings.entry),
    description: reader.text(at('description'), settings.description),
    section: reader.text(at('section'), settings.section),
    files: settings.from === undefined ? globs(reader, at('files'), settings.files) : [],
    source: buildSource(reader, at('from'), settings),
    exclude: settings.exclude === undefined ? [] : globs(reader, at('exclude'), settings.exclude),
    perFile: reader.oneOf(at('perFile'), settings.perFile, ['one', 'many']) ?? defaultPerFile(records, settings.single),
    records,
    id: buildIdRule(reader, at('id'), settings.id, uses),
    slug: buildSlugRule(reader, at('slug'), settings.slug, uses),
    value: uses.written(at('value'), settings.value),
    body: buildBody(reader, at('body'), { body: settings.body, trusted }),
    trusted,
    unknownKeys,
    fields,
    derived,
    rules: buildRules(reader, at('rules'), settings.rules),
    single: reader.flag(at('single'), settings.single) ?? false,
    unique: uses.combinations(at('unique'), settings.unique),
    publication: uses.publication(at('publication'), settings.publication),
    parent: uses.parent(at('parent'), settings.parent, name),
    address: isTemplate(settings.address) ? template && ADDRESS_FIELD : uses.address(at('address'), settings.address),
    addressVariables: template?.variables ?? [],
    formerAddresses: uses.texts(at('formerAddresses'), settings.formerAddresses),
    ...buildIndexes(reader, at('indexes'), settings.indexes),
    clustered: buildClusters(reader, at('clustered'), settings.clustered),
    backlinks: reader.flag(at('backlinks'), settings.backlinks) ?? false,
    search: buildSearch(reader, at('search'), settings.search),
    createFrom: uses.createFrom(at('createFrom'), settings.createFrom),
    order: uses.order(at('order'), settings.order),
    numbered: reader.flag(at('numbered'), settings.numbered) ?? false,
    locales: reader.oneOf(at('locales'), settings.locales, ['suffix', 'folder']),
    revised: uses.moment(at('revised'), settings.revised),
    cells: buildCells(reader, at('cells'), settings.cells),
  }
}

function buildSource(
  reader: SettingsReader,
  path: SettingStep[],
  { from, files }: Record<string, unknown>,
): CollectionModel['source'] {
  if (from === undefined) return undefined
  if (files !== undefined) reader.invalid(path, from, 'nothing, since there are files')
  if (typeof from === 'function') return from as SourceFunction
  const { kind, url, timeoutMs, retries } = Object(from) as Partial<RemoteSource>
  if (kind !== 'remote') return reader.invalid(path, from, 'remote(…) or a function')
  if (typeof url !== 'string' || !/^https?:\/\/[^\s]+$/.test(url))
    return reader.invalid(path, url, 'an address that starts with http:// or https://')
  for (const [name, count] of Object.entries({ timeoutMs, retries }))
    if (count !== undefined && (!Number.isSafeInteger(count) || count < 0))
      reader.invalid([...path, name], count, 'a whole number from 0')
  return from as RemoteSource
}

/** A single entry needs a single file. */
function defaultPerFile(records: string | undefined, single: unknown): 'one' | 'many' | undefined {
  if (records !== undefined) return 'many'
  return single === true ? 'one' : undefined
}

function typeName(reader: SettingsReader, path: SettingStep[], name: string, value: unknown): string {
  const given = reader.text(path, value)
  if (given !== undefined && /^[A-Z][A-Za-z0-9_]*$/.test(given)) return given
  const made = `${name.charAt(0).toUpperCase()}${name.slice(1)}Entry`
  if (given !== undefined)
    reader.report('config-name-invalid', path, { name: given, suggestion: capital(toIdentifier(given)) })
  return made
}

const capital = (name: string): string => name.charAt(0).toUpperCase() + name.slice(1)

function globs(reader: SettingsReader, path: SettingStep[], value: unknown): string[] {
  return reader.texts(path, value).map((glob, position) => {
    const reason = whyNoGlob(glob)
    const at = typeof value === 'string' ? path : [...path, position]
    if (reason) reader.report('config-glob-invalid', at, { glob, reason })
    return glob.replace(/^\.\//, '')
  })
}

function whyNoGlob(glob: string): string | undefined {
  if (glob.trim() === '') return 'is empty'
  if (glob.startsWith('!')) return 'starts with "!": put it into exclude, without the "!"'
  if (/^(?:\/|[A-Za-z]:)/.test(glob)) return 'is absolute'
  if (glob.includes('\\')) return 'has a backslash: write folders with "/"'
  return glob.split('/').includes('..') ? 'leads out of the content folder' : undefined
}

function fieldSet(
  reader: SettingsReader,
  path: SettingStep[],
  value: unknown,
  unknownKeys: CollectionModel['unknownKeys'],
): Fields {
  if (typeof value !== 'object' || value === null || Array.isArray(value)) {
    reader.invalid(path, value, 'an object with a field under each name')
    return {}
  }
  return checkFieldSet(reader, path, value, { top: true, unknownKeys })
}

/** Cells as they are read where nothing is said. */
const USUAL_CELLS: CellSettings = {
  everywhere: false,
  delimiter: undefined,
  quote: undefined,
  listSeparator: ';',
  trim: true,
}

function buildCells(reader: SettingsReader, path: SettingStep[], value: unknown): CellSettings {
  if (value === undefined) return USUAL_CELLS
  if (value === true) return { ...USUAL_CELLS, everywhere: true }
  if (!isGroup(value)) return reader.invalid(path, value, 'true or an object of settings') ?? USUAL_CELLS
  reader.known(path, value, ['delimiter', 'quote', 'listSeparator', 'trim'])
  const { delimiter, quote, listSeparator, trim } = value
  return {
    everywhere: true,
    delimiter: reader.text([...path, 'delimiter'], delimiter),
    quote: reader.text([...path, 'quote'], quote),
    listSeparator: reader.text([...path, 'listSeparator'], listSeparator) ?? USUAL_CELLS.listSeparator,
    trim: reader.flag([...path, 'trim'], trim) ?? true,
  }
}

import type { AnyField } from '../schema/any-field.ts'
import { handleTypeOf, shapeOf, valueTypeOf } from '../schema/compile-schema.ts'
import type { Fields } from '../schema/field.ts'
import { propertyName } from '../schema/fields/group.ts'
import { alternativesOf, publicFields, queriedFields } from '../schema/fields/variant.ts'
import { blockTypes } from '../schema/identifiers.ts'
import type { TypeContext } from '../schema/kind.ts'
import { allFields, type CollectionModel, isLenient, type Model, mayDangle } from '../schema/model.ts'
import { createBlockHandles } from './block-handles.ts'
import type { DeclaredTypes } from './declared-types.ts'
import { GENERATED } from './entry-files.ts'
import { describePages } from './stored-pages.ts'

/** Above this many ids their type is plain text: an editor would choke on a longer union. */
const MAX_LISTED_IDS = 10_000

/** The ids of a collection, and whether the first language, to which all others fall back, has all of them. */
export interface CollectionIds {
  readonly ids: readonly string[]
  readonly isComplete: boolean
}

/** The type definitions of the generated module: for every collection its ids, entries and query fields. */
export function emitTypes(
  model: Model,
  { idsOf, declared }: { readonly declared: DeclaredTypes; idsOf(collection: string): CollectionIds },
): string {
  const typeNames = new Map(model.collections.map(({ name, typeName }) => [name, typeName]))
  const handles = createBlockHandles(model.blocks)
  const context: TypeContext = {
    declared: declared.of,
    idType: (collection) => `${typeNames.get(collection)}Id`,
    fieldsType: (collection) => `${typeNames.get(collection)}Fields`,
    blockType: (block) => blockTypes(block).value,
    blocksHandle: (key, names) => handles.nameOf(key, names),
    mayDangle: mayDangle(model),
    value: (field) => valueTypeOf(field, context),
    shape: (field) => shapeOf(field, model.blocks),
  }
  const collections = [...model.collections]
    .sort((a, b) => (a.name < b.name ? -1 : 1))
    .map((collection) => emitCollection(collection, idsOf(collection.name), { context, model }))
  const blocks = [...model.blocks]
    .sort(([a], [b]) => (a < b ? -1 : 1))
    .map(([name, fields]) => emitBlock(name, fields, { context, isOpen: model.blocks.open?.has(name) === true }))
  const hints = emitHints(model.hints, context)
  return `${GENERATED}import type * as $ from 'zinc-pantry/query'\n${declared.imports}\n${[...hints, ...collections, ...blocks, ...handles.emit(context), PAGES].join('\n')}`
}

/** The pages of the site, in a name that no collection can have. */
const PAGES =
  '/** All pages of the site, and the addresses that they had before. */\ndeclare const $pages: $.SitePages\nexport default $pages\n'

/** The name of the type of the hints of fields. */
const HINTS = 'PantryHints'

function emitHints(hints: Fields, context: TypeContext): string[] {
  if (Object.keys(hints).length === 0) return []
  return [
    `/** The hints of fields, defaults filled in. */\nexport interface ${HINTS} {\n${documented(hints, context).join('')}}\n`,
  ]
}

interface Emission {
  readonly context: TypeContext
  readonly model: Model
}

/** The types of the body of an entry: an entry of a file without one, or of a reference, has none. */
function bodyTypes({
  body,
  source,
  createFrom,
  files,
}: CollectionModel): { facts: string; stored: string } | undefined {
  if (!body) return undefined
  const isAlways = !source && createFrom === undefined && files.every((glob) => ALWAYS_TEXT.test(glob))
  return isAlways
    ? { facts: '$.EntryBody', stored: '$.StoredBody' }
    : { facts: '$.EntryBody | null', stored: '$.StoredBody | undefined' }
}

/** Patterns that only files with a text below their front matter match. */
const ALWAYS_TEXT = /\.(?:mdx?|\{mdx?(?:,mdx?)*\})$/

function emitCollection(
  collection: CollectionModel,
  { ids, isComplete }: CollectionIds,
  { context, model }: Emission,
): string {
  const { locales } = model
  const { name, typeName, description, single } = collection
  const body = bodyTypes(collection)
  const localized = collection.locales === undefined ? [] : [`readonly locale: ${union(locales)}`]
  const head = [
    `readonly id: ${typeName}Id`,
    'readonly slug: string',
    `readonly collection: '${name}'`,
    ...localized,
    'readonly source: $.EntrySource',
    ...(body ? [`readonly body: ${body.facts}`] : []),
  ]
  const handles = [
    '  readonly id: $.TextHandle\n  readonly slug: $.TextHandle\n',
    ...(body
      ? [`  readonly body: ${body.facts.endsWith('null') ? '$.Optional<$.BodyHandle>' : '$.BodyHandle'}\n`]
      : []),
    ...(localized.length > 0 ? [`  readonly locale: $.ChoiceHandle<${union(locales)}>\n`] : []),
    ...properties(queriedFields(allFields(collection)), (field) => handleTypeOf(field, context)),
  ]
  const orNothing = single && mayLack(collection, model) ? ' | undefined' : ''
  const found = typeName + orNothing
  const stored = body?.stored ?? 'undefined'
  const text = stored.endsWith('undefined') ? stored : stored + orNothing
  const everywhere = isComplete ? [] : [single ? `${typeName} | undefined` : 'string']
  const parameters = single
    ? [found, text, ...everywhere]
    : [typeName, `${typeName}Fields`, `${typeName}Id`, text, ...everywhere]
  const own = `$.${single ? 'Single' : 'Collection'}<${parameters.join(', ')}>`
  const { parent } = describePages(collection)
  const tree = parent === undefined ? [] : [`$.Tree<${typeName}, ${typeName}Id, ${typeName}Fields>`]
  const backlinks = collection.backlinks ? [`$.Backlinks<[${single ? '' : `id: ${typeName}Id`}]>`] : []
  const hints = Object.keys(model.hints).length === 0 ? [] : [`$.WithHints<${HINTS}>`]
  const type = (single ? [own, ...backlinks] : [...hints, own, ...tree, ...backlinks]).join(' & ')
  return [
    `export type ${typeName}Id =${idUnion(ids)}\n`,
    emitEntry(collection, head.map((line) => `  ${line}\n`).join(''), context),
    `export interface ${typeName}Fields {\n${handles.join('')}}\n`,
    `${comment(description, '')}export const ${name}: ${type}\n`,
  ].join('\n')
}

/** True where a collection of exactly one entry may have none that is to be seen. */
const mayLack = ({ publication }: CollectionModel, { severities }: Model): boolean =>
  publication !== undefined || isLenient(severities, 'single-missing')

/** One interface, or one a variant and their union. */
function emitEntry(collection: CollectionModel, head: string, context: TypeContext): string {
  const { typeName, description } = collection
  const { alternatives } = alternativesOf(publicFields(allFields(collection)))
  const names = shapeNames(alternatives.map(({ name }) => name))
  const types = alternatives.map(({ fields }, at) => {
    const own = `${typeName}${names[at]}`
    const body = documented(publicFields(fields), context).join('')
    return { own, text: `${comment(description, '')}export interface ${own} {\n${head}${body}}\n` }
  })
  const texts = types.map(({ text }) => text)
  if (types.length === 1) return texts.join('')
  return [...texts, `export type ${typeName} = ${types.map(({ own }) => own).join(' | ')}\n`].join('\n')
}

/** The suffix of the type name of each shape of an entry: the shape's own name where that tells them apart. */
function shapeNames(names: readonly (string | undefined)[]): readonly string[] {
  if (names.length === 1 && names[0] === undefined) return ['']
  const own = names.map((name = '') => pascal(name))
  const areApart = new Set(own).size === own.length && own.every((name) => /^\w+$/.test(name))
  return areApart ? own : own.map((_, at) => `Shape${at + 1}`)
}

const pascal = (name: string): string =>
  name.replace(/(?:^|(?<![^A-Za-z0-9])[^A-Za-z0-9]+)([A-Za-z0-9])/g, (_, letter: string) => letter.toUpperCase())

function emitBlock(
  name: string,
  fields: Fields,
  { context, isOpen }: { readonly context: TypeContext; readonly isOpen: boolean },
): string {
  const types = blockTypes(name)
  const { alternatives } = alternativesOf(publicFields(fields))
  const shapes = alternatives.map(
    ({ fields: own }) =>
      `{\n${documented(publicFields(own), context).join('')}${isOpen ? '  readonly [property: string]: unknown\n' : ''}}`,
  )
  return [
    `export type ${types.value} = ${shapes.join(' | ')}\n`,
    `/** What a component for the block ${name} is given. */\nexport type ${types.properties}<Children = unknown> = ${types.value} & { readonly children?: Children }\n`,
  ].join('\n')
}

const documented = (fields: Fields, context: TypeContext): string[] =>
  Object.entries(fields).map(
    ([key, field]) => `${fieldComment(field)}  readonly ${propertyName(key)}: ${valueTypeOf(field, context)}\n`,
  )

const properties = (fields: Fields, typeOf: (field: AnyField) => string): string[] =>
  Object.entries(fields).map(([key, field]) => `  readonly ${propertyName(key)}: ${typeOf(field)}\n`)

const union = (words: readonly string[]): string => words.map((word) => JSON.stringify(word)).join(' | ') || 'string'

function idUnion(ids: readonly string[]): string {
  if (ids.length === 0 || ids.length > MAX_LISTED_IDS) return ' string'
  const literals = [...new Set(ids)].sort().map((id) => JSON.stringify(id))
  const line = literals.join(' | ')
  return line.length <= 80 ? ` ${line}` : literals.map((literal) => `\n  | ${literal}`).join('')
}

function fieldComment({ options }: AnyField): string {
  const text = [options.description, options.deprecated ? '@deprecated' : undefined].filter(Boolean).join(' ')
  return comment(text, '  ')
}

function comment(text: string | undefined, indent: string): string {
  if (!text) return ''
  const safe = text.replaceAll('*/', '*\\/').replace(/(?<!\s)\s*\n\s*/g, ' ')
  return `${indent}/** ${safe} */\n`
}

import { handleTypeOf, shapeOf, valueTypeOf } from '../schema/compile-schema.ts'
import type { Field, Fields, TypeContext } from '../schema/field.ts'
import { propertyName } from '../schema/fields/group.ts'
import { alternativesOf, queriedFields } from '../schema/fields/variant.ts'
import { blockTypes } from '../schema/identifiers.ts'
import { allFields, type CollectionModel, type Model } from '../schema/model.ts'
import { GENERATED } from './heads.ts'
import { publicFields } from './stored-entry.ts'

/** Above this many ids their type is plain text: an editor would choke on a longer union. */
const MAX_LISTED_IDS = 10_000

/** The type definitions of the generated module: for every collection its ids, entries and query fields. */
export function emitTypes(model: Model, idsOf: (collection: string) => readonly string[]): string {
  const typeNames = new Map(model.collections.map(({ name, typeName }) => [name, typeName]))
  const context: TypeContext = {
    idType: (collection) => `${typeNames.get(collection)}Id`,
    fieldsType: (collection) => `${typeNames.get(collection)}Fields`,
    blockType: (block) => blockTypes(block)[0],
    value: (field) => valueTypeOf(field, context),
    shape: (field) => shapeOf(field, model.blocks),
  }
  const collections = [...model.collections]
    .sort((a, b) => (a.name < b.name ? -1 : 1))
    .map((collection) => emitCollection(collection, idsOf(collection.name), { context, locales: model.locales }))
  const blocks = [...model.blocks]
    .sort(([a], [b]) => (a < b ? -1 : 1))
    .map(([name, fields]) => emitBlock(name, fields, context))
  return `${GENERATED}import type * as $ from 'zinc-pantry/query'\n\n${[...collections, ...blocks].join('\n')}`
}

interface Emission {
  readonly context: TypeContext
  readonly locales: readonly string[]
}

function emitCollection(collection: CollectionModel, ids: readonly string[], { context, locales }: Emission): string {
  const { name, typeName, description, body, single } = collection
  const localized = collection.locales === undefined ? [] : [`readonly locale: ${union(locales)}`]
  const head = [
    `readonly id: ${typeName}Id`,
    'readonly slug: string',
    `readonly collection: '${name}'`,
    ...localized,
    'readonly source: $.EntrySource',
    ...(body ? ['readonly body: $.EntryBody'] : []),
  ]
  const handles = [
    '  readonly id: $.TextHandle\n  readonly slug: $.TextHandle\n',
    ...(body ? ['  readonly body: $.BodyHandle\n'] : []),
    ...(localized.length > 0 ? [`  readonly locale: $.ChoiceHandle<${union(locales)}>\n`] : []),
    ...properties(queriedFields(allFields(collection)), (field) => handleTypeOf(field, context)),
  ]
  const type = single ? `$.Single<${typeName}>` : `$.Collection<${typeName}, ${typeName}Fields, ${typeName}Id>`
  return [
    `export type ${typeName}Id =${idUnion(ids)}\n`,
    emitEntry(collection, head.map((line) => `  ${line}\n`).join(''), context),
    `export interface ${typeName}Fields {\n${handles.join('')}}\n`,
    `${comment(description, '')}export const ${name}: ${type}\n`,
  ].join('\n')
}

/** One interface, or one a variant and their union. */
function emitEntry(collection: CollectionModel, head: string, context: TypeContext): string {
  const { typeName, description } = collection
  const { alternatives } = alternativesOf(publicFields(allFields(collection)))
  const types = alternatives.map(({ name, fields }) => {
    const own = name === undefined ? typeName : `${typeName}${pascal(name)}`
    const body = documented(publicFields(fields), context).join('')
    return { own, text: `${comment(description, '')}export interface ${own} {\n${head}${body}}\n` }
  })
  const texts = types.map(({ text }) => text)
  if (types.length === 1) return texts.join('')
  return [...texts, `export type ${typeName} = ${types.map(({ own }) => own).join(' | ')}\n`].join('\n')
}

const pascal = (name: string): string =>
  name.replace(/(?:^|[^A-Za-z0-9]+)([A-Za-z0-9])/g, (_, letter: string) => letter.toUpperCase())

function emitBlock(name: string, fields: Fields, context: TypeContext): string {
  const [type, fieldsType, propertiesType] = blockTypes(name)
  const { alternatives } = alternativesOf(publicFields(fields))
  const shapes = alternatives.map(({ fields: own }) => `{\n${documented(publicFields(own), context).join('')}}`)
  const handles = properties(queriedFields(fields), (field) => handleTypeOf(field, context))
  return [
    `export type ${type} = ${shapes.join(' | ')}\n`,
    `/** What a component for the block ${name} is given. */\nexport type ${propertiesType}<Children = unknown> = ${type} & { readonly children?: Children }\n`,
    `export interface ${fieldsType} {\n${handles.join('')}}\n`,
  ].join('\n')
}

const documented = (fields: Fields, context: TypeContext): string[] =>
  Object.entries(fields).map(
    ([key, field]) => `${fieldComment(field)}  readonly ${propertyName(key)}: ${valueTypeOf(field, context)}\n`,
  )

const properties = (fields: Fields, typeOf: (field: Field) => string): string[] =>
  Object.entries(fields).map(([key, field]) => `  readonly ${propertyName(key)}: ${typeOf(field)}\n`)

const union = (words: readonly string[]): string => words.map((word) => JSON.stringify(word)).join(' | ') || 'string'

function idUnion(ids: readonly string[]): string {
  if (ids.length === 0 || ids.length > MAX_LISTED_IDS) return ' string'
  const literals = [...new Set(ids)].sort().map((id) => JSON.stringify(id))
  const line = literals.join(' | ')
  return line.length <= 80 ? ` ${line}` : literals.map((literal) => `\n  | ${literal}`).join('')
}

function fieldComment({ options }: Field): string {
  const text = [options.description, options.deprecated ? '@deprecated' : undefined].filter(Boolean).join(' ')
  return comment(text, '  ')
}

function comment(text: string | undefined, indent: string): string {
  if (!text) return ''
  const safe = text.replaceAll('*/', '*\\/').replace(/\s*\n\s*/g, ' ')
  return `${indent}/** ${safe} */\n`
}

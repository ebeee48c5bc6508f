import type { AnyField } from './any-field.ts'
import { ITEM_ID_KEY } from './compile-schema.ts'
import type { Fields } from './field.ts'
import { OFF_KEY } from './fields/block.ts'
import { alternativesOf } from './fields/variant.ts'
import { defined, type JsonSchema } from './json-schema.ts'
import type { SchemaContext, UnknownKeys } from './kind.ts'
import { kindOf } from './kinds.ts'
import type { CollectionModel, Model } from './model.ts'
import { idKeysOf, slugKeyOf } from './naming-rule.ts'
import { pointerSteps } from './pointer.ts'
import { isRest, writtenKey } from './written-key.ts'

const DIALECT = 'https://json-schema.org/draft/2020-12/schema'

/** Files that nothing holds against a JSON Schema. */
const TABLES = /\.(?:csv|tsv|tab|jsonl|ndjson)$/

/** The shapes that the files of a collection have: of one entry, of many, or some of each. */
export function shapesOf({ files, perFile }: CollectionModel): { readonly one: boolean; readonly many: boolean } {
  const patterns = files.filter((pattern) => !TABLES.test(pattern))
  const isOne = (pattern: string): boolean => (perFile ?? (/[*?[{]/.test(pattern) ? 'one' : 'many')) === 'one'
  return { one: patterns.some(isOne), many: !patterns.every(isOne) }
}

/** The JSON Schema 2020-12 of a file with many entries of a collection: a list of them, or a map. */
export function exportManySchema(collection: CollectionModel, entry: JsonSchema): JsonSchema {
  const { $schema, $defs = {}, ...own } = entry as { readonly $schema: string; readonly $defs?: object } & JsonSchema
  const item = { $ref: '#/$defs/entry' }
  const many: JsonSchema = {
    anyOf: [
      { type: 'array', items: item },
      { type: 'object', properties: { $schema: { type: 'string' } }, additionalProperties: item },
    ],
  }
  const steps = pointerSteps(collection.records ?? '')
  const whole = steps.reduceRight<JsonSchema>(
    (inner, step) => ({ type: 'object', properties: { [step]: inner }, required: [step] }),
    many,
  )
  return { $schema, title: `${collection.typeName}, many`, ...whole, $defs: { ...$defs, entry: own } }
}

/**
 * The JSON Schema 2020-12 of one entry of a collection, as it is written in a file, for editors and other
 * tools. What it cannot say is left to our own check: whether references and files are there, uniqueness, rules,
 * limits of dates and times.
 */
export function exportJsonSchema(
  collection: CollectionModel,
  model: Model,
  entries?: SchemaContext['entries'],
): JsonSchema {
  const definitions = new Map<string, JsonSchema>()
  const context = createContext(collection.unknownKeys, { model, entries }, definitions)
  const isItem = shapesOf(collection).many && collection.id.by === 'name'
  const keys = [...idKeysOf(collection), slugKeyOf(collection), isItem ? ITEM_ID_KEY : undefined, '$schema']
  const others = Object.fromEntries(keys.flatMap((key) => (key === undefined ? [] : [[key, {}]])))
  const entry = context.group(collection.fields, collection.unknownKeys, others)
  return {
    $schema: DIALECT,
    title: collection.typeName,
    ...defined({ description: collection.description }),
    ...entry,
    ...(definitions.size > 0 ? { $defs: Object.fromEntries(definitions) } : {}),
  }
}

interface Site {
  readonly model: Model
  readonly entries: SchemaContext['entries'] | undefined
}

function createContext(unknownKeys: UnknownKeys, site: Site, definitions: Map<string, JsonSchema>): SchemaContext {
  const { model, entries } = site
  const context: SchemaContext = {
    unknownKeys,
    ...(entries ? { entries } : {}),
    isOpen: (name) => model.collections.some((one) => one.name === name && one.createFrom !== undefined),
    inner: (field) => fieldSchema(field, context),
    group(fields, keys, others = {}) {
      const inside = keys === unknownKeys ? context : createContext(keys, site, definitions)
      const shapes = alternativesOf(fields).alternatives.map(({ fields: own }) =>
        shapeSchema(own, { keys, others, inside }),
      )
      return shapes.length === 1 ? (shapes[0] as JsonSchema) : { type: 'object', anyOf: shapes }
    },
    block(name, key) {
      const definition = `${name}-${key}-${unknownKeys}`
      if (!definitions.has(definition)) {
        // Entered first, since a block may hold itself.
        definitions.set(definition, {})
        const constants = { [key]: { const: name }, [OFF_KEY]: { type: ['boolean', 'null'] } }
        const isOpen = model.blocks.open?.has(name) === true
        const schema = context.group(model.blocks.get(name) ?? {}, isOpen ? 'ignore' : unknownKeys, constants)
        definitions.set(definition, requireKey(schema, key))
      }
      return { $ref: `#/$defs/${definition}` }
    },
  }
  return context
}

const requireKey = (schema: JsonSchema, key: string): JsonSchema => ({
  ...schema,
  required: [...((schema.required ?? []) as string[]), key],
})

function shapeSchema(
  fields: Fields,
  { keys, others, inside }: { keys: UnknownKeys; others: JsonSchema; inside: SchemaContext },
): JsonSchema {
  const written = Object.entries(fields).filter(([, field]) => !kindOf(field).computed)
  const required = written
    .filter(([, field]) => !field.options.optional && field.options.default === undefined && !isRest(field))
    .map(([name, field]) => writtenKey(name, field))
  const properties = {
    ...others,
    ...Object.fromEntries(
      written
        .filter(([, field]) => !isRest(field))
        .map(([name, field]) => [writtenKey(name, field), fieldSchema(field, inside)]),
    ),
  }
  const computed = Object.entries(fields).filter(([, field]) => kindOf(field).computed)
  const rest = written.map(([, field]) => field).find(isRest)
  return {
    type: 'object',
    properties: { ...properties, ...Object.fromEntries(computed.map(([name]) => [name, false])) },
    ...(required.length > 0 ? { required } : {}),
    ...(rest
      ? { additionalProperties: inside.inner(rest.item) }
      : keys === 'refuse'
        ? { additionalProperties: false }
        : {}),
  }
}

/** The schema of a value, with what it says to people. A field that may lack a value takes null. */
function fieldSchema(field: AnyField, context: SchemaContext): JsonSchema {
  const { label, description, examples, deprecated, default: value, optional, hints, section } = field.options
  const notes = defined({
    title: label,
    description,
    examples,
    deprecated: deprecated || undefined,
    default: value,
    hints,
    section,
  })
  const schema = kindOf(field).jsonSchema(field, context)
  if (optional || value !== undefined) return { ...notes, anyOf: [schema, { type: 'null' }] }
  const isOpen = field.kind === 'anything' || field.kind === 'validator'
  return { ...schema, ...(isOpen ? { not: { type: 'null' } } : {}), ...notes }
}

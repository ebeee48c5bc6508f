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
import { isRest, writtenKey } from './written-key.ts'

const DIALECT = 'https://json-schema.org/draft/2020-12/schema'

/**
 * The JSON Schema 2020-12 of one entry of a collection, as it is written in a file, for editors and other
 * tools. What it cannot say is left to our own check: whether references and files are there, uniqueness, rules,
 * limits of dates and times.
 */
export function exportJsonSchema(collection: CollectionModel, model: Model): JsonSchema {
  const definitions = new Map<string, JsonSchema>()
  const context = createContext(collection.unknownKeys, model, definitions)
  const isItem = collection.perFile === 'many' && collection.id.by === 'name'
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

function createContext(unknownKeys: UnknownKeys, model: Model, definitions: Map<string, JsonSchema>): SchemaContext {
  const context: SchemaContext = {
    unknownKeys,
    inner: (field) => fieldSchema(field, context),
    group(fields, keys, others = {}) {
      const inside = keys === unknownKeys ? context : createContext(keys, model, definitions)
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

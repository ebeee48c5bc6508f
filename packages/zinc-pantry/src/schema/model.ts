import type { Field, FieldSet, UnknownKeys } from './field.ts'

/** A collection with all its settings filled in. */
export interface CollectionModel {
  readonly name: string
  /** The name of the generated type of an entry. */
  readonly typeName: string
  readonly description: string | undefined
  readonly files: readonly string[]
  readonly exclude: readonly string[]
  /** Undefined where each file decides by how it was named. */
  readonly perFile: 'one' | 'many' | undefined
  readonly records: string | undefined
  readonly idKey: string | undefined
  readonly slugKey: string | undefined
  readonly body: boolean
  readonly unknownKeys: UnknownKeys
  readonly fields: FieldSet
}

/** A site's configuration, normalised: what every later stage reads. */
export interface Model {
  readonly content: string
  readonly output: string
  /** In the order of the configuration. */
  readonly collections: readonly CollectionModel[]
}

/** Names an entry has from the engine, which no field may take. */
export const HEAD_NAMES: readonly string[] = ['id', 'slug', 'collection', 'locale', 'source', 'body']

/** Calls a function for a field and every field in it, with its path below the collection's fields. */
export function visitFields(
  fields: FieldSet,
  visit: (field: Field, path: readonly string[]) => void,
  path: readonly string[] = [],
): void {
  for (const [name, field] of Object.entries(fields)) visitField(field, visit, [...path, name])
}

function visitField(
  field: Field,
  visit: (field: Field, path: readonly string[]) => void,
  path: readonly string[],
): void {
  visit(field, path)
  if (field.item?.options) visitField(field.item, visit, [...path, 'item'])
  if (field.fields) visitFields(field.fields, visit, path)
}

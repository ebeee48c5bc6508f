import type { Check, Compiler, Field, Shape, TypeContext, UnknownKeys } from './field.ts'
import { compileFields, type KeyRules } from './fields/group.ts'
import { kindOf } from './kinds.ts'
import type { CollectionModel } from './model.ts'

/** The check of one field and all that is in it. */
export function compileField(field: Field, unknownKeys: UnknownKeys): Check {
  return createCompiler(unknownKeys).check(field)
}

/** The check of an entry of a collection. */
export function compileCollection(collection: CollectionModel): Check {
  const { unknownKeys, idKey, slugKey } = collection
  const otherKeys = [idKey, slugKey, '$schema'].filter((key) => key !== undefined)
  const rules: KeyRules = { unknownKeys, otherKeys }
  return compileFields(collection.fields, rules, createCompiler(unknownKeys))
}

function createCompiler(unknownKeys: UnknownKeys): Compiler {
  const compiler: Compiler = {
    unknownKeys,
    // Groups pass a compiler of their own on, with what they say of unknown keys.
    check(field) {
      return kindOf(field).compile(field, this)
    },
    expected: (field) => kindOf(field).expected(field),
  }
  return compiler
}

/** What queries can do with a field. */
export const shapeOf = (field: Field): Shape => kindOf(field).shape(field, shapeOf)

/** The TypeScript of a field's value, `null` included where it is optional. */
export function valueTypeOf(field: Field, context: TypeContext): string {
  const type = kindOf(field).valueType(field, context, (inner) => valueTypeOf(inner, context))
  return field.options.optional === true ? `${type} | null` : type
}

/** The TypeScript of a field's query handle. */
export const handleTypeOf = (field: Field, context: TypeContext): string =>
  kindOf(field).handleType(field, context, (inner) => handleTypeOf(inner, context))

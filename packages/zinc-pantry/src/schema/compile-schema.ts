import type { AnyField } from './any-field.ts'
import type { Check } from './check-run.ts'
import type { Fields } from './field.ts'
import { compileFields } from './fields/group.ts'
import type { BlockFields, Compiler, TypeContext, UnknownKeys } from './kind.ts'
import { kindOf } from './kinds.ts'
import type { FileSettings } from './model.ts'
import { idKeysOf, slugKeyOf } from './naming-rule.ts'
import type { Shape } from './shape.ts'

/** The check of one field and all that is in it. */
export function compileField(field: AnyField, unknownKeys: UnknownKeys, blocks: BlockFields = new Map()): Check {
  return createCompiler(unknownKeys, blocks).check(field)
}

/** The check of a set of fields that stand by themselves, each under its name. */
export const compileGroup = (
  fields: Fields,
  { unknownKeys, blocks }: { readonly unknownKeys: UnknownKeys; readonly blocks: BlockFields },
): Check => compileFields(fields, { unknownKeys: 'refuse', otherKeys: [] }, createCompiler(unknownKeys, blocks))

/** The checks of the entries of a collection. */
export interface EntryChecks {
  /** For an entry that its file or its key in a map names. */
  readonly named: Check
  /** For an item of a list, which names itself. */
  readonly item: Check
  /** For blocks that are used in bodies. */
  readonly blocks: ReadonlyMap<string, { readonly fields: Fields; readonly check: Check }>
  /** True where bodies may use components that are no blocks of the site. */
  readonly takesAny: boolean
}

/** The key that gives the id of an item of a list, where the collection does not say. */
export const ITEM_ID_KEY = 'id'

/** The checks of the entries of a collection. */
export function compileCollection(collection: FileSettings, blocks: BlockFields): EntryChecks {
  const { fields, derived, unknownKeys } = collection
  const keys = idKeysOf(collection)
  const computed = new Set(Object.keys(derived))
  const compile = (idKeys: readonly string[]): Check => {
    const otherKeys = [...idKeys, slugKeyOf(collection), '$schema'].filter((name) => name !== undefined)
    return compileFields(fields, { unknownKeys, otherKeys, computed }, createCompiler(unknownKeys, blocks))
  }
  const named = compile(keys)
  return {
    named,
    item: collection.id.by === 'name' ? compile([ITEM_ID_KEY]) : named,
    blocks: compileBlocks(blocks),
    takesAny: collection.body?.components === 'any',
  }
}

function compileBlocks(blocks: BlockFields): EntryChecks['blocks'] {
  return new Map(
    [...blocks].map(([name, fields]) => {
      const rules = { unknownKeys: blocks.open?.has(name) ? 'keep' : 'refuse', otherKeys: [] } as const
      const check = compileFields(fields, rules, createCompiler('refuse', blocks))
      return [name, { fields, check }]
    }),
  )
}

function createCompiler(unknownKeys: UnknownKeys, blocks: BlockFields): Compiler {
  const compiler: Compiler = {
    unknownKeys,
    blocks,
    // Groups pass a compiler of their own on, with what they say of unknown keys.
    check(field) {
      return kindOf(field).compile(field, this)
    },
    expected: (field) => kindOf(field).expected(field, compiler.expected),
    isComputed: (field) => kindOf(field).computed === true,
  }
  return compiler
}

/** The shape of a field in queries. */
export function shapeOf(field: AnyField, blocks: BlockFields): Shape {
  return kindOf(field).shape(field, (inner, within = blocks) => shapeOf(inner, within), blocks)
}

/** The TypeScript of a field's value, `null` included where it is optional. */
export function valueTypeOf(field: AnyField, context: TypeContext): string {
  const type = kindOf(field).valueType(field, context, (inner) => valueTypeOf(inner, context))
  return field.options.optional === true ? `${type} | null` : type
}

/** The TypeScript of a field's query handle. */
export function handleTypeOf(field: AnyField, context: TypeContext): string {
  const type = kindOf(field).handleType(field, context, (inner) => handleTypeOf(inner, context))
  return field.options.optional === true ? `$.Optional<${type}>` : type
}

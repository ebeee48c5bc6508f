import type { AnyField } from '../schema/any-field.ts'
import type { Fields } from '../schema/field.ts'
import { alternativesOf } from '../schema/fields/variant.ts'
import { childrenOf } from '../schema/kinds.ts'
import { allFields, type Model } from '../schema/model.ts'

/** The types of values that only the configuration itself knows, and what they are imported from. */
export interface DeclaredTypes {
  /** The lines that import what the types are made of; empty where there are none. */
  readonly imports: string
  /** The TypeScript of the value of a field; undefined where it is not one of those. */
  of(field: AnyField): string | undefined
}

/**
 * Finds the types of what validators of other libraries give. `from` is the configuration as the generated types import it;
 * undefined where it has no types.
 */
export function findDeclaredTypes(model: Model, from: string | undefined): DeclaredTypes {
  const found = new Map<AnyField, string>()
  const visit = (field: AnyField, type: string): void => {
    if (field.kind === 'validator') found.set(field, `NonNullable<${type}>`)
    const { item, fields, alternatives = [] } = childrenOf(field)
    if (item) visit(item, `$.Part<${type}, ${field.kind === 'list' ? 'number' : 'string'}>`)
    for (const one of alternatives) visit(one, type)
    if (fields) visitAll(fields, type)
  }
  const visitAll = (fields: Fields, type: string): void => {
    for (const { fields: own } of alternativesOf(fields).alternatives)
      for (const [name, field] of Object.entries(own)) visit(field, `$.Part<${type}, ${JSON.stringify(name)}>`)
  }
  if (from !== undefined) {
    for (const [name, fields] of model.blocks)
      visitAll(fields, `BlockOf<typeof configuration, ${JSON.stringify(name)}>`)
    for (const collection of model.collections)
      visitAll(allFields(collection), `EntryOf<typeof configuration, ${JSON.stringify(collection.name)}>`)
  }
  const imports =
    found.size === 0
      ? ''
      : `import type { BlockOf, EntryOf } from 'zinc-pantry'\nimport type configuration from ${JSON.stringify(from)}\n`
  return { imports, of: (field) => found.get(field) }
}

/** The configuration as a module in a folder imports it: by the name that it has once it is compiled. */
export function configurationImport(file: string, folder: string): string | undefined {
  const [, stem, ending] = /^(.*)\.(m?)ts$/.exec(file) ?? []
  if (stem === undefined) return undefined
  const up = folder.split('/').map(() => '..')
  return `${up.join('/')}/${stem}.${ending}js`
}

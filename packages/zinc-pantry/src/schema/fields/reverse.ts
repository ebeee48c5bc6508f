import { type CommonOptions, type Field, type Kind, storeAsIs } from '../field.ts'

/** A field of {@link reverse}. */
export interface ReverseField<Value, Target extends string> extends Field<Value, Target> {
  readonly kind: 'reverse'
}

/**
 * The other end of a reference: the ids of the entries that refer to this one, in the order of their
 * collection. It is computed and never written. `through` is the path of the reference in that
 * collection, with dots through groups and lists: `legs.hut`.
 *
 * Diagnostics: `field-computed`, `config-reverse-unknown`.
 *
 * @example
 * ```ts
 * import { reverse } from 'zinc-pantry'
 *
 * const trails = reverse('trails', 'legs.hut')
 * ```
 */
export function reverse<const Target extends string>(
  target: Target,
  through: string,
  options: CommonOptions = {},
): ReverseField<readonly string[], Target> {
  return { kind: 'reverse', targets: [target], through, options }
}

const targetOf = (field: Field): string => field.targets?.[0] ?? ''

export const reverseKind: Kind = {
  computed: true,
  expected: (field) => `entries of ${targetOf(field)}`,
  options: {},
  compile: () => (value) => value,
  shape: (field) => ({ kind: 'list', item: { kind: 'ref', target: targetOf(field) } }),
  store: storeAsIs,
  valueType: (field, context) => `readonly ${context.idType(targetOf(field))}[]`,
  handleType(field, context) {
    const target = targetOf(field)
    const id = context.idType(target)
    return `$.ListHandle<$.RefHandle<${id}> & ${context.fieldsType(target)}> & $.HasValues<${id}>`
  },
  jsonSchema: () => ({}),
}

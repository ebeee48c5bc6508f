import type { CommonOptions, Field } from '../field.ts'
import { type Kind, storeAsIs } from '../kind.ts'

/** A field of {@link reverse}. */
export interface ReverseField<Value = unknown, Target extends string = string> extends Field<Value, Target> {
  readonly kind: 'reverse'
  readonly targets: readonly [string]
  /** The dotted path, in the target's fields, of the reference that is read backwards. */
  readonly through: string
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

const targetOf = ({ targets: [target] }: ReverseField): string => target

export const reverseKind: Kind<ReverseField> = {
  computed: true,
  expected: (field) => `entries of ${targetOf(field)}`,
  options: {},
  compile: () => (value) => value,
  leading: ({ targets, through }) => ({ targets, through }),
  checkDeclaration({ targets: [target] }, reader, path) {
    if (typeof target !== 'string') reader.invalid(path, target, 'the name of a collection')
  },
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

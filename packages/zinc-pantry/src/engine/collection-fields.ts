import { ADDRESS_FIELD } from '../schema/address-template.ts'
import type { AnyField } from '../schema/any-field.ts'
import type { BlockFields } from '../schema/kind.ts'
import { leadingOf } from '../schema/kinds.ts'
import { allFields, type CollectionModel, visitFields } from '../schema/model.ts'

/** True for a collection whose rules or derived fields are functions of the configuration, which may look at anything. */
export const hasFunctions = ({ rules, derived, addressVariables }: CollectionModel): boolean =>
  rules.length > 0 || Object.keys(derived).some((field) => field !== ADDRESS_FIELD || addressVariables.length === 0)

/** The fields of a collection, at any depth. */
export interface FieldsDescription {
  readonly kinds: ReadonlySet<AnyField['kind']>
  /** Collections that its fields refer to. */
  readonly targets: readonly string[]
  /** Collections that its fields read backwards. */
  readonly reversed: readonly string[]
}

/** Describes the fields of a collection: their kinds, and the collections that they lead to. */
export function describeFields(collection: CollectionModel): FieldsDescription {
  const kinds = new Set<AnyField['kind']>()
  const targets = new Set<string>()
  const reversed = new Set<string>()
  visitFields(allFields(collection), (field) => {
    kinds.add(field.kind)
    const { targets: own = [], through } = leadingOf(field) ?? {}
    for (const target of own) (through === undefined ? targets : reversed).add(target)
  })
  return { kinds, targets: [...targets], reversed: [...reversed] }
}

/** The ids, slugs and fields that references of a site are compared with, by the names of the collections that have them. */
export function findCompared(
  collections: readonly CollectionModel[],
  blocks: BlockFields,
): ReadonlyMap<string, ReadonlySet<string>> {
  const compared = new Map<string, Set<string>>()
  const note = (field: AnyField): void => {
    const { targets, by = 'id' } = leadingOf(field) ?? {}
    for (const name of targets ?? []) compared.set(name, (compared.get(name) ?? new Set()).add(by))
  }
  for (const collection of collections) visitFields(allFields(collection), note)
  for (const fields of blocks.values()) visitFields(fields, note)
  return compared
}

import type { AnyField } from '../schema/any-field.ts'
import type { Fields } from '../schema/field.ts'
import { mergedFields } from '../schema/fields/variant.ts'
import { childrenOf, leadingOf } from '../schema/kinds.ts'
import { allFields, type Model } from '../schema/model.ts'
import { isRest } from '../schema/written-key.ts'
import { KEYS_STEP } from '../values/steps.ts'

/** What has fields: `collections.huts` or `blocks.callout`. */
export type Owner = string

/**
 * What has a name in a model, as one text: an {@link Owner}, a field of it (`collections.huts.fields.water.source`), or a value of a
 * choice (`collections.trails.fields.grade=hard`).
 */
export type ModelSymbol = string

export const collectionSymbol = (name: string): ModelSymbol => `collections.${name}`
export const blockSymbol = (name: string): ModelSymbol => `blocks.${name}`
export const fieldSymbol = (owner: Owner, names: readonly string[]): ModelSymbol => `${owner}.fields.${names.join('.')}`
export const choiceSymbol = (field: ModelSymbol, value: string): ModelSymbol => `${field}=${value}`

/** A symbol as people write it: `huts.water.source`, `trails.grade.hard`. */
export const wordsOf = (symbol: ModelSymbol): string =>
  symbol
    .replace(/^(?:collections|blocks)\./, '')
    .replace('.fields.', '.')
    .replace('=', '.')

/** Fields that stand beside each other, and where. */
export interface FieldLevel {
  readonly owner: Owner
  /** The names of the fields around them, from the owner inwards. */
  readonly names: readonly string[]
  readonly fields: Fields
}

/** The fields of a collection, computed ones included. */
export function collectionLevel(model: Model, name: string): FieldLevel | undefined {
  const collection = model.collections.find((one) => one.name === name)
  return collection && { owner: collectionSymbol(name), names: [], fields: allFields(collection) }
}

/** The fields of a block. */
export function blockLevel({ blocks }: Model, name: string): FieldLevel | undefined {
  const fields = blocks.get(name)
  return fields && { owner: blockSymbol(name), names: [], fields }
}

/** The fields of what a symbol of a collection or a block stands for. */
const ownerLevel = (model: Model, owner: Owner): FieldLevel | undefined =>
  owner.startsWith('blocks.')
    ? blockLevel(model, owner.slice('blocks.'.length))
    : collectionLevel(model, owner.slice('collections.'.length))

/** A field, and what it is called. */
export interface NamedField extends Pick<FieldLevel, 'owner' | 'names'> {
  readonly field: AnyField
}

/** The fields inside of a field: of a group, of blocks, and behind references; lists and maps are entered in silence. */
function levelsInside({ owner, names, field }: NamedField, model: Model): readonly FieldLevel[] {
  const { item, fields, blocks, alternatives = [] } = childrenOf(field)
  if (item) return levelsInside({ owner, names, field: item }, model)
  if (fields) return [{ owner, names, fields }]
  if (blocks) return blocks.names.flatMap((name) => blockLevel(model, name) ?? [])
  const targets = leadingOf(field)?.targets ?? []
  return [
    ...alternatives.flatMap((one) => levelsInside({ owner, names, field: one }, model)),
    ...targets.flatMap((name) => collectionLevel(model, name) ?? []),
  ]
}

/** A step of a dotted path, and the fields that it names. */
export interface NamedStep {
  readonly fields: readonly NamedField[]
  /** Where the name stands in the path. */
  readonly start: number
  readonly end: number
}

/** Follows a dotted path of fields, through references too, as far as there are such fields. */
export function followNames(model: Model, level: FieldLevel | undefined, path: string): readonly NamedStep[] {
  let levels: readonly FieldLevel[] = level ? [level] : []
  let start = 0
  return path.split('.').map((name) => {
    const end = start + name.length
    const fields =
      name === KEYS_STEP
        ? []
        : levels.flatMap((one): NamedField[] => {
            const field = fieldNamed(one.fields, name)
            return field ? [{ owner: one.owner, names: [...one.names, name], field }] : []
          })
    levels = fields.flatMap((one) => levelsInside(one, model))
    const step = { fields, start, end }
    start = end + 1
    return step
  })
}

/** A field by its name, whatever the shape of a variant that has it. */
export function fieldNamed(fields: Fields, name: string): AnyField | undefined {
  const merged = mergedFields(fields)
  const field = Object.hasOwn(merged, name) ? merged[name] : undefined
  return field && !isRest(field) ? field : undefined
}

/** The field at a dotted path of an owner, never through references. */
export function fieldOf(model: Model, owner: Owner, names: readonly string[]): NamedField | undefined {
  const fields = followNames(model, ownerLevel(model, owner), names.join('.')).at(-1)?.fields ?? []
  return fields.find((one) => one.owner === owner && one.names.length === names.length)
}

/** The words that the value of a field is one of, with what is in lists and maps, keys included. */
export function choicesOf(field: AnyField): readonly string[] {
  const { item, keys, alternatives = [], variants } = childrenOf(field)
  if (item) return [...(keys ? choicesOf(keys) : []), ...choicesOf(item)]
  if (field.kind === 'choice') return field.choices
  return variants ? Object.keys(variants) : alternatives.flatMap(choicesOf)
}

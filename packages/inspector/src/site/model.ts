import type { CollectionView, FieldModel, ModelView } from 'zinc-pantry/inspect'
import { useCall } from './use-call.ts'

/** The model of the site, once it is known. */
export const useModel = (): ModelView | undefined => useCall('model', {}).answer

export const collectionOf = (model: ModelView | undefined, name: string): CollectionView | undefined =>
  model?.collections.find((one) => one.name === name)

/** What a field is about: that of a list is what its items are. */
export const itemOf = (field: FieldModel): FieldModel =>
  field.kind === 'list' && field.item ? itemOf(field.item) : field

/** The field that people know an entry by, as the name of a text. */
export function labelFieldOf({ fields }: Pick<CollectionView, 'fields'>): string | undefined {
  const texts = fields.filter(({ kind, isPrivate }) => kind === 'text' && !isPrivate)
  const called = ['title', 'name', 'label', 'heading'].flatMap((name) => texts.find((one) => one.name === name) ?? [])
  return (called[0] ?? texts.find(({ need }) => need === 'required'))?.name
}

/** A field of an entry by its dotted path; references are followed. */
export interface NamedField {
  readonly path: string
  readonly field: FieldModel
}

/** The fields that can be shown in a table: those of groups, and one step behind references. */
export function listColumns(
  model: ModelView,
  collection: CollectionView,
  depth = 1,
  above = '',
): readonly NamedField[] {
  const visit = (field: FieldModel, path: string): readonly NamedField[] => {
    if (field.isPrivate) return []
    const inside =
      field.kind === 'group' ? (field.fields ?? []).flatMap((one) => visit(one, `${path}.${one.name}`)) : []
    const target = field.kind === 'ref' && field.leadsTo?.targets.length === 1 ? field.leadsTo.targets[0] : undefined
    const behind = target === undefined || depth === 0 ? undefined : collectionOf(model, target)
    const variants = (field.variants ?? []).flatMap((shape) =>
      shape.fields.flatMap((one) => visit(one, prefix + one.name)),
    )
    return [
      { path, field },
      ...inside,
      ...variants,
      ...(behind ? listColumns(model, behind, depth - 1, `${path}.`) : []),
    ]
  }
  const prefix = above
  return collection.fields.flatMap((field) => visit(field, above + field.name))
}

const SHORT = new Set([
  'text',
  'int',
  'number',
  'flag',
  'date',
  'time',
  'instant',
  'duration',
  'choice',
  'ref',
  'variant',
  'url',
  'email',
  'colour',
  'image',
])
const MOST_COLUMNS = 6

/** The columns that a table has where nobody has chosen any. */
export function usualColumns(collection: CollectionView): readonly string[] {
  const label = labelFieldOf(collection)
  const short = collection.fields.filter(
    ({ kind, name, isPrivate, isDeprecated }) => SHORT.has(kind) && name !== label && !isPrivate && !isDeprecated,
  )
  const order = (one: FieldModel): number => (one.kind === 'text' ? 1 : 0) + (one.need === 'optional' ? 1 : 0)
  const chosen = short.toSorted((a, b) => order(a) - order(b)).slice(0, MOST_COLUMNS - (label ? 1 : 0))
  const inOrder = short.filter((one) => chosen.includes(one)).map(({ name }) => name)
  return label === undefined ? ['id', ...inOrder] : [label, ...inOrder]
}

/** True where entries can be put in the order of a field. */
export const isSortable = (field: FieldModel | undefined): boolean =>
  field === undefined || (SHORT.has(field.kind) && field.kind !== 'image' && field.kind !== 'ref')

/** The first field of a collection with a day, by which its entries stand in a calendar. */
export const dayFieldOf = ({ fields }: CollectionView): string | undefined =>
  fields.find(({ kind, isPrivate }) => (kind === 'date' || kind === 'instant') && !isPrivate)?.name

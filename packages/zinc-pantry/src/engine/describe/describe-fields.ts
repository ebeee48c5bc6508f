import { type ManualOrder, manualOrderOf } from '../../change/reorder-entry.ts'
import type { AnyField } from '../../schema/any-field.ts'
import type { Fields } from '../../schema/field.ts'
import { childrenOf, expectedOf, kindOf, leadingOf } from '../../schema/kinds.ts'
import type { CollectionModel, Model } from '../../schema/model.ts'
import { isRest, writtenKey } from '../../schema/written-key.ts'
import { coordinateNames } from '../../values/computed-steps.ts'
import type { SiteView } from './site-view.ts'

/** A field as plain data, for those who show it or make a form of it. */
export interface FieldModel {
  readonly name: string
  /** The key that it is written under. */
  readonly key: string
  readonly kind: string
  readonly label?: string
  /** Help for writers. */
  readonly help?: string
  readonly section?: string
  readonly need: 'required' | 'optional' | 'default' | 'computed'
  readonly default?: unknown
  /** The value that it expects, in words. */
  readonly expected: string
  readonly isPrivate: boolean
  readonly isDeprecated: boolean
  readonly examples?: readonly unknown[]
  /** What else its kind takes, such as `maxLength`, as far as it is plain data. */
  readonly options: Readonly<Record<string, unknown>>
  /** The words that it may be, with what people see for them. */
  readonly words?: readonly { readonly value: string; readonly label: string }[]
  readonly leadsTo?: { readonly targets: readonly string[]; readonly by?: string; readonly through?: string }
  readonly item?: FieldModel
  readonly keys?: FieldModel
  readonly fields?: readonly FieldModel[]
  /** The shapes that a variant tells apart; their fields stand beside it. */
  readonly variants?: readonly { readonly name: string; readonly fields: readonly FieldModel[] }[]
  readonly alternatives?: readonly FieldModel[]
  readonly blocks?: { readonly names: readonly string[]; readonly key: string }
  /** True for a map of the keys that no other field takes. */
  readonly takesRest?: true
}

/** Options that have a place of their own in a {@link FieldModel}. */
const COMMON = new Set(['optional', 'label', 'description', 'examples', 'deprecated', 'private', 'section', 'default'])

/** Describes a field with all that is in it. */
function describeField(name: string, field: AnyField, isComputed = false): FieldModel {
  const { options } = field
  const { item, keys, fields, variants, alternatives, blocks } = childrenOf(field)
  const words = kindOf(field).words?.(field)
  const { label, description, section, examples, default: absent } = options
  return {
    ...{ name, key: writtenKey(name, field), kind: field.kind, expected: expectedOf(field) },
    ...given({ label, help: description, section, examples, default: absent }),
    need: isComputed || kindOf(field).computed ? 'computed' : needOf(field),
    isPrivate: options.private === true,
    isDeprecated: options.deprecated === true,
    options: plainOptions(options),
    ...given({
      words: words?.choices.map((value) => ({ value, label: words.labels?.[value] ?? value })),
      leadsTo: leadingOf(field),
      item: item?.options && describeField('', item),
      keys: keys?.options && describeField('', keys),
      fields: fields && describeFields(fields),
      variants:
        variants && Object.entries(variants).map(([shape, own]) => ({ name: shape, fields: describeFields(own) })),
      alternatives: alternatives?.map((one) => describeField('', one)),
      blocks,
    }),
    ...(isRest(field) ? { takesRest: true } : {}),
  }
}

/** Describes a set of fields, in its order. */
const describeFields = (fields: Fields): readonly FieldModel[] =>
  Object.entries(fields).map(([name, field]) => describeField(name, field))

const needOf = ({ options }: AnyField): FieldModel['need'] =>
  options.default !== undefined ? 'default' : options.optional ? 'optional' : 'required'

/** An object without what is undefined. */
const given = <One extends object>(values: One): { [Key in keyof One]?: Exclude<One[Key], undefined> } =>
  Object.fromEntries(Object.entries(values).filter(([, value]) => value !== undefined)) as never

/** Options as plain data: a pattern is its source, functions are left out. */
const plainOptions = (options: object): Readonly<Record<string, unknown>> =>
  Object.fromEntries(
    Object.entries(options).flatMap(([name, value]) =>
      COMMON.has(name) || typeof value === 'function' || value === undefined
        ? []
        : [[name, value instanceof RegExp ? value.source : value]],
    ),
  )

/** A collection as plain data. */
export interface CollectionView {
  readonly name: string
  readonly typeName: string
  readonly description?: string
  readonly section?: string
  readonly files: readonly string[]
  /** True where the entries come from elsewhere, so that none can be written. */
  readonly isForeign: boolean
  readonly isSingle: boolean
  readonly hasBody: boolean
  readonly hasAddress: boolean
  readonly isSearched: boolean
  readonly locales: readonly string[]
  /** The field that says that an entry is a draft. */
  readonly draft?: string
  readonly parent?: string
  /** The fields that people write, and those that are computed, with their paths' own order. */
  readonly fields: readonly FieldModel[]
  readonly unique: readonly (readonly string[])[]
  readonly order: readonly string[]
  /** What a person changes to put its entries into another order; absent where nothing does. */
  readonly manualOrder?: ManualOrder['kind']
  /** The paths of the two numbers of a position, where there is a group of such. */
  readonly position?: readonly [latitude: string, longitude: string]
  /** Fields that lead to it, such as `trails.region`. */
  readonly ledFrom: readonly string[]
}

/** A site's model as plain data. */
export interface ModelView {
  readonly collections: readonly CollectionView[]
  readonly blocks: readonly { readonly name: string; readonly fields: readonly FieldModel[] }[]
  readonly locales: readonly string[]
}

/** Describes a model: all that is declared, without the functions in it. */
export function describeModel({ model, entriesIn }: Pick<SiteView, 'model' | 'entriesIn'>): ModelView {
  const collections = model.collections.map((collection) => {
    const by = manualOrderOf(collection, entriesIn(collection.name))
    return { ...describeOne(collection, model), ...('kind' in by ? { manualOrder: by.kind } : {}) }
  })
  return {
    collections: collections.map((one) => ({ ...one, ledFrom: collections.flatMap((other) => pathsTo(other, one)) })),
    blocks: [...model.blocks].map(([name, fields]) => ({ name, fields: describeFields(fields) })),
    locales: model.locales,
  }
}

function describeOne(collection: CollectionModel, { locales }: Model): CollectionView {
  const { name, typeName, description, section, files, source, single, body, address, publication, parent } = collection
  const derived = Object.entries(collection.derived).map(([key, { field }]) => describeField(key, field, true))
  const fields = [...describeFields(collection.fields), ...derived]
  return {
    ...{ name, typeName, files },
    ...given({ description, section, draft: publication?.draft, parent }),
    isForeign: source !== undefined,
    isSingle: single,
    hasBody: body !== undefined,
    hasAddress: address !== undefined,
    isSearched: collection.search.length > 0,
    locales: collection.locales === undefined ? [] : locales,
    fields,
    unique: collection.unique,
    order: collection.order.map(({ field, direction }) => (direction === 'descending' ? `-${field}` : field)),
    ledFrom: [],
    ...given({ position: positionIn(fields) }),
  }
}

/** The paths of the two numbers of the first position among some fields. */
function positionIn(fields: readonly FieldModel[]): CollectionView['position'] {
  for (const { name, kind, fields: inner = [], isPrivate } of fields) {
    const numbers = kind === 'group' && !isPrivate ? inner.filter((one) => one.kind === 'number') : []
    const [latitude, longitude] = coordinateNames(numbers.map((one) => one.name)) ?? []
    if (latitude !== undefined) return [`${name}.${latitude}`, `${name}.${longitude}`]
  }
  return undefined
}

/** The dotted paths of the references of a collection that lead to another. */
function pathsTo(from: CollectionView, { name }: CollectionView): readonly string[] {
  const found = new Set<string>()
  const visit = (field: FieldModel, path: string): void => {
    const own = field.name === '' ? path : `${path}.${field.name}`
    if (field.leadsTo?.targets.includes(name) && field.leadsTo.through === undefined) found.add(own)
    for (const inner of insideOf(field)) visit(inner, own)
  }
  for (const field of from.fields) visit(field, from.name)
  return [...found]
}

/** The fields inside of a field. */
const insideOf = ({ item, fields = [], variants = [], alternatives = [] }: FieldModel): readonly FieldModel[] => [
  ...(item ? [item] : []),
  ...fields,
  ...variants.flatMap((one) => one.fields),
  ...alternatives,
]

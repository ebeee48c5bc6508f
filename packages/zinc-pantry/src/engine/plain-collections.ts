import type { AnyField } from '../schema/any-field.ts'
import type { CollectionModel, Model } from '../schema/model.ts'
import { describeFields, type FieldsDescription, findCompared, hasFunctions } from './collection-fields.ts'

/** A collection of which all that is told follows from its files and from what it sees of others. */
export interface PlainCollection {
  /** The other collections that it refers to. */
  readonly targets: readonly string[]
  /** Fields that references to it compare with. */
  readonly compared: readonly string[]
}

/** Kinds whose values depend on other files, on version control, or on what refers to an entry. */
const DEPENDING: ReadonlySet<AnyField['kind']> = new Set(['markdown', 'block', 'file', 'image', 'history', 'reverse'])

/** The plain collections of a site, by their names; none where functions may look at any. */
export function findPlainCollections(model: Model): ReadonlyMap<string, PlainCollection> {
  const { collections, blocks, sharedSlugs } = model
  if (collections.some(hasFunctions)) return new Map()
  const described = new Map(collections.map((collection) => [collection.name, describeFields(collection)]))
  const byName = new Map(collections.map((collection) => [collection.name, collection]))
  const compared = findCompared(collections, blocks)
  /** Collections that are read backwards are seen whole. */
  const reversed = new Set([...described.values()].flatMap((one) => one.reversed))
  const isPlain = (collection: CollectionModel): boolean => {
    const { name, body, publication, createFrom, locales, source, address, formerAddresses } = collection
    const isApart =
      !body &&
      !publication &&
      !source &&
      [createFrom, locales, address, formerAddresses].every((one) => one === undefined)
    const { kinds, targets } = described.get(name) as FieldsDescription
    const others = targets.map((target) => byName.get(target))
    return (
      isApart &&
      !reversed.has(name) &&
      !sharedSlugs.flat().includes(name) &&
      ![...kinds].some((kind) => DEPENDING.has(kind)) &&
      // References to what is made on the fly make it, and what is not to be seen depends on the day.
      others.every((other) => other && !other.publication && other.createFrom === undefined)
    )
  }
  return new Map(
    collections.filter(isPlain).map(({ name }) => {
      const targets = (described.get(name) as FieldsDescription).targets.filter((other) => other !== name)
      const fields = [...(compared.get(name) ?? [])].filter((by) => by !== 'id' && by !== 'slug')
      return [name, { targets, compared: fields.sort() }]
    }),
  )
}

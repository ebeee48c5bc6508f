import { assignFiles } from '../find/assign-files.ts'
import type { Listing } from '../host/host.ts'
import { extensionsOf } from '../read/formats.ts'
import type { CollectionModel, Model } from '../schema/model.ts'
import { describeFields, hasFunctions } from './collection-fields.ts'

/**
 * The model of a site with just those collections that questions to some of them need: what they refer to, and what is read
 * backwards. Bodies may link to anything, and functions may look at anything, so that with such nothing is left out.
 */
export function withNeeded(model: Model, only: readonly string[]): Model {
  const byName = new Map(model.collections.map((collection) => [collection.name, collection]))
  const needed = new Set<string>()
  const add = (name: string): boolean => {
    const collection = byName.get(name)
    if (!collection) return false
    if (needed.has(name)) return true
    needed.add(name)
    const leads = leadsTo(collection, model)
    return leads?.every(add) ?? false
  }
  return only.every(add) ? { ...model, collections: model.collections.filter(({ name }) => needed.has(name)) } : model
}

/** The collections whose entries those of a collection depend on; undefined where nobody can tell. */
function leadsTo(collection: CollectionModel, { collections, blocks }: Model): readonly string[] | undefined {
  const { name, body, createFrom } = collection
  const { kinds, targets, reversed } = describeFields(collection)
  if (body || hasFunctions(collection) || kinds.has('markdown') || (kinds.has('block') && blocks.size > 0))
    return undefined
  // Where entries are made on the fly, whoever refers to them makes them.
  const refers = (other: CollectionModel): boolean => {
    const { targets: own, reversed: back } = describeFields(other)
    return own.includes(name) || back.includes(name)
  }
  const makers = createFrom === undefined ? [] : collections.filter(refers)
  return [...targets, ...reversed, ...makers.map((other) => other.name)]
}

/** A listing without the files that only collections read which a model left out. */
export function withoutOthers(
  listing: Listing,
  { whole, own }: { readonly whole: Model; readonly own: Model },
): Listing {
  if (whole === own) return listing
  const names = new Set(own.collections.map(({ name }) => name))
  const { assigned } = assignFiles(whole.collections, listing.files, extensionsOf(whole.endings))
  const others = assigned.flatMap(({ collection, files }) =>
    names.has(collection.name) ? [] : files.map(({ path }) => path),
  )
  const left = new Set(others)
  for (const { collection, files } of assigned)
    if (names.has(collection.name)) for (const { path } of files) left.delete(path)
  return { ...listing, files: listing.files.filter((path) => !left.has(path)) }
}

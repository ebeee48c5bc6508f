import { assignFiles } from '../find/assign-files.ts'
import type { Listing } from '../host/host.ts'
import { extensionsOf } from '../read/formats.ts'
import { ADDRESS_FIELD } from '../schema/address-template.ts'
import { leadingOf } from '../schema/kinds.ts'
import { allFields, type CollectionModel, type Model, visitFields } from '../schema/model.ts'

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
  const { name, body, rules, derived, createFrom, addressVariables } = collection
  const isComputed = Object.keys(derived).some((field) => field !== ADDRESS_FIELD || addressVariables.length === 0)
  const { kinds, targets } = describeFields(collection)
  if (body || rules.length > 0 || isComputed || kinds.has('markdown') || (kinds.has('block') && blocks.size > 0))
    return undefined
  // Where entries are made on the fly, whoever refers to them makes them.
  const makers = createFrom === undefined ? [] : collections.filter((other) => describeFields(other).targets.has(name))
  return [...targets, ...makers.map((other) => other.name)]
}

/** The kinds of the fields of a collection, at any depth, and the collections that they lead to. */
function describeFields(collection: CollectionModel): {
  readonly kinds: ReadonlySet<string>
  readonly targets: ReadonlySet<string>
} {
  const kinds = new Set<string>()
  const targets = new Set<string>()
  visitFields(allFields(collection), (field) => {
    kinds.add(field.kind)
    for (const target of leadingOf(field)?.targets ?? []) targets.add(target)
  })
  return { kinds, targets }
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

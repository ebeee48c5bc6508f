import type { LinkedCollection } from '../link/link-entry.ts'
import { dottedPath } from '../schema/field-path.ts'
import type { BlockFields } from '../schema/kind.ts'
import { leadingOf } from '../schema/kinds.ts'
import type { CollectionModel } from '../schema/model.ts'
import type { LinkedEntry } from '../validate/entry.ts'
import { withValues } from './with-values.ts'

/** The ids of the entries that refer to one, by the names of its reverse fields. */
export type Referrers = readonly (readonly [name: string, ids: readonly string[]])[]

/** True where a collection has fields that are read backwards. */
export const hasReverse = (collection: CollectionModel): boolean => reverseFieldsOf(collection).length > 0

/** Makes what finds the entries that refer to those of a collection. */
export function createReferrerFinder(
  { collection }: LinkedCollection,
  collections: readonly LinkedCollection[],
  blocks: BlockFields,
): (entry: LinkedEntry) => Referrers {
  const lists = reverseFieldsOf(collection).map(({ name, target, through }) => ({
    name,
    referrers: findReferrers(
      collections.find((one) => one.collection.name === target),
      { through, owner: collection.name, blocks },
    ),
  }))
  return ({ id }) => lists.map(({ name, referrers }) => [name, referrers.get(id) ?? NOBODY] as const)
}

/** An entry with its reverse fields filled. */
export const fillReverse = (entry: LinkedEntry, referrers: Referrers): LinkedEntry =>
  entry.data ? { ...entry, data: withValues(entry.data, referrers) } : entry

const NOBODY: readonly string[] = []

const reverseFieldsOf = ({ fields }: CollectionModel): { name: string; target: string; through: string }[] =>
  Object.entries(fields).flatMap(([name, field]) => {
    const { targets: [target = ''] = [], through } = leadingOf(field) ?? {}
    return through === undefined ? [] : [{ name, target, through }]
  })

/** How entries refer to those of a collection. */
interface Way {
  readonly through: string
  readonly owner: string
  readonly blocks: BlockFields
}

/** The ids of the entries that refer to each entry of a collection by a path, each once, in their order. */
function findReferrers(target: LinkedCollection | undefined, { through, owner, blocks }: Way): Map<string, string[]> {
  const referrers = new Map<string, string[]>()
  if (!target) return referrers
  const { collection, entries } = target
  for (const { id, links, data } of entries) {
    if (!data) continue
    for (const link of links) {
      if (link.collection !== owner || dottedPath(link.path, collection.fields, blocks) !== through) continue
      const known = referrers.get(link.id)
      if (!known) referrers.set(link.id, [id])
      else if (known[known.length - 1] !== id) known.push(id)
    }
  }
  return referrers
}

import type { LinkedCollection } from '../link/link-entries.ts'
import type { BlockFields } from '../schema/field.ts'
import { dottedPath } from '../schema/field-path.ts'
import type { CollectionModel } from '../schema/model.ts'
import type { LinkedEntry } from '../validate/entry.ts'

/** Fills the fields that are read backwards with the ids of the entries that refer to each. */
export function computeReverse(
  collections: readonly LinkedCollection[],
  blocks: BlockFields,
): readonly LinkedCollection[] {
  const byName = new Map(collections.map((one) => [one.collection.name, one]))
  return collections.map(({ collection, entries }) => {
    const fields = reverseFieldsOf(collection)
    if (fields.length === 0) return { collection, entries }
    const lists = fields.map(({ name, target, through }) => ({
      name,
      referrers: findReferrers(byName.get(target), { through, owner: collection.name, blocks }),
    }))
    return {
      collection,
      entries: entries.map((entry): LinkedEntry => {
        if (!entry.data) return entry
        const values = lists.map(({ name, referrers }) => [name, referrers.get(entry.id) ?? []] as const)
        return { ...entry, data: { ...entry.data, ...Object.fromEntries(values) } }
      }),
    }
  })
}

const reverseFieldsOf = ({ fields }: CollectionModel): { name: string; target: string; through: string }[] =>
  Object.entries(fields).flatMap(([name, { kind, targets, through }]) =>
    kind === 'reverse' ? [{ name, target: targets?.[0] ?? '', through: through ?? '' }] : [],
  )

/** The ids of the entries that refer to each entry of a collection by a path, each once, in their order. */
interface Way {
  readonly through: string
  readonly owner: string
  readonly blocks: BlockFields
}

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

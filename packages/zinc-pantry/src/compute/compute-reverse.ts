import { type ListMemory, mapAgain, memoryOf } from '../diagnostics/map-again.ts'
import type { LinkedCollection } from '../link/link-entries.ts'
import type { BlockFields } from '../schema/field.ts'
import { dottedPath } from '../schema/field-path.ts'
import type { CollectionModel } from '../schema/model.ts'
import type { LinkedEntry } from '../validate/entry.ts'

/** Entries with their fields filled, of earlier runs, by collection. */
export type ReverseMemory = Map<string, ListMemory<LinkedEntry, LinkedEntry>>

/** Fills the fields that are read backwards with the ids of the entries that refer to each. */
export function computeReverse(
  collections: readonly LinkedCollection[],
  blocks: BlockFields,
  memory?: ReverseMemory,
): readonly LinkedCollection[] {
  const byName = new Map(collections.map((one) => [one.collection.name, one]))
  return collections.map(({ collection, entries }) => {
    const fields = reverseFieldsOf(collection)
    if (fields.length === 0) return { collection, entries }
    const lists = fields.map(({ name, target, through }) => ({
      name,
      referrers: findReferrers(byName.get(target), { through, owner: collection.name, blocks }),
    }))
    const valuesOf = ({ id }: LinkedEntry) =>
      lists.map(({ name, referrers }) => [name, referrers.get(id) ?? NOBODY] as const)
    const isRight = (known: LinkedEntry, entry: LinkedEntry): boolean =>
      valuesOf(entry).every(([name, ids]) => !known.data || isEqual(ids, known.data[name] as readonly string[]))
    const make = (entry: LinkedEntry): LinkedEntry =>
      entry.data ? { ...entry, data: { ...entry.data, ...Object.fromEntries(valuesOf(entry)) } } : entry
    return { collection, entries: mapAgain(memoryOf(memory, collection.name), entries, { make, isRight }) }
  })
}

const NOBODY: readonly string[] = []

const isEqual = (one: readonly string[], other: readonly string[]): boolean =>
  one.length === other.length && one.every((id, at) => id === other[at])

const reverseFieldsOf = ({ fields }: CollectionModel): { name: string; target: string; through: string }[] =>
  Object.entries(fields).flatMap(([name, { kind, targets, through }]) =>
    kind === 'reverse' ? [{ name, target: targets?.[0] ?? '', through: through ?? '' }] : [],
  )

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

import type { LinkedCollection } from '../link/link-entry.ts'
import { leadingOf } from '../schema/kinds.ts'
import type { CollectionModel } from '../schema/model.ts'
import type { Entry, LinkedEntry } from '../validate/entry.ts'

type Comparison = (a: Entry, b: Entry) => number

/**
 * The entries of a collection in its own order; those that are equal in it stay in the order of their files. Before
 * anything is computed only `written` keys count, up to the first that is computed.
 */
export function orderEntries<One extends Entry>(
  { collection, entries }: { readonly collection: CollectionModel; readonly entries: readonly One[] },
  by: 'written' | 'all',
): { readonly collection: CollectionModel; readonly entries: readonly One[] } {
  const { numbered } = collection
  const keys = by === 'all' ? collection.order : collection.order.slice(0, firstComputed(collection))
  const comparisons: Comparison[] = keys.map(({ field, direction }) => {
    const sign = direction === 'descending' ? -1 : 1
    return (a, b) => compareValues(a.data?.[field] ?? null, b.data?.[field] ?? null, sign)
  })
  if (numbered) comparisons.push((a, b) => compareValues(a.rank ?? null, b.rank ?? null, 1))
  if (comparisons.length === 0) return { collection, entries }
  const ordered = entries.toSorted((a, b) => {
    for (const compare of comparisons) {
      const difference = compare(a, b)
      if (difference !== 0) return difference
    }
    return 0
  })
  return { collection, entries: ordered }
}

/** The number of keys of the order before the first that is computed. */
function firstComputed({ order, derived }: CollectionModel): number {
  const found = order.findIndex(({ field }) => Object.hasOwn(derived, field))
  return found === -1 ? order.length : found
}

/** Puts into order what is ordered by computed fields, and the lists of entries that refer to others with it. */
export function orderComputed(collections: readonly LinkedCollection[]): readonly LinkedCollection[] {
  const isReordered = ({ collection }: LinkedCollection): boolean => firstComputed(collection) < collection.order.length
  if (!collections.some(isReordered)) return collections
  const ordered = collections.map((one) => (isReordered(one) ? orderEntries(one, 'all') : one))
  const ranks = new Map(
    ordered
      .filter(isReordered)
      .map(({ collection, entries }) => [collection.name, new Map(entries.map(({ id }, rank) => [id, rank]))]),
  )
  return ordered.map(({ collection, entries }) => {
    const lists = Object.entries(collection.fields).flatMap(([name, field]) => {
      const { targets: [target = ''] = [], through } = leadingOf(field) ?? {}
      const rank = through === undefined ? undefined : ranks.get(target)
      return rank ? [{ name, rank }] : []
    })
    return lists.length === 0
      ? { collection, entries }
      : { collection, entries: entries.map((entry) => orderLists(entry, lists)) }
  })
}

/** An entry with some of its lists of ids in the order of ranks. */
function orderLists(
  entry: LinkedEntry,
  lists: readonly { readonly name: string; readonly rank: ReadonlyMap<string, number> }[],
): LinkedEntry {
  if (!entry.data) return entry
  const data: Record<string, unknown> = { ...entry.data }
  for (const { name, rank } of lists)
    data[name] = (data[name] as readonly string[]).toSorted((a, b) => (rank.get(a) ?? 0) - (rank.get(b) ?? 0))
  return { ...entry, data }
}

/** Compares two values; an entry without one comes last, whatever the direction. */
function compareValues(a: unknown, b: unknown, sign: number): number {
  if (a === b) return 0
  if (a === null) return 1
  if (b === null) return -1
  return ((a as string) < (b as string) ? -1 : 1) * sign
}

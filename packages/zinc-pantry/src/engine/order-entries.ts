import type { CollectionModel } from '../schema/model.ts'
import type { Entry } from '../validate/entry.ts'

type Comparison = (a: Entry, b: Entry) => number

/** The entries of a collection in its own order; those that are equal in it stay in the order of their files. */
export function orderEntries<One extends Entry>(
  { order, numbered }: CollectionModel,
  entries: readonly One[],
): readonly One[] {
  const comparisons: Comparison[] = order.map(({ field, direction }) => {
    const sign = direction === 'descending' ? -1 : 1
    return (a, b) => compareValues(a.data?.[field] ?? null, b.data?.[field] ?? null, sign)
  })
  if (numbered) comparisons.push((a, b) => compareValues(a.rank ?? null, b.rank ?? null, 1))
  if (comparisons.length === 0) return entries
  return entries.toSorted((a, b) => {
    for (const compare of comparisons) {
      const difference = compare(a, b)
      if (difference !== 0) return difference
    }
    return 0
  })
}

/** What has no value comes last, whatever the direction. */
function compareValues(a: unknown, b: unknown, sign: number): number {
  if (a === b) return 0
  if (a === null) return 1
  if (b === null) return -1
  return ((a as string) < (b as string) ? -1 : 1) * sign
}

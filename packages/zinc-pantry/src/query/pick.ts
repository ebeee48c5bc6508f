import type { Scalar } from './condition.ts'
import type { ItemSelection } from './place.ts'
import type { Place } from './select-values.ts'

/** Takes of every value what a specification of handles names; references are followed. */
export async function pickValues(place: Place, values: readonly unknown[], spec: unknown): Promise<unknown[]> {
  const { placeOf, QueryError, selectValues, throughLists } = place.run.internals
  const handle = placeOf(spec)
  if (handle) {
    const { path, shape, each, select } = handle
    const found = await selectValues(place, values, path)
    if (each === undefined) return found
    const { run } = place
    const inner = { run, shape: shape.item ?? shape }
    const chosen = select ? await chooseItems(inner, found, select) : found
    const lists = await throughLists(chosen, (items) => pickValues(inner, items, each))
    return lists.map((list) => Object.freeze(list))
  }
  if (typeof spec !== 'object' || spec === null) throw new QueryError('Pick takes fields, and objects of them')
  const columns = await Promise.all(
    Object.entries(spec).map(async ([name, inner]) => [name, await pickValues(place, values, inner)] as const),
  )
  return values.map((_, at) => Object.freeze(Object.fromEntries(columns.map(([name, column]) => [name, column[at]]))))
}

/** Of each list the items that are wanted, in the order that is. */
async function chooseItems(
  inner: Place,
  lists: readonly unknown[],
  { where, sort, limit }: ItemSelection,
): Promise<readonly unknown[]> {
  const { checkCount, compareEntries, compilePredicate, selectValues, throughLists } = inner.run.internals
  if (limit !== undefined) checkCount('limit of each', limit, 0)
  const holds = where && (await compilePredicate(inner, where))
  const kept = holds ? lists.map((list) => (Array.isArray(list) ? list.filter(holds) : list)) : lists
  if (sort.length === 0) return kept.map((list) => (Array.isArray(list) ? list.slice(0, limit) : list))
  const keyed = await throughLists(kept, async (items) => {
    const columns = await Promise.all(sort.map(({ path }) => selectValues(inner, items, path)))
    return items.map((item, at) => ({ item, keys: columns.map((column) => column[at] as Scalar | null) }))
  })
  const compare = compareEntries(sort)
  return keyed.map((list) => {
    const ordered = (list as readonly { item: unknown; keys: (Scalar | null)[] }[] | null)?.toSorted((a, b) =>
      compare(a.keys, b.keys),
    )
    return ordered?.slice(0, limit).map(({ item }) => item) ?? null
  })
}

import type { Place } from './select-values.ts'

/** Takes of every value what a specification of handles names; references are followed. */
export async function pickValues(place: Place, values: readonly unknown[], spec: unknown): Promise<unknown[]> {
  const { placeOf, QueryError, selectValues, throughLists } = place.run.internals
  const handle = placeOf(spec)
  if (handle) {
    const { path, shape, each } = handle
    const found = await selectValues(place, values, path)
    if (each === undefined) return found
    const { run } = place
    const inner = { run, shape: shape.item ?? shape }
    const lists = await throughLists(found, (items) => pickValues(inner, items, each))
    return lists.map((list) => Object.freeze(list))
  }
  if (typeof spec !== 'object' || spec === null) throw new QueryError('Pick takes fields, and objects of them')
  const columns = await Promise.all(
    Object.entries(spec).map(async ([name, inner]) => [name, await pickValues(place, values, inner)] as const),
  )
  return values.map((_, at) => Object.freeze(Object.fromEntries(columns.map(([name, column]) => [name, column[at]]))))
}

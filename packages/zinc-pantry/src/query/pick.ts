import { type HandlePlace, placeOf, QueryError } from './handles.ts'
import type { Run } from './run.ts'
import { selectValues, throughLists } from './select-values.ts'
import type { Shape } from './shape.ts'

/** Takes of every value what a specification of handles names; references are followed. */
export async function pickValues(
  run: Run,
  values: readonly unknown[],
  { shape, spec }: { readonly shape: Shape; readonly spec: unknown },
): Promise<unknown[]> {
  const place = placeOf(spec)
  if (place) return pickPlace(run, values, { shape, place })
  if (typeof spec !== 'object' || spec === null) throw new QueryError('Pick takes fields, and objects of them')
  const columns = await Promise.all(
    Object.entries(spec).map(
      async ([name, inner]) => [name, await pickValues(run, values, { shape, spec: inner })] as const,
    ),
  )
  return values.map((_, at) => Object.freeze(Object.fromEntries(columns.map(([name, column]) => [name, column[at]]))))
}

async function pickPlace(
  run: Run,
  values: readonly unknown[],
  { shape, place: { path, shape: end, each } }: { readonly shape: Shape; readonly place: HandlePlace },
): Promise<unknown[]> {
  const found = await selectValues(run, values, { shape, path })
  if (each === undefined) return found
  const lists = await throughLists(found, (items) => pickValues(run, items, { shape: end.item as Shape, spec: each }))
  return lists.map((list) => Object.freeze(list))
}

/** The path of a handle to single values, lists entered. */
export function pathOfHandle(handle: unknown): readonly string[] {
  const place = placeOf(handle)
  if (!place) throw new QueryError('This takes a field')
  return place.each === undefined ? place.path : [...place.path, ...pathOfHandle(place.each)]
}

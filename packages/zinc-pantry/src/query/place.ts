import type { ConditionTree, Recorder, SortKey } from './condition.ts'
import { QueryError } from './query-error.ts'
import type { Shape, Shapes } from './shape.ts'

/** The key under which a handle says what it stands for; no field can have it. */
export const PLACE = Symbol('place')

/** Notes the conditions that a function makes of handles. */
export interface ConditionScope {
  record?: Recorder | undefined
}

/** The place that a handle stands for. */
export interface HandlePlace {
  readonly path: readonly string[]
  readonly shape: Shape
  /** The root that all handles of a collection share. */
  readonly root: { readonly shapes: Shapes; readonly scope: ConditionScope }
  /** What the path starts at: the entry, or an item of a list; the same for all handles that start there. */
  readonly origin: object
  /** The specification for every item of the list at the path. */
  readonly each?: unknown
  /** Which items those are, where it is not all in their own order. */
  readonly select?: ItemSelection
}

/** Some items of a list, in an order. */
export interface ItemSelection {
  readonly where: ConditionTree | undefined
  readonly sort: readonly SortKey[]
  readonly limit: number | undefined
}

/** The place of a handle; undefined for anything else. */
export const placeOf = (handle: unknown): HandlePlace | undefined =>
  (handle as { readonly [PLACE]?: HandlePlace } | null | undefined)?.[PLACE]

/** Calls a function with handles; anything else is wrong use. */
export function callWith<Given>(build: unknown, fields: unknown): Given {
  if (typeof build === 'function') return build(fields) as Given
  throw new QueryError('Fields are named by a function, such as (trail) => trail.title')
}

/** The path of a handle to single values, lists entered. */
export function pathOf(handle: unknown): readonly string[] {
  const place = placeOf(handle)
  if (!place) throw new QueryError('This takes a field')
  if (place.select) throw new QueryError('Only pick takes some items of a list, by where, sort and limit')
  if (place.each !== undefined) return [...place.path, ...pathOf(place.each)]
  let { shape } = place
  while (shape.kind === 'list') shape = shape.item
  if (shape.kind === 'group' || shape.kind === 'map')
    throw new QueryError(`${place.path.join('.') || 'The entry'} has no single value`)
  return place.path
}

import { coordinateNames } from '../values/computed-steps.ts'
import { type Condition, type ConditionTree, describe } from './condition.ts'
import type { NumberHandle } from './handle-types.ts'
import { conditionOn } from './handles.ts'
import { placeOf } from './place.ts'
import { QueryError } from './query-error.ts'

/** A point on the Earth, in degrees. */
export interface Point {
  readonly latitude: number
  readonly longitude: number
}

/** What lies between two latitudes and two longitudes, in degrees; `west` may be larger than `east`, across the 180th meridian. */
export interface BoundingBox {
  readonly south: number
  readonly west: number
  readonly north: number
  readonly east: number
}

/**
 * True for positions within a bounding box. A position is a group with a number called `latitude` or `lat`, and one called
 * `longitude`, `lon`, `lng` or `long`; indexes of both answer it.
 *
 * @example
 * ```ts
 * import { type NumberHandle, type Query, within } from 'zinc-pantry/query'
 *
 * declare const huts: Query<object, { position: { latitude: NumberHandle; longitude: NumberHandle } }>
 * const near = await huts.where((hut) => within(hut.position, { south: 54, west: -4, north: 55, east: -3 })).toArray()
 * console.log(near.length)
 * ```
 */
export function within(position: object, box: BoundingBox): Condition {
  return conditionOn(position, withinTree(placeOf(position)?.path ?? [], coordinatesOf(position), box))
}

/**
 * The distance from a position to a point in kilometres, along the surface of a sphere as large as the Earth (radius 6371.0088 km); for
 * orders, conditions and picks. Nearest first: `sort((hut) => distance(hut.position, point))`.
 *
 * @example
 * ```ts
 * import { distance, type NumberHandle, type Query } from 'zinc-pantry/query'
 *
 * declare const huts: Query<object, { position: { latitude: NumberHandle; longitude: NumberHandle } }>
 * const point = { latitude: 54.7, longitude: -3.02 }
 * const nearest = await huts.sort((hut) => distance(hut.position, point)).limit(3).toArray()
 * console.log(nearest)
 * ```
 */
export function distance(position: object, point: Point): NumberHandle {
  coordinatesOf(position)
  return (position as { distance(to: Point): NumberHandle }).distance(point)
}

/** The condition on a path to a position that it lies within a box. */
export function withinTree(
  path: readonly string[],
  [latitude, longitude]: readonly [string, string],
  { south, west, north, east }: BoundingBox,
): ConditionTree {
  if (![south, west, north, east].every(Number.isFinite))
    throw new QueryError('A bounding box has numbers: south, west, north and east, in degrees')
  const test = (name: string, operator: 'between' | 'atLeast' | 'atMost', ...values: number[]): ConditionTree => ({
    kind: 'test',
    path: [...path, name],
    operator,
    values,
  })
  const isAcross = west > east
  const inWidth: ConditionTree = isAcross
    ? { kind: 'or', parts: [test(longitude, 'atLeast', west), test(longitude, 'atMost', east)] }
    : test(longitude, 'between', west, east)
  return { kind: 'and', parts: [test(latitude, 'between', south, north), inWidth] }
}

/** The names of the two numbers of a position. */
function coordinatesOf(position: object): readonly [latitude: string, longitude: string] {
  const names = coordinateNames(Object.keys(placeOf(position)?.shape.fields ?? {}))
  if (!names) throw new QueryError(`A position is a group with a latitude and a longitude, not ${describe(position)}`)
  return names
}

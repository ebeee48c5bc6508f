import {
  type Condition,
  createCondition,
  OPERATORS,
  type Operator,
  type Scalar,
  type SortOptions,
} from './condition.ts'
import { remember } from './remember.ts'
import { fieldsOf, type Shape, type Shapes } from './shape.ts'

/** Wrong use of a query, such as the name of a field that does not exist. */
export class QueryError extends Error {
  override readonly name = 'QueryError'
}

/** The error that there is no such thing, with those that there are. */
export const describeUnknown = (thing: string, known: readonly string[]): QueryError =>
  new QueryError(`There is no ${thing}; there are ${known.join(', ')}`)

/** The key under which a handle says what it stands for; no field can have it. */
const PLACE = Symbol('place')

/** What a handle stands for. */
export interface HandlePlace {
  readonly path: readonly string[]
  readonly shape: Shape
  /** What is taken of every item of the list at the path. */
  readonly each?: unknown
}

/** What a handle stands for; undefined for what is none. */
export const placeOf = (handle: unknown): HandlePlace | undefined =>
  (handle as { readonly [PLACE]?: HandlePlace } | null)?.[PLACE]

/** The path of a handle to single values, lists entered. */
export function pathOf(handle: unknown): readonly string[] {
  const place = placeOf(handle)
  if (!place) throw new QueryError('This takes a field')
  return place.each === undefined ? place.path : [...place.path, ...pathOf(place.each)]
}

/** The handle of the entries of a collection; it is kept, with what was made of it, since every query starts with it. */
export function entryHandle(shapes: Shapes, collection: string): unknown {
  const shape = shapes.get(collection) as Shape
  return remember(ENTRIES, shape, () => createHandle(shape, [], shapes))
}

/** By shapes, of which every site that is opened has its own. */
const ENTRIES = new WeakMap<Shape, unknown>()

/**
 * The handle of a value: its operators, and the handles of the fields below it, made when they are
 * asked for, since references can lead in circles.
 */
const createHandle = (shape: Shape, path: readonly string[], shapes: Shapes): unknown =>
  new Proxy<Target>({ shape, path, shapes, made: new Map() }, HANDLER)

interface Target {
  readonly shape: Shape
  readonly path: readonly string[]
  readonly shapes: Shapes
  readonly made: Map<unknown, unknown>
}

const HANDLER: ProxyHandler<Target> = {
  get(target, name) {
    const { made } = target
    const known = made.get(name)
    if (known !== undefined) return known
    const value = typeof name === 'string' ? partOf(target, name) : name === PLACE ? target : undefined
    made.set(name, value)
    return value
  },
}

const PRESENCE: readonly Operator[] = ['isPresent', 'isAbsent']

/** An operator of a value, or the handle of a field below it. */
function partOf(target: Target, name: string): unknown {
  const { shape, path, shapes } = target
  const { kind, item } = shape
  const isSingle = kind !== 'list' && kind !== 'group' && kind !== 'anything'
  // An entry itself, or an item of a list, is always present.
  const tests = isSingle ? OPERATORS : kind === 'group' && path.length === 0 ? [] : PRESENCE
  const operator = tests.find((one) => one === name)
  // What a test compares with is given as it is, or as a list.
  if (operator)
    return (...given: Scalar[]): Condition => createCondition({ kind: 'test', path, operator, values: given.flat() })
  if (isSingle) {
    if (name === 'path') return path
    if (name === 'direction') return 'ascending'
    if (name === 'ascending' || name === 'descending')
      return (options?: SortOptions) => ({ path, direction: name, ...options })
  }
  const ofItems = item && listOperator(name, target, createHandle(item, [], shapes))
  if (ofItems) return ofItems
  const fields = fieldsOf(shape, shapes)
  if (fields && Object.hasOwn(fields, name)) return createHandle(fields[name] as Shape, [...path, name], shapes)
  const known = [...Object.keys(fields ?? {}), ...tests]
  throw describeUnknown(`field or operator ${name} on ${path.join('.') || 'the entry'}`, known)
}

function listOperator(name: string, { path, shape }: Target, item: unknown): unknown {
  if (name === 'each') return (build: (handle: unknown) => unknown) => ({ [PLACE]: { path, shape, each: build(item) } })
  if (name === 'includes')
    return (value: Scalar): Condition =>
      createCondition({ kind: 'some', path, part: { kind: 'test', path: [], operator: 'is', values: [value] } })
  if (name === 'some' || name === 'every' || name === 'none')
    return (build: (handle: unknown) => Condition): Condition =>
      createCondition({ kind: name, path, part: build(item).tree })
  return undefined
}

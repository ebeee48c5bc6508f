import { type Condition, createCondition, type Operator, type Scalar, type SortOptions } from './condition.ts'
import { fieldsOf, type Shape, type Shapes } from './shape.ts'

/** Wrong use of a query, such as the name of a field that does not exist. */
export class QueryError extends Error {
  override readonly name = 'QueryError'
}

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

/** The handle of the entries of a collection; it is kept, with what was made of it, since every query starts with it. */
export function entryHandle(shapes: Shapes, collection: string): unknown {
  const shape = shapes.get(collection) as Shape
  const handle = ENTRIES.get(shape) ?? createHandle(shape, [], shapes)
  ENTRIES.set(shape, handle)
  return handle
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

/** An operator of a value, or the handle of a field below it. */
function partOf(target: Target, name: string): unknown {
  const { shape, path, shapes } = target
  const { kind } = shape
  const make = own(
    kind === 'list' ? LIST : kind !== 'group' && kind !== 'anything' ? SINGLE : path.length > 0 ? PRESENCE : {},
    name,
  )
  if (make) return make(target, name)
  const fields = fieldsOf(shape, shapes)
  const field = fields && own(fields, name)
  if (field) return createHandle(field, [...path, name], shapes)
  const known = fields ? `; there are ${Object.keys(fields).join(', ')}` : ''
  throw new QueryError(`No field or operator "${name}" on ${path.join('.') || 'the entry'}${known}`)
}

const own = <Value>(record: Readonly<Record<string, Value>>, name: string): Value | undefined =>
  Object.hasOwn(record, name) ? record[name] : undefined

/** Makes an operator of a value. */
type MakeOperator = (target: Target, name: string) => unknown

/** A test; it is told how to gather the values it compares with. */
const test =
  (collect: (first: never, second: never) => readonly Scalar[]): MakeOperator =>
  ({ path }, name) =>
  (first: never, second: never): Condition =>
    createCondition({ kind: 'test', path, operator: name as Operator, values: collect(first, second) })

const withNone = test(() => [])
const withOne = test((value) => [value])
const withSeveral = test((values) => values)

const order: MakeOperator =
  ({ path }, direction) =>
  (options?: SortOptions) => ({ path, direction, ...options })

/** A condition on the items of a list. */
const items: MakeOperator = ({ path, shape, shapes }, name) => {
  const item = createHandle(shape.item as Shape, [], shapes)
  return (build: (handle: unknown) => Condition) =>
    createCondition({ kind: name as 'some', path, part: build(item).tree })
}

/** An entry itself, or an item of a list, is always present. */
const PRESENCE: Readonly<Record<string, MakeOperator>> = { isPresent: withNone, isAbsent: withNone }

const LIST: Readonly<Record<string, MakeOperator>> = {
  ...PRESENCE,
  some: items,
  every: items,
  none: items,
  includes:
    ({ path }) =>
    (value: Scalar) =>
      createCondition({ kind: 'some', path, part: { kind: 'test', path: [], operator: 'is', values: [value] } }),
  each: ({ path, shape, shapes }) => {
    const item = createHandle(shape.item as Shape, [], shapes)
    return (build: (handle: unknown) => unknown) => ({ [PLACE]: { path, shape, each: build(item) } })
  },
}

const SINGLE: Readonly<Record<string, MakeOperator>> = {
  ...PRESENCE,
  is: withOne,
  isNot: withOne,
  atLeast: withOne,
  atMost: withOne,
  above: withOne,
  below: withOne,
  startsWith: withOne,
  includes: withOne,
  hasWords: withOne,
  isOneOf: withSeveral,
  isNoneOf: withSeveral,
  between: test((low, high) => [low, high]),
  ascending: order,
  descending: order,
  path: ({ path }) => path,
  direction: () => 'ascending',
}

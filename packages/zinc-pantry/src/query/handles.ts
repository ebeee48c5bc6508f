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
function partOf({ shape, path, shapes }: Target, name: string): unknown {
  const operator = operatorOf(name, shape, path, shapes)
  if (operator !== undefined) return operator
  const fields = fieldsOf(shape, shapes)
  const field = fields && Object.hasOwn(fields, name) ? fields[name] : undefined
  if (field) return createHandle(field, [...path, name], shapes)
  const known = fields ? `; there are ${Object.keys(fields).join(', ')}` : ''
  throw new QueryError(`No field or operator "${name}" on ${path.join('.') || 'the entry'}${known}`)
}

type Collect = (first: never, second: never) => readonly Scalar[]

const nothing: Collect = () => []
const one: Collect = (value) => [value]

/** How operators gather the values they compare with. */
const PRESENCE: Readonly<Record<string, Collect>> = { isPresent: nothing, isAbsent: nothing }
const TESTS: Record<string, Collect> = {
  ...PRESENCE,
  isOneOf: (values) => values,
  isNoneOf: (values) => values,
  between: (low, high) => [low, high],
}
for (const name of ['is', 'isNot', 'atLeast', 'atMost', 'above', 'below', 'startsWith', 'includes', 'hasWords'])
  TESTS[name] = one

/** An operator of a value; undefined where it has none of that name. */
function operatorOf(name: string, shape: Shape, path: readonly string[], shapes: Shapes): unknown {
  const { kind } = shape
  const isSingle = kind !== 'list' && kind !== 'group' && kind !== 'anything'
  // An entry itself, or an item of a list, is always present.
  const tests = isSingle ? TESTS : kind === 'group' && path.length === 0 ? {} : PRESENCE
  const collect = Object.hasOwn(tests, name) ? tests[name] : undefined
  if (collect)
    return (first: never, second: never): Condition =>
      createCondition({ kind: 'test', path, operator: name as Operator, values: collect(first, second) })
  if (kind === 'list') return listOperator(name, shape, path, shapes)
  if (!isSingle) return undefined
  if (name === 'path') return path
  if (name === 'direction') return 'ascending'
  if (name !== 'ascending' && name !== 'descending') return undefined
  return (options?: SortOptions) => ({ path, direction: name, ...options })
}

function listOperator(name: string, shape: Shape, path: readonly string[], shapes: Shapes): unknown {
  const item = shape.item as Shape
  if (name === 'each')
    return (build: (handle: unknown) => unknown) => ({
      [PLACE]: { path, shape, each: build(createHandle(item, [], shapes)) },
    })
  if (name === 'includes')
    return (value: Scalar) =>
      createCondition({ kind: 'some', path, part: { kind: 'test', path: [], operator: 'is', values: [value] } })
  if (name !== 'some' && name !== 'every' && name !== 'none') return undefined
  return (build: (handle: unknown) => Condition) =>
    createCondition({ kind: name, path, part: build(createHandle(item, [], shapes)).tree })
}

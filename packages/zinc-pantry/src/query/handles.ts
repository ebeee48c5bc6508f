import { type Condition, createCondition, type Operator, type Scalar, type SortOptions } from './condition.ts'
import { fieldsOf, type Shape, type Shapes } from './shape.ts'

/** Wrong use of a query, such as the name of a field that does not exist. */
export class QueryError extends Error {
  override readonly name = 'QueryError'
}

const COMPARISONS: readonly Operator[] = [
  'is',
  'isNot',
  'atLeast',
  'atMost',
  'above',
  'below',
  'startsWith',
  'includes',
  'hasWords',
]

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

/**
 * The handle of a value: its operators, and the handles of the fields below it, made when they are
 * asked for, since references can lead in circles.
 */
export function createHandle(shape: Shape, path: readonly string[], shapes: Shapes): unknown {
  const fields = fieldsOf(shape, shapes)
  const operators = operatorsOf(shape, path, shapes)
  return new Proxy(operators, {
    get(target, name) {
      if (name === PLACE) return { path, shape }
      if (typeof name !== 'string') return undefined
      if (Object.hasOwn(target, name)) return target[name]
      const field = fields && Object.hasOwn(fields, name) ? fields[name] : undefined
      if (field) return createHandle(field, [...path, name], shapes)
      const known = fields ? `; there are ${Object.keys(fields).join(', ')}` : ''
      throw new QueryError(`No field or operator "${name}" on ${path.join('.') || 'the entry'}${known}`)
    },
  })
}

function operatorsOf(shape: Shape, path: readonly string[], shapes: Shapes): Record<string, unknown> {
  const test =
    (operator: Operator, collect: (first: never, second: never) => readonly Scalar[]) =>
    (first: never, second: never): Condition =>
      createCondition({ kind: 'test', path, operator, values: collect(first, second) })
  const presence = { isPresent: test('isPresent', () => []), isAbsent: test('isAbsent', () => []) }
  if (shape.kind === 'list') return { ...presence, ...listOperators(shape, path, shapes) }
  // An entry itself, or an item of a list, is always present.
  if (shape.kind === 'group') return path.length === 0 ? {} : presence
  if (shape.kind === 'anything') return presence
  const operators: Record<string, unknown> = {
    ...presence,
    path,
    direction: 'ascending',
    ascending: (options?: SortOptions) => ({ path, direction: 'ascending', ...options }),
    descending: (options?: SortOptions) => ({ path, direction: 'descending', ...options }),
    isOneOf: test('isOneOf', (values) => values),
    isNoneOf: test('isNoneOf', (values) => values),
    between: test('between', (low, high) => [low, high]),
  }
  for (const operator of COMPARISONS) operators[operator] = test(operator, (value) => [value])
  return operators
}

function listOperators(shape: Shape, path: readonly string[], shapes: Shapes): Record<string, unknown> {
  const item = shape.item as Shape
  const quantified = (kind: 'some' | 'every' | 'none') => (build: (handle: unknown) => Condition) =>
    createCondition({ kind, path, part: build(createHandle(item, [], shapes)).tree })
  return {
    each: (build: (handle: unknown) => unknown) => ({
      [PLACE]: { path, shape, each: build(createHandle(item, [], shapes)) },
    }),
    some: quantified('some'),
    every: quantified('every'),
    none: quantified('none'),
    includes: (value: Scalar) =>
      createCondition({ kind: 'some', path, part: { kind: 'test', path: [], operator: 'is', values: [value] } }),
  }
}

import { canonicalStep, computedKind, computedNames } from '../values/computed-steps.ts'
import { operatorsOf } from '../values/operators.ts'
import { COUNT_STEP, KEYS_STEP } from '../values/steps.ts'
import { buildCondition } from './build-condition.ts'
import {
  type Comparison,
  type Condition,
  type ConditionTree,
  type Operator,
  type SortOptions,
  TreeCondition,
} from './condition.ts'
import { getOrCreate } from './get-or-create.ts'
import type { EachOptions } from './handle-types.ts'
import { callWith, type HandlePlace, PLACE, placeOf } from './place.ts'
import { describeUnknown, QueryError } from './query-error.ts'
import { fieldsOf, findWrongStep, type Shape, type Shapes, stepInto } from './shape.ts'
import { readSortKey } from './sort-key.ts'
import { createTest, takesMany, whyIncomparable } from './value-test.ts'

/**
 * The handle of the entries of a collection; it is kept, with what was made of it, since every query starts with it.
 */
export function entryHandle(shapes: Shapes, collection: string): unknown {
  const shape = shapes.get(collection) as Shape
  return getOrCreate(ENTRIES, shape, () => createHandle(shape, [], { shapes, scope: {} }))
}

/** By shapes, of which every site that is opened has its own. */
const ENTRIES = new WeakMap<Shape, unknown>()

/**
 * The handle of a value: its operators, and the handles of the fields below it, made when they are
 * asked for, since references can lead in circles.
 */
const createHandle = (shape: Shape, path: readonly string[], root: HandlePlace['root'], origin: object = {}): unknown =>
  new Proxy<Target>({ shape, path, root, origin, made: new Map() }, HANDLER)

interface Target extends HandlePlace {
  readonly made: Map<unknown, unknown>
}

const HANDLER: ProxyHandler<Target> = {
  get(target, name) {
    const { made } = target
    const known = made.get(name)
    if (known !== undefined) return known
    const value =
      typeof name === 'string'
        ? partOf(target, name)
        : name === PLACE
          ? target
          : name === Symbol.toPrimitive
            ? refuseValue(target)
            : undefined
    made.set(name, value)
    return value
  },
  // `{ ...trail, more }` picks all fields and one more.
  ownKeys: ({ shape, root }) => Object.keys(fieldsOf(shape, root.shapes) ?? {}),
  getOwnPropertyDescriptor: () => ({ enumerable: true, configurable: true }),
}

/** Catches a field in place of a value, as in `hut.beds > 3`: JavaScript then asks for this. */
const refuseValue =
  ({ path }: Target) =>
  (): never => {
    const name = path.join('.') || 'entry'
    throw new QueryError(
      `${name} is a field and no value: write ${name}.above(…) for >, .atLeast(…) for >=, .below(…) for <, .is(…) for ==`,
    )
  }

/** An operator of a value, or the handle of a field below it. */
function partOf(target: Target, name: string): unknown {
  const { shape, path, root, origin } = target
  const { kind, item, choices } = shape
  // An entry itself is always present.
  const operators = kind === 'group' && path.length === 0 ? [] : operatorsOf(kind, choices !== undefined)
  const operator = operators.find((one) => one === name)
  if (operator)
    return (...given: unknown[]): Condition => {
      const other = placeOf(given[0])
      const made = other
        ? createComparison(target, operator, other)
        : createTest(target, operator, takesMany(operator) ? given.flat() : given)
      return make(target, made)
    }
  const isValue = operators.length > 2
  if (isValue && kind !== 'ref') {
    if (name === 'path') return path
    if (name === 'direction') return 'ascending'
    if (name === 'ascending' || name === 'descending')
      return (options?: SortOptions) => ({ path, direction: name, ...options })
  }
  const ofItems = item && kind === 'list' && listOperator(name, target, createHandle(item, [], root))
  if (ofItems) return ofItems
  if (item && (name === 'count' || (name === 'keys' && kind === 'map'))) {
    const step = name === 'count' ? COUNT_STEP : KEYS_STEP
    const handle = createHandle(stepInto(shape, step, root.shapes) as Shape, [...path, step], root, origin)
    return () => handle
  }
  if (computedKind(shape, `${name}()`) && !Object.hasOwn(shape.fields ?? {}, name))
    return (...given: readonly unknown[]) => {
      const step = computedStep(target, name, given)
      return createHandle(stepInto(shape, step, root.shapes) as Shape, [...path, step], root, origin)
    }
  const isMap = kind === 'map'
  if (isMap && name === 'at') return (key: string) => createHandle(item as Shape, [...path, key], root, origin)
  const below = isMap ? undefined : stepInto(shape, name, root.shapes)
  if (below) return createHandle(below, [...path, name], root, origin)
  const known = [
    ...Object.keys(fieldsOf(shape, root.shapes) ?? {}),
    ...operators,
    ...computedNames(shape),
    ...(isMap ? MAP_OPERATORS : item ? LIST_OPERATORS : []),
  ]
  throw describeUnknown(`field or operator ${name} on ${path.join('.') || 'the entry'}`, known)
}

/** A condition on two fields. */
function createComparison({ path, shape, origin }: Target, operator: Operator, other: HandlePlace): ConditionTree {
  const fail = (why: string): never => {
    throw new QueryError(`${path.join('.') || 'The item'}.${operator}: ${why}`)
  }
  // The path of an item says nothing of the entry around it.
  if (other.origin !== origin) return fail('both fields must be of the entry, or both of one item of a list')
  const wrong = whyIncomparable(shape, other.shape, operator)
  return wrong === undefined
    ? { kind: 'compare', path, operator: operator as Comparison, other: other.path }
    : fail(`${other.path.join('.') || 'the item'} ${wrong}`)
}

/** The step to what is computed of a value, from what its method was given. */
function computedStep({ path, shape, root }: Target, name: string, given: readonly unknown[]): string {
  const [build] = given
  const isOfItems = shape.kind === 'list' && build !== undefined
  const of = isOfItems ? placeOf(callWith(build, createHandle(shape.item, [], root))) : undefined
  const point = given[0] as Readonly<Record<string, unknown>> | undefined
  const values = name === 'distance' ? [point?.latitude, point?.longitude] : given
  const step = canonicalStep(shape, `${name}(${isOfItems ? (of?.path.join('.') ?? '?') : values.join(',')})`)
  const wrong = findWrongStep(shape, step)
  if (wrong !== undefined) throw new QueryError(`${path.join('.')}: ${wrong}`)
  return step
}

/**
 * The handle of a field below a handle by its name, also where an operator of that name stands before it.
 *
 * @example
 * ```ts
 * import { fieldOf, type TextHandle } from 'zinc-pantry/query'
 *
 * declare const trail: { readonly region: { readonly name: TextHandle } }
 * const condition = fieldOf(trail.region, 'name').startsWith('N')
 * console.log(condition.tree)
 * ```
 */
export function fieldOf<Handle extends object, Name extends keyof Handle & string>(
  handle: Handle,
  name: Name,
): Handle[Name] {
  const { shape, path, root, origin } = placeOf(handle) ?? {}
  const below = shape && root && stepInto(shape, name, root.shapes)
  if (!below) throw describeUnknown(`field ${name}`, Object.keys((shape && root && fieldsOf(shape, root.shapes)) ?? {}))
  return createHandle(below, [...(path ?? []), name], root, origin) as Handle[Name]
}

/** The names of what handles of lists have beside operators. */
const LIST_OPERATORS = ['each', 'includes', 'some', 'every', 'none', 'count']
/** Those of maps. */
const MAP_OPERATORS = ['at', 'keys', 'count']

function listOperator(name: string, target: Target, item: unknown): unknown {
  const { path, shape, root } = target
  if (name === 'each')
    return (build: (handle: unknown) => unknown, options: EachOptions<unknown> = {}) => {
      const { where, sort, limit } = options
      const select = {
        where: where && buildCondition(root.scope, where, item).tree,
        sort: sort ? [callWith(sort, item)].flat().map(readSortKey) : [],
        limit,
      }
      const isWhole = where === undefined && sort === undefined && limit === undefined
      return {
        [PLACE]: { path, shape, root, origin: target.origin, each: build(item), ...(isWhole ? {} : { select }) },
      }
    }
  if (name === 'includes') {
    // What is no single value is never a value.
    const of = placeOf(item) as HandlePlace
    return operatorsOf(of.shape.kind).length > 2
      ? (...given: unknown[]): Condition =>
          make(target, { kind: 'some', path, part: createTest(of, 'is', given, `${path.join('.')}.includes`) })
      : undefined
  }
  if (name === 'some' || name === 'every' || name === 'none')
    return (build: (handle: never) => unknown): Condition =>
      make(target, { kind: name, path, part: buildCondition(root.scope, build, item).tree })
  return undefined
}

/** A condition that is made of a handle as its own operators make theirs. */
export const conditionOn = (handle: unknown, tree: ConditionTree): Condition =>
  make(placeOf(handle) as HandlePlace, tree)

function make({ root: { scope } }: HandlePlace, tree: ConditionTree): Condition {
  const condition = new TreeCondition(tree, scope.record)
  return scope.record ? scope.record(condition) : condition
}

import type { ConditionTree, Operator, Scalar, SortKey } from './condition.ts'
import type { Shape, Shapes } from './shape.ts'
import { stepInto } from './shape.ts'

/** A stored entry, or a group in one. */
export type StoredValue = Readonly<Record<string, unknown>>

/** What conditions that follow references need. */
export interface World {
  readonly shapes: Shapes
  /** An entry by its id; its collection is loaded already. */
  find(collection: string, id: string): StoredValue | undefined
}

/** Decides whether a condition holds for a value. */
export type Predicate = (value: unknown) => boolean

/** Turns a condition into a function once, to be run on many values of one shape. */
export function compileCondition(tree: ConditionTree, shape: Shape, world: World): Predicate {
  switch (tree.kind) {
    case 'and': {
      const parts = tree.parts.map((part) => compileCondition(part, shape, world))
      return (value) => parts.every((part) => part(value))
    }
    case 'or': {
      const parts = tree.parts.map((part) => compileCondition(part, shape, world))
      return (value) => parts.some((part) => part(value))
    }
    case 'not': {
      const part = compileCondition(tree.part, shape, world)
      return (value) => !part(value)
    }
    case 'test': {
      const read = compilePath(tree.path, shape, world).read
      const test = compileTest(tree.operator, tree.values)
      return (value) => test(read(value))
    }
    default:
      return compileQuantified(tree, shape, world)
  }
}

function compileQuantified(
  { kind, path, part }: Extract<ConditionTree, { kind: 'some' | 'every' | 'none' }>,
  shape: Shape,
  world: World,
): Predicate {
  const { read, end } = compilePath(path, shape, world)
  const holds = compileCondition(part, end.item ?? end, world)
  return (value) => {
    const list = read(value)
    const items = Array.isArray(list) ? list : []
    if (kind === 'some') return items.some(holds)
    return kind === 'every' ? items.every(holds) : !items.some(holds)
  }
}

type Reader = (value: unknown) => unknown

/** Reads the value at a path, following references; null where the way ends early. */
function compilePath(path: readonly string[], shape: Shape, world: World): { read: Reader; end: Shape } {
  let at = shape
  const steps: Reader[] = []
  for (const name of path) {
    const { kind, target = '' } = at
    if (kind === 'ref') steps.push((id) => (typeof id === 'string' ? world.find(target, id) : null))
    steps.push((value) => (value as StoredValue)[name])
    at = stepInto(at, name, world.shapes) ?? { kind: 'text' }
  }
  const read: Reader = (value) => {
    let current = value
    for (const step of steps) {
      if (current === null || current === undefined) return null
      current = step(current)
    }
    return current ?? null
  }
  return { read, end: at }
}

function compileTest(operator: Operator, values: readonly Scalar[]): Predicate {
  const [first, second] = values as [Scalar, Scalar]
  switch (operator) {
    case 'is':
      return (value) => value === first
    case 'isNot':
      return (value) => value !== first
    case 'isOneOf':
      return (value) => values.includes(value as Scalar)
    case 'isNoneOf':
      return (value) => !values.includes(value as Scalar)
    case 'isPresent':
      return (value) => value !== null
    case 'isAbsent':
      return (value) => value === null
    case 'atLeast':
      return (value) => value !== null && (value as Scalar) >= first
    case 'atMost':
      return (value) => value !== null && (value as Scalar) <= first
    case 'above':
      return (value) => value !== null && (value as Scalar) > first
    case 'below':
      return (value) => value !== null && (value as Scalar) < first
    case 'between':
      return (value) => value !== null && (value as Scalar) >= first && (value as Scalar) <= second
    case 'startsWith':
      return (value) => typeof value === 'string' && value.startsWith(String(first))
    case 'includes':
      return (value) => typeof value === 'string' && value.includes(String(first))
  }
}

/** Compares two single values of one type; text by code unit. */
export function compareScalars(a: Scalar, b: Scalar): number {
  if (a === b) return 0
  return a < b ? -1 : 1
}

/** An order of values by sort keys; those without a value come last. Equal ones stay as they were. */
export function compileOrder(keys: readonly SortKey[], shape: Shape, world: World): (a: unknown, b: unknown) => number {
  const compiled = keys.map(({ path, direction }) => ({
    read: compilePath(path, shape, world).read,
    sign: direction === 'descending' ? -1 : 1,
  }))
  return (a, b) => {
    for (const { read, sign } of compiled) {
      const left = read(a)
      const right = read(b)
      if (left === null || right === null) {
        if (left !== right) return left === null ? 1 : -1
        continue
      }
      const order = compareScalars(left as Scalar, right as Scalar)
      if (order !== 0) return order * sign
    }
    return 0
  }
}

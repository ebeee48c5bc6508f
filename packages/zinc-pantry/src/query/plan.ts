import type { ConditionTree, Scalar } from './condition.ts'
import { compileCondition, type World } from './evaluate.ts'
import { type CollectionIndex, positionsIn, rangesOf, sizeOfRange, sortedUnique } from './field-index.ts'
import type { Shape } from './shape.ts'

/** What the planner needs of every collection that a query touches. */
export interface PlanWorld extends World {
  indexOf(collection: string): CollectionIndex
  entriesOf(collection: string): readonly Readonly<Record<string, unknown>>[]
  /** The entries of one language, or undefined where all count. */
  positionsOf(collection: string): ReadonlySet<number> | undefined
}

/** A way to find the entries that may match, and what it costs. */
export interface Access {
  /** The indexes used, as paths; of several for `or` all. */
  readonly uses: readonly string[]
  /** An upper bound of the positions it gives. */
  readonly size: number
  /** Positions of entries that may match, sorted. The condition is tested on each all the same. */
  positions(): number[]
}

interface Scope {
  readonly collection: string
  readonly shape: Shape
  /** Names from the entry to the value at hand, lists entered. */
  readonly prefix: readonly string[]
}

/** The best access for a condition, or undefined where every entry must be looked at. */
export function planAccess(tree: ConditionTree, scope: Scope, world: PlanWorld): Access | undefined {
  switch (tree.kind) {
    case 'test':
      return planTest(tree, scope, world)
    case 'some': {
      const path = followPath(tree.path, scope)
      if (path.crossing) return undefined
      const item = path.end.item ?? path.end
      return planAccess(tree.part, { ...scope, shape: item, prefix: [...scope.prefix, ...tree.path] }, world)
    }
    case 'and': {
      const ways = tree.parts.flatMap((part) => planAccess(part, scope, world) ?? [])
      return ways.reduce<Access | undefined>((best, way) => (best && best.size <= way.size ? best : way), undefined)
    }
    case 'or': {
      const ways = tree.parts.map((part) => planAccess(part, scope, world))
      if (ways.some((way) => way === undefined)) return undefined
      const all = ways as Access[]
      return {
        uses: [...new Set(all.flatMap((way) => way.uses))],
        size: all.reduce((sum, way) => sum + way.size, 0),
        positions: () => sortedUnique(all.flatMap((way) => way.positions())),
      }
    }
    default:
      return undefined
  }
}

type Test = Extract<ConditionTree, { kind: 'test' }>

function planTest(tree: Test, scope: Scope, world: PlanWorld): Access | undefined {
  const { end, crossing } = followPath(tree.path, scope)
  if (crossing) return planThroughReference(tree, { ...crossing, scope }, world)
  if (end.kind === 'list' || end.kind === 'group') return undefined
  return planOnIndex([...scope.prefix, ...tree.path], tree, scope.collection, world)
}

function planOnIndex(
  path: readonly string[],
  { operator, values }: Pick<Test, 'operator' | 'values'>,
  collection: string,
  world: PlanWorld,
): Access | undefined {
  const name = path.join('.')
  const indexes = world.indexOf(collection)
  const index = Object.hasOwn(indexes, name) ? indexes[name] : undefined
  const ranges = index && rangesOf(index, operator, values)
  if (!index || !ranges) return undefined
  const size = ranges.reduce((sum, range) => sum + sizeOfRange(index, range), 0)
  return { uses: [`${collection}.${name}`], size, positions: () => positionsIn(index, ranges) }
}

interface Crossing {
  /** Names up to the reference itself. */
  readonly before: readonly string[]
  readonly target: string
  /** Names below the entry it leads to. */
  readonly after: readonly string[]
}

function followPath(path: readonly string[], scope: Scope): { end: Shape; crossing?: Crossing } {
  let at = scope.shape
  for (const [position, name] of path.entries()) {
    if (at.kind === 'ref')
      return {
        end: at,
        crossing: { before: path.slice(0, position), target: at.target ?? '', after: path.slice(position) },
      }
    at = at.fields?.[name] ?? { kind: 'text' }
  }
  return { end: at }
}

/** Finds the entries of the target first, then those that refer to one of them. */
function planThroughReference(
  tree: Test,
  { before, target, after, scope }: Crossing & { scope: Scope },
  world: PlanWorld,
): Access | undefined {
  // A condition that holds where there is no value also holds where there is no reference.
  const shape = world.shapes.get(target)
  if (!shape || ['isAbsent', 'isNot', 'isNoneOf'].includes(tree.operator)) return undefined
  const inner: Test = { ...tree, path: after }
  const way = planAccess(inner, { collection: target, shape, prefix: [] }, world)
  if (!way) return undefined
  const holds = compileCondition(inner, shape, world)
  const entries = world.entriesOf(target)
  const ids = way.positions().flatMap((position) => (holds(entries[position]) ? [entries[position]?.id as Scalar] : []))
  const own = planOnIndex([...scope.prefix, ...before], { operator: 'isOneOf', values: ids }, scope.collection, world)
  return own && { ...own, uses: [...way.uses, ...own.uses] }
}

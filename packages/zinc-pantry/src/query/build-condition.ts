import { type Condition, describe, TreeCondition } from './condition.ts'
import { type ConditionScope, placeOf } from './place.ts'
import { QueryError } from './query-error.ts'

/**
 * Lets a function make a condition of handles. One that it loses is an error: JavaScript's own `&&`, `||`, `!`, `>` and
 * `===` know nothing of conditions.
 */
export function buildCondition(
  scope: ConditionScope,
  build: (handle: never) => unknown,
  handle: unknown,
): TreeCondition {
  if (typeof build !== 'function') throw new QueryError(`A condition is made by a function, not ${describe(build)}`)
  const made: TreeCondition[] = []
  const given = recorded(scope, made, build, handle)
  if (!(given instanceof TreeCondition)) throw whyNone(given, made)
  given.isUsed = true
  const lost = made.find(({ isUsed }) => !isUsed)
  if (lost) throw new QueryError(`The condition on ${nameOf(lost)} is lost: ${JOINED}`)
  // What stands behind || is never made, since every condition counts as true; here each in turn is nothing.
  if (/\|\||\?/.test(String(build)))
    for (const at of made.keys()) {
      const others: TreeCondition[] = []
      try {
        recorded(scope, others, build, handle, at)
      } catch {
        // A method of nothing: no fault of the function.
      }
      const unseen = testsOf(others).find((name, number) => testsOf(made)[number] !== name)
      if (unseen !== undefined && testsOf(others).length > testsOf(made).length)
        throw new QueryError(`The condition on ${unseen} is lost: ${JOINED}`)
    }
  return given
}

const JOINED = 'write a.and(b) for a && b, a.or(b) for a || b, and a.not() for !a'

function recorded(
  scope: ConditionScope,
  made: TreeCondition[],
  build: (handle: never) => unknown,
  handle: unknown,
  nothingAt = -1,
): unknown {
  const outer = scope.record
  scope.record = (condition) => (made.push(condition) - 1 === nothingAt ? (undefined as never) : condition)
  try {
    return build(handle as never)
  } finally {
    scope.record = outer
  }
}

const testsOf = (made: readonly TreeCondition[]): string[] => made.filter(({ tree }) => 'path' in tree).map(nameOf)

const nameOf = ({ tree }: Condition): string =>
  'path' in tree
    ? tree.path.join('.') || 'the item'
    : tree.kind === 'not'
      ? 'what is not so'
      : `several fields joined by ${tree.kind}`

function whyNone(given: unknown, made: readonly TreeCondition[]): QueryError {
  const { path } = placeOf(given) ?? {}
  const what = path ? `the field ${path.join('.')}` : describe(given)
  const help =
    made.length > 0 ? JOINED : 'write entry.beds.above(3) for entry.beds > 3, and entry.id.is("a") for entry.id === "a"'
  return new QueryError(`The function must return a condition, not ${what}: ${help}`)
}

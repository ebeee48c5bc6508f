import { foldText } from '../values/computed-steps.ts'
import { isDate } from '../values/date.ts'
import { readDay, readInstant } from '../values/instant.ts'
import { COMPARISONS } from '../values/operators.ts'
import { readTime } from '../values/time.ts'
import { type ConditionTree, describe, type Operator, type Scalar } from './condition.ts'
import { QueryError } from './query-error.ts'
import type { Shape } from './shape.ts'

/** A value as a field keeps it. A day that stands for instants is the first of them, with the last. */
export interface Reading {
  readonly value: Scalar
  readonly last?: string
}

/**
 * Reads a value that a condition compares with as the field reads its own; undefined for one that it can never have.
 */
export function readScalar(value: unknown, { kind, choices, zone }: Shape, operator: Operator): Reading | undefined {
  if (kind === 'number') return typeof value === 'number' && !Number.isNaN(value) ? { value } : undefined
  if (kind === 'flag') return typeof value === 'boolean' ? { value } : undefined
  if (kind === 'anything' && /^(?:boolean|number)$/.test(typeof value)) return { value: value as Scalar }
  if (typeof value !== 'string') return undefined
  if (kind === 'date') return isDate(value) ? { value } : undefined
  if (kind === 'time') {
    const time = readTime(value)
    return time === undefined ? undefined : { value: time }
  }
  if (kind === 'instant') {
    const [first, last] = readDay(value, zone) ?? []
    if (first !== undefined && last !== undefined) return { value: first, last }
    const read = readInstant(value, zone)
    return 'value' in read ? read : undefined
  }
  return !choices || choices.includes(value) || operator === 'startsWith' ? { value } : undefined
}

/** The value that a condition on a kind of value takes, in words. */
export function expectedOf({ kind, choices, zone }: Shape): string {
  if (choices) return `one of ${choices.join(', ')}`
  switch (kind) {
    case 'number':
      return 'a number'
    case 'flag':
      return 'true or false'
    case 'date':
      return 'a date as YYYY-MM-DD'
    case 'time':
      return 'a time as HH:MM'
    case 'instant':
      return `a date, or an instant as YYYY-MM-DDTHH:MM:SS${zone === undefined ? 'Z' : ''}`
    case 'ref':
      return 'an id'
    case 'anything':
      return 'a text, a number or a flag'
    default:
      return 'a text'
  }
}

/** Why two fields cannot be compared, in words that go on from the second; undefined where they can be. */
export function whyIncomparable(one: Shape, other: Shape, operator: Operator): string | undefined {
  if (!(COMPARISONS as readonly string[]).includes(operator)) return 'is a field, where a value is expected'
  const isAlike = one.kind === other.kind && one.target === other.target
  if (isAlike || one.kind === 'anything' || other.kind === 'anything') return undefined
  return `is a ${other.kind}, which is not compared with a ${one.kind}`
}

/** True for the text of a regular expression, as JavaScript has it with the flag `u`. */
export function isPattern(value: unknown): boolean {
  try {
    new RegExp(String(value), 'u')
    return typeof value === 'string'
  } catch {
    return false
  }
}

/** How many values an operator takes, where it is not one. */
const COUNTS: Partial<Record<Operator, number>> = { isPresent: 0, isAbsent: 0, between: 2 }

/** True for an operator that takes any number of values. */
export const takesMany = (operator: Operator): boolean => operator === 'isOneOf' || operator === 'isNoneOf'

/** Makes the test of an operator on a kind of value; a value that is none of the field's is an error. */
export function createTest(
  { path, shape }: { readonly path: readonly string[]; readonly shape: Shape },
  operator: Operator,
  given: readonly unknown[],
  name?: string,
): ConditionTree {
  const fail = (why: string): never => {
    throw new QueryError(`${name ?? `${path.join('.') || 'The item'}.${operator}`} takes ${why}`)
  }
  const wanted = takesMany(operator) ? given.length : (COUNTS[operator] ?? 1)
  if (given.length > wanted) fail(`${wanted === 1 ? 'one value' : `${wanted} values`}, not ${given.length}`)
  if (operator === 'matches' && !isPattern(given[0])) fail(`a regular expression, not ${describe(given[0])}`)
  const readings: Reading[] = []
  // A value that is missing is told as what it is: undefined.
  for (let at = 0; at < wanted; at++)
    readings.push(readScalar(given[at], shape, operator) ?? fail(`${expectedOf(shape)}, not ${describe(given[at])}`))
  return testOf(path, operator, readings)
}

const isRange = ({ last }: Reading): boolean => last !== undefined
const scalarOf = ({ value }: Reading): Scalar => value

/** The test of values that were read; days among instants stand for all that is in them. */
export function testOf(path: readonly string[], operator: Operator, given: readonly Reading[]): ConditionTree {
  // What is compared without case and marks is given in any way.
  const isFolded = path.at(-1) === 'folded()'
  const readings = isFolded ? given.map(({ value }) => ({ value: foldText(String(value)) })) : given
  if (!readings.some(isRange)) return { kind: 'test', path, operator, values: readings.map(scalarOf) }
  const test = (name: Operator, ...values: Scalar[]): ConditionTree => ({ kind: 'test', path, operator: name, values })
  const [{ value, last = value }, { value: second, last: end = second }] = [readings[0], readings.at(-1)] as [
    Reading,
    Reading,
  ]
  switch (operator) {
    case 'isNot':
    case 'isNoneOf':
      return { kind: 'not', part: testOf(path, operator === 'isNot' ? 'is' : 'isOneOf', readings) }
    case 'isOneOf':
      return { kind: 'or', parts: readings.map((one) => testOf(path, 'is', [one])) }
    case 'is':
      return test('between', value, last)
    case 'between':
      return test('between', value, end)
    case 'above':
    case 'atMost':
      return test(operator, last)
    default:
      return test(operator, value)
  }
}

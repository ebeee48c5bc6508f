import type { Operator, Scalar } from './condition.ts'
import type { Side } from './row-set.ts'

/** Decides whether a single value passes. */
export type ValueTest = (value: Scalar) => boolean

/** The operators that hold where there is no value; each is another one turned around. */
export const NEGATIVE: Partial<Record<Operator, Operator>> = {
  isNot: 'is',
  isNoneOf: 'isOneOf',
  isAbsent: 'isPresent',
}

/** What is asked of a single value. */
export interface ValueQuestion {
  readonly operator: Operator
  readonly values: readonly Scalar[]
  /** The test itself, where it needs more than this module has. */
  readonly passes?: ValueTest
}

/** The stretches of values in order that pass, for the operators that have such. */
export const SIDES: Partial<Record<Operator, (first: Scalar, second: Scalar) => Side<Scalar>>> = {
  is: (first) => (value) => (value < first ? -1 : +(value > first)),
  atLeast: (first) => (value) => -(value < first),
  above: (first) => (value) => -(value <= first),
  atMost: (first) => (value) => +(value > first),
  below: (first) => (value) => +(value >= first),
  between: (first, second) => (value) => (value < first ? -1 : +(value > second)),
  // Texts with a prefix stand together.
  startsWith: (first) => (value) => (value < first ? -1 : +!String(value).startsWith(String(first))),
}

/** The test of an operator that needs a value. */
export function compileTest({ operator, values, passes }: ValueQuestion): ValueTest {
  if (passes) return passes
  const [first, second] = values as [Scalar, Scalar]
  if (operator === 'includes') return (value) => String(value).includes(String(first))
  if (operator === 'is' || operator === 'isOneOf') {
    const wanted = new Set(values)
    return (value) => wanted.has(value)
  }
  const side = SIDES[operator]?.(first, second)
  return (value) => !side || side(value) === 0
}

/** The stretches of values among which all that pass a test are. */
export function sidesOf({ operator, values }: ValueQuestion): readonly Side<Scalar>[] {
  const [first, second] = values as [Scalar, Scalar]
  if (operator === 'isOneOf')
    return [...new Set(values)].flatMap((value) => sidesOf({ operator: 'is', values: [value] }))
  return [SIDES[operator]?.(first, second) ?? (() => 0)]
}

/** True where each value of the stretches passes, so that none need be tested. */
export const isStretch = ({ operator }: ValueQuestion): boolean => operator !== 'includes' && operator !== 'hasWords'

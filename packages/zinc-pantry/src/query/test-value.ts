import type { Operator, Scalar } from './condition.ts'

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

/** Where a value lies beside a stretch of values in order: below 0 before it, 0 in it, above 0 behind it. */
export type Side = (value: Scalar) => number

/** The sides of values beside those that pass, for the operators that let a stretch of values pass. */
export const SIDES: Partial<Record<Operator, (value: Scalar, first: Scalar, second: Scalar) => number>> = {
  is: (value, first) => (value < first ? -1 : +(value > first)),
  atLeast: (value, first) => -(value < first),
  above: (value, first) => -(value <= first),
  atMost: (value, first) => +(value > first),
  below: (value, first) => +(value >= first),
  between: (value, first, second) => (value < first ? -1 : +(value > second)),
  // Texts with a prefix stand together.
  startsWith: (value, first) => (value < first ? -1 : +!String(value).startsWith(String(first))),
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
  const side = SIDES[operator]
  return side ? (value) => side(value, first, second) === 0 : () => true
}

/** The stretches of values among which all that pass a test are. */
export function sidesOf({ operator, values }: ValueQuestion): readonly Side[] {
  const [first, second] = values as [Scalar, Scalar]
  if (operator === 'isOneOf')
    return [...new Set(values)].flatMap((value) => sidesOf({ operator: 'is', values: [value] }))
  const side = SIDES[operator] ?? (() => 0)
  return [(value) => side(value, first, second)]
}

/** True where each value of the stretches passes, so that none need be tested. */
export const isStretch = ({ operator }: ValueQuestion): boolean => operator !== 'includes' && operator !== 'hasWords'

import type { Operator, Scalar } from './condition.ts'
import type { Bound } from './posting-list.ts'

/** Decides whether a single value passes. */
export type ValueTest = (value: Scalar) => boolean

/** The operators that hold where there is no value; each is another one turned around. */
export const NEGATIVE: Partial<Record<Operator, Operator>> = {
  isNot: 'is',
  isNoneOf: 'isOneOf',
  isAbsent: 'isPresent',
}

/** A question about a single value. */
export interface ValueQuestion {
  readonly operator: Operator
  readonly values: readonly Scalar[]
  /** The test itself, where it needs more than this module has. */
  readonly passes?: ValueTest
  /** Reads the value that is asked about, where it is computed. */
  readonly read?: (value: unknown) => unknown
}

/** The ranges of values in order that pass, for the operators that have such. */
export const BOUNDS: Partial<Record<Operator, (first: Scalar, second: Scalar) => Bound<Scalar>>> = {
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
  if (operator === 'includes') return (value) => typeof value === 'string' && value.includes(String(first))
  if (operator === 'is' || operator === 'isOneOf') {
    const wanted = new Set(values)
    return (value) => wanted.has(value)
  }
  const bound = BOUNDS[operator]?.(first, second)
  // Of what may be anything a value of another type is on neither side.
  return (value) => !bound || (typeof value === typeof first && bound(value) === 0)
}

/** The ranges of values among which all that pass a test are. */
export function boundsOf({ operator, values }: ValueQuestion): readonly Bound<Scalar>[] {
  const [first, second] = values as [Scalar, Scalar]
  if (operator === 'isOneOf')
    return [...new Set(values)].flatMap((value) => boundsOf({ operator: 'is', values: [value] }))
  return [BOUNDS[operator]?.(first, second) ?? (() => 0)]
}

/** True where each value of the ranges passes, so that none need be tested. */
export const isRange = ({ operator }: ValueQuestion): boolean => !/^(?:includes|hasWords|matches)$/.test(operator)

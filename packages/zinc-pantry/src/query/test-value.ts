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

/** The test of an operator that needs a value. */
export function compileTest({ operator, values, passes }: ValueQuestion): ValueTest {
  if (passes) return passes
  const [first, second] = values as [Scalar, Scalar]
  switch (operator) {
    case 'is':
      return (value) => value === first
    case 'isOneOf': {
      const wanted = new Set(values)
      return (value) => wanted.has(value)
    }
    case 'atLeast':
      return (value) => value >= first
    case 'atMost':
      return (value) => value <= first
    case 'above':
      return (value) => value > first
    case 'below':
      return (value) => value < first
    case 'between':
      return (value) => value >= first && value <= second
    case 'startsWith':
      return (value) => String(value).startsWith(String(first))
    case 'includes':
      return (value) => String(value).includes(String(first))
    default:
      return () => true
  }
}

/** A stretch of values in order: what lies before it, and what behind it. */
export interface Stretch {
  before(value: Scalar): boolean
  behind(value: Scalar): boolean
}

const never = (): boolean => false

const exactly = (wanted: Scalar): Stretch => ({
  before: (value) => value < wanted,
  behind: (value) => value > wanted,
})

/** The stretches of values among which all that pass a test are. */
export function stretchesOf({ operator, values }: ValueQuestion): readonly Stretch[] {
  const [first, second] = values as [Scalar, Scalar]
  switch (operator) {
    case 'is':
      return [exactly(first)]
    case 'isOneOf':
      return [...new Set(values)].map(exactly)
    case 'atLeast':
      return [{ before: (value) => value < first, behind: never }]
    case 'above':
      return [{ before: (value) => value <= first, behind: never }]
    case 'atMost':
      return [{ before: never, behind: (value) => value > first }]
    case 'below':
      return [{ before: never, behind: (value) => value >= first }]
    case 'between':
      return [{ before: (value) => value < first, behind: (value) => value > second }]
    case 'startsWith': {
      // Texts with a prefix stand together.
      const prefix = String(first)
      return [
        {
          before: (value) => value < prefix,
          behind: (value) => value > prefix && !String(value).startsWith(prefix),
        },
      ]
    }
    default:
      return [{ before: never, behind: never }]
  }
}

/** True where each value of the stretches passes, so that none need be tested. */
export const isStretch = ({ operator }: ValueQuestion): boolean => operator !== 'includes' && operator !== 'hasWords'

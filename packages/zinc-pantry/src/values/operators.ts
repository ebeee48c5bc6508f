/** The operators that every single value has. */
const EVERY = ['is', 'isNot', 'isOneOf', 'isNoneOf', 'isPresent', 'isAbsent'] as const
/** Those of values that have an order. */
const ORDERED = [...EVERY, 'atLeast', 'atMost', 'above', 'below', 'between'] as const
/** Those of texts, which are all. */
const ALL = [...ORDERED, 'startsWith', 'includes', 'hasWords', 'matches'] as const
/** Those of what holds more than one value. */
const PRESENCE = ['isPresent', 'isAbsent'] as const

/** How a value is tested. */
export type Operator = (typeof ALL)[number]

/** How two fields are compared. */
export const COMPARISONS = ['is', 'isNot', 'above', 'atLeast', 'below', 'atMost'] as const
export type Comparison = (typeof COMPARISONS)[number]

/** The names that handles of groups and references have for themselves beside those of the fields below. */
export const HANDLE_NAMES: readonly string[] = EVERY

/** The operators that suit a kind of value; a text of which the values are listed has no order. */
export function operatorsOf(kind: string, isListed = false): readonly Operator[] {
  if (['list', 'map', 'group'].includes(kind)) return PRESENCE
  if (kind === 'anything') return ALL
  if (kind === 'text') return isListed ? EVERY : ALL
  return ['number', 'date', 'time', 'instant'].includes(kind) ? ORDERED : EVERY
}

/** The operators as they are written in the text form of a condition. */
export const WRITTEN_OPERATORS: Readonly<Record<Operator, string>> = {
  is: '=',
  isNot: '!=',
  above: '>',
  atLeast: '>=',
  below: '<',
  atMost: '<=',
  between: 'between',
  isOneOf: 'in',
  isNoneOf: 'not in',
  startsWith: 'startsWith',
  includes: 'includes',
  hasWords: 'hasWords',
  matches: 'matches',
  isPresent: 'present',
  isAbsent: 'absent',
}

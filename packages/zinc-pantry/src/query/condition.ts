/** A value that a condition compares with. */
export type Scalar = string | number | boolean

/** How a single value is tested. */
export type Operator = (typeof OPERATORS)[number]

/** The operators by their names. */
export const OPERATORS = [
  'is',
  'isNot',
  'isOneOf',
  'isNoneOf',
  'isPresent',
  'isAbsent',
  'atLeast',
  'atMost',
  'above',
  'below',
  'between',
  'startsWith',
  'includes',
  'hasWords',
] as const

/**
 * A condition as plain data. Paths are names of fields below the value at hand, through groups and
 * references; an empty path means the value itself. Lists are entered by `some`, `every` and `none`.
 */
export type ConditionTree =
  | {
      readonly kind: 'test'
      readonly path: readonly string[]
      readonly operator: Operator
      readonly values: readonly Scalar[]
    }
  | { readonly kind: 'and' | 'or'; readonly parts: readonly ConditionTree[] }
  | { readonly kind: 'not'; readonly part: ConditionTree }
  | { readonly kind: 'some' | 'every' | 'none'; readonly path: readonly string[]; readonly part: ConditionTree }

/** A condition on an entry, made with the handles of its fields. */
export interface Condition {
  readonly tree: ConditionTree
  /** True where this and all the others are. */
  and(...others: readonly Condition[]): Condition
  /** True where this or one of the others is. */
  or(...others: readonly Condition[]): Condition
  /** True where this is not. */
  not(): Condition
}

/** Makes a condition from its tree. */
export const createCondition = (tree: ConditionTree): Condition => new TreeCondition(tree)

/** Conditions are made for every query; methods of their own for each would take longer than many an answer. */
class TreeCondition implements Condition {
  readonly tree: ConditionTree

  constructor(tree: ConditionTree) {
    this.tree = tree
  }

  and(...others: readonly Condition[]): Condition {
    return join('and', [this, ...others])
  }

  or(...others: readonly Condition[]): Condition {
    return join('or', [this, ...others])
  }

  not(): Condition {
    return createCondition({ kind: 'not', part: this.tree })
  }
}

const join = (kind: 'and' | 'or', parts: readonly [Condition, ...Condition[]]): Condition =>
  parts.length === 1 ? parts[0] : createCondition({ kind, parts: parts.map(({ tree }) => tree) })

/** One key to sort by. */
export interface SortKey extends SortOptions {
  readonly path: readonly string[]
  readonly direction: 'ascending' | 'descending'
}

/** How a key orders. */
export interface SortOptions {
  /** The language (BCP 47) by whose rules texts are ordered. Default: by code unit, the same on every machine. */
  readonly collation?: string
  /** Where entries without a value stand, whatever the direction. Default: `last`. */
  readonly absent?: 'first' | 'last'
}

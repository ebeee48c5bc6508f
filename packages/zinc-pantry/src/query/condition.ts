import type { Comparison, Operator } from '../values/operators.ts'
import { QueryError } from './query-error.ts'

export type { Comparison, Operator }

/** A value that a condition compares with. */
export type Scalar = string | number | boolean

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
  | {
      /** Two fields of one entry, or of one item of a list; false where one of them has no value. */
      readonly kind: 'compare'
      readonly path: readonly string[]
      readonly operator: Comparison
      readonly other: readonly string[]
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

/** Is told of every condition that a function makes, and may give something else in its place. */
export type Recorder = (condition: TreeCondition) => Condition

/** Conditions are made for every query; methods of their own for each would take longer than many an answer. */
export class TreeCondition implements Condition {
  readonly tree: ConditionTree
  /** True once it is a part of another condition. */
  isUsed = false
  readonly #record: Recorder | undefined

  constructor(tree: ConditionTree, record?: Recorder) {
    this.tree = tree
    this.#record = record
  }

  and(...others: readonly Condition[]): Condition {
    return this.#join('and', others)
  }

  or(...others: readonly Condition[]): Condition {
    return this.#join('or', others)
  }

  not(): Condition {
    this.isUsed = true
    return this.#make({ kind: 'not', part: this.tree })
  }

  /** Catches a condition in place of a value, as in `a > b` or `a & b`: JavaScript then asks for this. */
  [Symbol.toPrimitive](): never {
    throw new QueryError(
      'A condition has no value: conditions are joined by .and() and .or(), and turned around by .not()',
    )
  }

  #join(kind: 'and' | 'or', others: readonly Condition[]): Condition {
    const parts = [this, ...others].map((part) => {
      if (!(part instanceof TreeCondition)) throw new QueryError(`.${kind}() takes conditions, not ${describe(part)}`)
      part.isUsed = true
      return part.tree
    })
    return others.length === 0 ? this.#make(this.tree) : this.#make({ kind, parts })
  }

  #make(tree: ConditionTree): Condition {
    const made = new TreeCondition(tree, this.#record)
    return this.#record ? this.#record(made) : made
  }
}

/** A value in words: as it is written in JavaScript, or what it is. */
export function describe(value: unknown): string {
  if (typeof value === 'string') return JSON.stringify(value)
  if (typeof value === 'function') return 'a function'
  if (typeof value === 'bigint') return `${value}n`
  if (typeof value !== 'object' || value === null) return String(value)
  return value instanceof Date
    ? 'a Date, whose text toISOString() gives'
    : Array.isArray(value)
      ? 'a list'
      : 'an object'
}

/** One key to sort by. */
export interface SortKey extends SortOptions {
  readonly path: readonly string[]
  readonly direction: 'ascending' | 'descending'
}

/**
 * For `sort`: the entries nearest to the words of `search` first, before other keys.
 *
 * @example
 * ```ts
 * import { byScore, type Query, type TextHandle } from 'zinc-pantry/query'
 *
 * declare const trails: Query<object, { title: TextHandle }>
 * const found = await trails.search('stony').sort((trail) => [byScore, trail.title]).toArray()
 * console.log(found.length)
 * ```
 */
export const byScore: SortKey = Object.freeze({ path: ['score()'], direction: 'descending' })

/** How a key orders. */
export interface SortOptions {
  /** The language (BCP 47) by whose rules texts are ordered. Default: by code unit, the same on every machine. */
  readonly collation?: string
  /** Where entries without a value stand, whatever the direction. Default: `last`. */
  readonly absent?: 'first' | 'last'
}

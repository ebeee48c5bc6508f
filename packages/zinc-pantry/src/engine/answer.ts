import type { ValueCount } from '../query/count-values.ts'
import type { QueryPlan } from '../query/plan.ts'
import type { Shape } from '../query/shape.ts'

/** The answer to a {@link Question}. */
export interface Answer {
  readonly collection: string
  readonly columns: readonly { readonly name: string; readonly shape: Shape }[]
  /** One row an entry, its cells in the order of the columns. */
  readonly rows: readonly (readonly unknown[])[]
  /** How deep each row stands in the tree, where that was asked for; what stands below is behind it. */
  readonly depths?: readonly number[]
  /** Entries that match, before limit and offset. */
  readonly total: number
  /** How many groups there are, before limit and offset, where they were asked for. */
  readonly groupCount?: number
  /** The first entries of each group, where they were asked for. */
  readonly members?: GroupMembers
  /** How many matching entries have each value of a field, conditions on the field itself left aside. */
  readonly facets: readonly { readonly name: string; readonly counts: readonly FacetCount[] }[]
  readonly plan: QueryPlan
}

/** How many entries have a value, and what an id is shown with where that was asked for. */
export interface FacetCount extends ValueCount {
  readonly label?: unknown
}

/** Entries of groups. */
export interface GroupMembers {
  readonly columns: Answer['columns']
  /** Of each group the rows of its entries. */
  readonly rows: readonly Answer['rows'][]
}

import type { Scalar } from './condition.ts'

/**
 * A data cube: how many rows have each combination of values of some fields that have one of few values each. It answers for counts
 * under conditions on these fields without a look at rows.
 */
export interface Cube {
  /** Dotted paths of the fields. */
  readonly paths: readonly string[]
  /** Of each field its value in every cell; null for none. */
  readonly columns: readonly (readonly (Scalar | null)[])[]
  /** How many rows are in each cell. */
  readonly counts: readonly number[]
}

/** Where the cube of a collection is. */
export interface StoredCube {
  readonly paths: readonly string[]
  readonly chunk: string
}

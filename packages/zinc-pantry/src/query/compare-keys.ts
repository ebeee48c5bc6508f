import type { Scalar, SortKey } from './condition.ts'

/** The values of an entry that it is ordered by. */
export type KeyValues = readonly (Scalar | null)[]

/** Compares the values of sort keys. */
export function compareEntries(sort: readonly SortKey[]): (a: KeyValues, b: KeyValues) => number {
  const comparisons = sort.map(compileComparison)
  return (a, b) => {
    for (const [at, compare] of comparisons.entries()) {
      const difference = compare(a[at] ?? null, b[at] ?? null)
      if (difference) return difference
    }
    return 0
  }
}

function compileComparison({ direction, collation, absent }: SortKey): (a: Scalar | null, b: Scalar | null) => number {
  const sign = direction === 'descending' ? -1 : 1
  const nothing = absent === 'first' ? -1 : 1
  const collator = collation === undefined ? undefined : new Intl.Collator(collation)
  return (a, b) => {
    if (a === null || b === null) return a === b ? 0 : a === null ? nothing : -nothing
    return (collator && typeof a === 'string' ? collator.compare(a, String(b)) : compareScalars(a, b)) * sign
  }
}

/** Compares two single values; text by code unit, and those of several types by type. */
export const compareScalars = (a: Scalar, b: Scalar): number =>
  typeof a === typeof b ? (a < b ? -1 : +(a > b)) : typeof a < typeof b ? -1 : 1

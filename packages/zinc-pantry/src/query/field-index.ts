import type { Operator, Scalar } from './condition.ts'
import { compareScalars } from './evaluate.ts'

/**
 * The sorted index of one path: every value that occurs, in order, and for each the positions of the
 * entries that have it. `entries` from `starts[n]` to `starts[n + 1]` belong to `values[n]`.
 */
export interface FieldIndex {
  readonly values: readonly Scalar[]
  readonly starts: readonly number[]
  readonly entries: readonly number[]
}

/** The indexes of a collection by path; names are joined with dots, lists are entered in silence. */
export type CollectionIndex = Readonly<Record<string, FieldIndex>>

/** The number of the first value that is not below the given one. */
function lowerBound({ values }: FieldIndex, value: Scalar): number {
  let low = 0
  let high = values.length
  while (low < high) {
    const middle = (low + high) >> 1
    if (compareScalars(values[middle] as Scalar, value) < 0) low = middle + 1
    else high = middle
  }
  return low
}

/** The number of the first value that is above the given one. */
function upperBound(index: FieldIndex, value: Scalar): number {
  const at = lowerBound(index, value)
  return index.values[at] === value ? at + 1 : at
}

/** Ranges `[from, to)` of value numbers that a test selects, or undefined where the index is no help. */
export function rangesOf(
  index: FieldIndex,
  operator: Operator,
  values: readonly Scalar[],
): readonly (readonly [from: number, to: number])[] | undefined {
  const [first, second] = values as [Scalar, Scalar]
  const all = index.values.length
  switch (operator) {
    case 'is':
      return [[lowerBound(index, first), upperBound(index, first)]]
    case 'isOneOf':
      return values.map((value) => [lowerBound(index, value), upperBound(index, value)] as const)
    case 'atLeast':
      return [[lowerBound(index, first), all]]
    case 'above':
      return [[upperBound(index, first), all]]
    case 'atMost':
      return [[0, upperBound(index, first)]]
    case 'below':
      return [[0, lowerBound(index, first)]]
    case 'between':
      return [[lowerBound(index, first), upperBound(index, second)]]
    case 'isPresent':
      return [[0, all]]
    case 'startsWith': {
      // Texts with a prefix stand together, from the prefix itself to before its successor.
      const prefix = String(first)
      const from = lowerBound(index, prefix)
      let to = from
      while (to < all && String(index.values[to]).startsWith(prefix)) to++
      return [[from, to]]
    }
    default:
      return undefined
  }
}

/** How many positions a range of value numbers holds. */
export const sizeOfRange = ({ starts }: FieldIndex, [from, to]: readonly [number, number]): number =>
  to > from ? (starts[to] ?? 0) - (starts[from] ?? 0) : 0

/** The positions in ranges of value numbers, in order, each once. */
export function positionsIn(index: FieldIndex, ranges: readonly (readonly [number, number])[]): number[] {
  const found: number[] = []
  for (const [from, to] of ranges)
    if (to > from)
      for (let at = index.starts[from] ?? 0; at < (index.starts[to] ?? 0); at++) found.push(index.entries[at] as number)
  return sortedUnique(found)
}

/** Sorts positions and drops those that stand twice. */
export function sortedUnique(positions: number[]): number[] {
  positions.sort((a, b) => a - b)
  return positions.filter((position, at) => at === 0 || position !== positions[at - 1])
}

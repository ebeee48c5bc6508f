import type { Comparison, ConditionTree } from './condition.ts'
import type { createReader } from './read-path.ts'

/** A comparison of two fields, ready to be made of many values. */
export interface ComparedFields {
  readonly kind: 'compare'
  holds(value: unknown): boolean
}

/** Where a field stands: up to a reference, and on by the ids of what that leads to. */
export interface FieldPlace {
  readonly path: readonly string[]
  /** The values behind the reference, by ids. */
  readonly behind?: ReadonlyMap<unknown, unknown>
}

/** What the runtime has for it. */
interface Tools {
  readonly createReader: typeof createReader
  /** Finds where a field stands. */
  follow(path: readonly string[]): Promise<FieldPlace>
}

/** Whether the first passes, by its side of the second. */
const PASSES: Readonly<Record<Comparison, (side: number) => boolean>> = {
  is: (side) => side === 0,
  isNot: (side) => side !== 0,
  above: (side) => side > 0,
  atLeast: (side) => side >= 0,
  below: (side) => side < 0,
  atMost: (side) => side <= 0,
}

/** Makes a comparison ready; false where one of the fields has no value. */
export async function prepareComparison(
  { path, other, operator }: Extract<ConditionTree, { readonly kind: 'compare' }>,
  { createReader: open, follow }: Tools,
): Promise<ComparedFields> {
  const readerOf = async (field: readonly string[]): Promise<(value: unknown) => unknown> => {
    const { path: way, behind } = await follow(field)
    const read = await open(way)
    return behind ? (value) => behind.get(read(value)) ?? null : read
  }
  const passes = PASSES[operator]
  const [readOne, readOther] = await Promise.all([readerOf(path), readerOf(other)])
  return {
    kind: 'compare',
    holds(value) {
      const [one, second] = [readOne(value), readOther(value)] as [string, string]
      if (one === null || second === null || typeof one !== typeof second) return false
      return passes(one < second ? -1 : +(one > second))
    },
  }
}

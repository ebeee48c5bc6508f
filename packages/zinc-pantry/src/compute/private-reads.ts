import type { Fields } from '../schema/field.ts'
import { alternativesOf } from '../schema/fields/variant.ts'
import type { BlockFields } from '../schema/kind.ts'
import { createStoreContext } from '../schema/store-fields.ts'

/** A value that a private field gave to a computation. */
export interface PrivateRead {
  readonly field: string
  readonly value: unknown
}

/**
 * The fields of a set that are private, or hold something private, and what of their values is: whatever the output would
 * not have of them.
 */
export function findPrivateFields(fields: Fields, blocks: BlockFields): Map<string, (value: unknown) => unknown> {
  const found = new Map<string, (value: unknown) => unknown>()
  const context = createStoreContext(blocks, (text) => text)
  for (const { fields: own } of alternativesOf(fields).alternatives)
    for (const [name, field] of Object.entries(own)) {
      const store = context.inner(field)
      if (field.options.private) found.set(name, (value) => value)
      else if (store && !found.has(name)) found.set(name, (value) => withoutShown(value, store(value, {})))
    }
  return found
}

/** The texts and numbers in a value that its public form does not have. */
function withoutShown(value: unknown, shown: unknown): readonly (string | number)[] {
  const known = new Set(leavesOf(shown))
  return leavesOf(value).filter((leaf) => !known.has(leaf))
}

/** Notes what private fields give to the computations under way. */
export interface PrivateReads {
  /** Notes a value, and gives it. */
  note(field: string, value: unknown): unknown
  /** Does something, and tells what it read. */
  watch<Result>(action: () => Result): { readonly result: Result; readonly reads: readonly PrivateRead[] }
}

/** Starts to note. Of computations within one another each has its own reads. */
export function createPrivateReads(): PrivateReads {
  const frames: PrivateRead[][] = []
  return {
    note(field, value) {
      frames.at(-1)?.push({ field, value })
      return value
    },
    watch(action) {
      const reads: PrivateRead[] = []
      frames.push(reads)
      try {
        return { result: action(), reads }
      } finally {
        frames.pop()
      }
    },
  }
}

/** Shorter texts can stand in another by chance. */
const LEAST_LENGTH = 4

/** The first private value that a computed one shows as it is. */
export function findShown(raw: unknown, reads: readonly PrivateRead[]): PrivateRead | undefined {
  if (reads.length === 0) return undefined
  const shown = leavesOf(raw)
  return reads.find(({ value }) =>
    leavesOf(value).some((hidden) =>
      shown.some(
        (one) =>
          one === hidden ||
          (typeof one === 'string' &&
            typeof hidden === 'string' &&
            hidden.length >= LEAST_LENGTH &&
            one.includes(hidden)),
      ),
    ),
  )
}

/** The texts and numbers in a value. */
function leavesOf(value: unknown): (string | number)[] {
  if (typeof value === 'string') return value === '' ? [] : [value]
  if (typeof value === 'number') return [value]
  return typeof value === 'object' && value !== null ? Object.values(value).flatMap(leavesOf) : []
}

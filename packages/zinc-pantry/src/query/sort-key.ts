import { isCollation } from '../values/collation.ts'
import { operatorsOf } from '../values/operators.ts'
import { describe, type SortKey } from './condition.ts'
import { placeOf } from './place.ts'
import { QueryError } from './query-error.ts'
import type { Shape } from './shape.ts'

/**
 * Reads a sort key that a function gave: the handle of a single value, or what its `ascending` and `descending` give.
 */
export function readSortKey(given: unknown): SortKey {
  const place = placeOf(given)
  if (place) return checkSortKey({ path: place.path, direction: 'ascending' }, place.each ? undefined : place.shape)
  if (typeof given !== 'object' || !Array.isArray((given as SortKey | null)?.path))
    throw new QueryError(`sort takes fields, such as trail.title or trail.title.descending(), not ${describe(given)}`)
  return checkSortKey(given as SortKey)
}

/** Refuses a key of a value that has no order, or by rules that are not known. */
export function checkSortKey(key: SortKey, shape: Shape | undefined = { kind: 'text' }): SortKey {
  const { path, direction, collation, absent = 'last' } = key
  const name = path.join('.') || 'An entry'
  if (operatorsOf(shape.kind).length < 3) throw new QueryError(`${name} has no single value to sort by`)
  const wrong = [direction, absent].find((word) => !ORDER_WORDS.includes(word))
  if (wrong !== undefined)
    throw new QueryError(`${name} cannot be sorted by ${describe(wrong)}, only by ${ORDER_WORDS.join(', ')}`)
  if (collation !== undefined && !isCollation(collation))
    throw new QueryError(`There are no rules of order here for the language ${describe(collation)}`)
  return key
}

const ORDER_WORDS: readonly string[] = ['ascending', 'descending', 'first', 'last']

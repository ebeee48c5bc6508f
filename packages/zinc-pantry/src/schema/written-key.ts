import type { AnyField } from './any-field.ts'
import type { Fields } from './field.ts'
import type { MapField } from './fields/map.ts'

/** The key that a field is read from. */
export const writtenKey = (name: string, { options }: AnyField): string => options.writtenAs ?? name

/** True for a map of the keys that no other field takes. */
export const isRest = (field: AnyField): field is MapField => field.kind === 'map' && field.options.rest === true

/** Fields by the keys that they are read from: made once of fields that never change, since it is asked for each record. */
export function byWrittenKey(fields: Fields): ReadonlyMap<string, AnyField> {
  const known = byKey.get(fields)
  if (known) return known
  const own = new Map(
    Object.entries(fields).flatMap(([name, field]) => (isRest(field) ? [] : [[writtenKey(name, field), field]])),
  )
  byKey.set(fields, own)
  return own
}

const byKey = new WeakMap<Fields, ReadonlyMap<string, AnyField>>()

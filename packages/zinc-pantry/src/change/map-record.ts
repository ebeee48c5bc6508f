import { suggestNearest } from '../diagnostics/suggest.ts'
import { ITEM_ID_KEY } from '../schema/compile-schema.ts'
import { mergedFields } from '../schema/fields/variant.ts'
import type { CollectionModel } from '../schema/model.ts'
import { byWrittenKey } from '../schema/written-key.ts'
import type { Refusal } from './change.ts'

/** What becomes of the keys of a record in another collection: their names there; undefined for those that go. */
export type KeyMap = ReadonlyMap<string, string | undefined>

/** Maps the keys of records to those of another collection: as they are asked to, else by their names. */
export function mapKeys(
  keys: readonly string[],
  { fields, name, unknownKeys }: CollectionModel,
  asked: ReadonlyMap<string, string>,
): KeyMap | Refusal {
  const known = [...byWrittenKey(mergedFields(fields)).keys()]
  const map = new Map<string, string | undefined>()
  for (const key of keys) {
    const wanted = asked.get(key) ?? key
    if (wanted === '') map.set(key, undefined)
    else if (known.includes(wanted) || key === ITEM_ID_KEY || unknownKeys === 'ignore') map.set(key, wanted)
    else
      return {
        refused: `${name} has no field for ${key}`,
        help: `--map "${key}=${suggestNearest(key, known) ?? 'field'}" says which it is, --map "${key}=" leaves it out`,
      }
  }
  return map
}

/** A record with the keys that it has elsewhere. */
export const withKeys = (value: Readonly<Record<string, unknown>>, map: KeyMap): Readonly<Record<string, unknown>> =>
  Object.fromEntries(
    Object.entries(value).flatMap(([key, inner]) => {
      const name = map.has(key) ? map.get(key) : key
      return name === undefined ? [] : [[name, inner]]
    }),
  )

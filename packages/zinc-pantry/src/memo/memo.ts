import { areSame } from './are-same.ts'
import { type FlatList, flatten } from './flat-list.ts'
import type { Making, ValueOptions } from './making.ts'
import { type MemoizedMap, mapMemoized } from './memoized-map.ts'

/**
 * Results of a graph of functions, kept from one run to the next. Whoever declares the graph gives every result a name
 * and says what it is made of; the functions themselves know nothing of it.
 *
 * There is one rule of validity: a result stands as long as everything that it was made of is the very same, by
 * `Object.is`: the item, the inputs, and whatever was read meanwhile. A result that stands is the very object of the last
 * time, so that what is made of it stands too.
 */
export interface Memo {
  /** A result that is made of some inputs. */
  value<Value>(name: string, inputs: readonly unknown[], make: () => Value, options?: ValueOptions<Value>): Value
  /**
   * A function over a list: what is made of each item, in order. The list is that of the last time where all of it is.
   */
  map<Item, Made, Key = never, Read = unknown>(
    name: string,
    items: readonly Item[],
    making: Making<Item, Made, Key, Read>,
  ): readonly Made[]
  /** The items of all lists in one, which is that of the last time where all of them are. */
  flat<Item>(name: string, lists: readonly (readonly Item[])[]): readonly Item[]
  /** A value that was made in any case: the last one where the new one equals it. */
  keepEqual<Value>(name: string, value: Value, isEqual: (one: Value, other: Value) => boolean): Value
  /** The results of a part of the graph, such as those of one collection, whose names are their own. */
  within(name: string): Memo
  /** Forgets all results, those of the parts included. */
  clear(): void
  /** True where results are kept at all. */
  readonly isKept: boolean
}

interface Remembered {
  readonly inputs: readonly unknown[]
  readonly value: unknown
}

/** Makes an empty memo. */
export function createMemo(): Memo {
  const values = new Map<string, Remembered>()
  const maps = new Map<string, MemoizedMap>()
  const flats = new Map<string, FlatList>()
  const parts = new Map<string, Memo>()
  return {
    isKept: true,
    value<Value>(name: string, inputs: readonly unknown[], make: () => Value, options: ValueOptions<Value> = {}) {
      const last = values.get(name)
      if (last && areSame(last.inputs, inputs)) return last.value as Value
      const made = make()
      const value = last && options.isEqual?.(last.value as Value, made) ? (last.value as Value) : made
      if (options.isKept?.(value) ?? true) values.set(name, { inputs, value })
      else values.delete(name)
      return value
    },
    map(name, items, making) {
      const result = mapMemoized(maps.get(name), items, making)
      maps.set(name, result)
      return result.made as never
    },
    flat(name, lists) {
      const result = flatten(flats.get(name), lists)
      flats.set(name, result)
      return result.flat as never
    },
    keepEqual<Value>(name: string, value: Value, isEqual: (one: Value, other: Value) => boolean) {
      const last = values.get(name)
      const kept = last && isEqual(last.value as Value, value) ? (last.value as Value) : value
      values.set(name, { inputs: [], value: kept })
      return kept
    },
    within(name) {
      const part = parts.get(name) ?? createMemo()
      parts.set(name, part)
      return part
    },
    clear() {
      for (const map of [values, maps, flats, parts]) map.clear()
    },
  }
}

/** A memo that keeps nothing, for a process that runs its graph once: results go as soon as nobody holds them. */
export const FORGETFUL: Memo = {
  isKept: false,
  value: (_name, _inputs, make) => make(),
  map: (_name, items, { make, look }) =>
    items.map((item) => make(item, (key) => (look as NonNullable<typeof look>)(item, key))),
  flat: (_name, lists) => flatten(undefined, lists).flat as never,
  keepEqual: (_name, value) => value,
  within: () => FORGETFUL,
  clear: () => undefined,
}

/** A map, or a weak one. */
interface MapLike<Key, Kept> {
  get(key: Key): Kept | undefined
  set(key: Key, value: Kept): unknown
  delete(key: Key): boolean
}

/** Gets or creates the value of a key; a promise that fails may be tried again. */
export function getOrCreate<Key, Kept>(kept: MapLike<Key, Kept>, key: Key, make: () => Kept): Kept {
  let value = kept.get(key)
  if (value === undefined) {
    value = make()
    kept.set(key, value)
    if (value instanceof Promise) value.catch(() => kept.delete(key))
  }
  return value
}

/** Adds a value to the list under a key, which is begun where there is none. */
export function addTo<Key, Value>(lists: Map<Key, Value[]>, key: Key, value: Value): void {
  const list = lists.get(key)
  if (list) list.push(value)
  else lists.set(key, [value])
}

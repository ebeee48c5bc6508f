import { addTo } from './add-to.ts'

/** Items by what a function makes of each, in order. */
export function groupBy<Item, Key>(items: Iterable<Item>, keyOf: (item: Item) => Key): Map<Key, Item[]> {
  const groups = new Map<Key, Item[]>()
  for (const item of items) addTo(groups, keyOf(item), item)
  return groups
}

/** The items of all lists in one. Most of thousands of lists are empty, for which `flat` and `flatMap` take ten times as long. */
export function concatenate<Item>(lists: Iterable<readonly Item[]>): Item[] {
  const all: Item[] = []
  for (const list of lists) for (const item of list) all.push(item)
  return all
}

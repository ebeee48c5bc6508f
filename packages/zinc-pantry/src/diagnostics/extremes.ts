/** The largest number that a function makes of some items, however many there are; of none what is given. Default: 0. */
export function largest<Item>(items: Iterable<Item>, numberOf: (item: Item) => number, ofNone = 0): number {
  let found = ofNone
  for (const item of items) found = Math.max(found, numberOf(item))
  return found
}

/** The smallest number that a function makes of some items, however many there are; of none what is given. Default: infinity. */
export function smallest<Item>(
  items: Iterable<Item>,
  numberOf: (item: Item) => number,
  ofNone = Number.POSITIVE_INFINITY,
): number {
  let found = ofNone
  for (const item of items) found = Math.min(found, numberOf(item))
  return found
}

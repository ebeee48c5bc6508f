/** Puts items behind those of a list. There may be more of them than a call can have arguments, which is about 120,000. */
export function appendAll<Item>(list: Item[], items: Iterable<Item>): void {
  for (const item of items) list.push(item)
}

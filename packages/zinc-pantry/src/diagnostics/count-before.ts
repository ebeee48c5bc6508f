/** How many of the first items of a list pass, where none does behind one that does not. */
export function countBefore<Item>(list: readonly Item[], passes: (item: Item, at: number) => boolean): number {
  let low = 0
  let high = list.length
  while (low < high) {
    const middle = (low + high) >> 1
    if (passes(list[middle] as Item, middle)) low = middle + 1
    else high = middle
  }
  return low
}

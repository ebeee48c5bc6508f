/** Gives one list for all that hold the same things. */
export type ListTable<Item extends object> = (list: readonly Item[]) => readonly Item[]

/** The number of lists that are known; of more, few are there again. */
const MOST_LISTS = 1024
/** The number of items above which a list is hardly there again. */
const MOST_ITEMS = 8

/**
 * Makes a table of lists: thousands of entries refer to the same few others, each with lists of its own that say so. Items
 * are the same where all that they hold is, by identity; the text of an item finds the list, and may be that of others, too.
 */
export function createListTable<Item extends object>(textOf: (item: Item) => string): ListTable<Item> {
  const known = new Map<string, readonly Item[]>()
  return (list) => {
    // What was added to has room for more, a copy has not.
    if (list.length > MOST_ITEMS) return list.slice()
    const key = list.length === 1 ? textOf(list[0] as Item) : list.map(textOf).join('\n')
    const found = known.get(key)
    if (found && found.length === list.length && found.every((one, at) => isSame(one, list[at] as Item))) return found
    if (known.size === MOST_LISTS) known.clear()
    const kept = list.slice()
    known.set(key, kept)
    return kept
  }
}

function isSame<Item extends object>(one: Item, other: Item): boolean {
  for (const key of Object.keys(one) as (keyof Item)[]) if (!Object.is(one[key], other[key])) return false
  return true
}

/** Starts one thing after another, so many of them at once, and gives what becomes of them in their order. */
export async function* inOrder<Item, Made>(
  items: Iterable<Item>,
  start: (item: Item) => Promise<Made>,
  atOnce: () => number,
): AsyncGenerator<Made> {
  const waiting: Promise<Made>[] = []
  for (const item of items) {
    const made = start(item)
    // What comes first is told.
    made.catch(() => undefined)
    waiting.push(made)
    while (waiting.length >= atOnce()) yield await (waiting.shift() as Promise<Made>)
  }
  for (const made of waiting) yield await made
}

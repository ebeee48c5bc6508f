/** A list in chunks of a size; the last may be smaller. */
export const splitIntoChunks = <Item>(items: readonly Item[], size: number): (readonly Item[])[] =>
  Array.from({ length: Math.ceil(items.length / size) }, (_, chunk) => items.slice(chunk * size, (chunk + 1) * size))

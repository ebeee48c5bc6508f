/** An entry that the text of a reference may mean. */
export interface Address {
  readonly collection: string
  /** An id, or whatever the reference compares with. */
  readonly id: string
}

/**
 * The meanings of the text of a reference, in the order in which it is tried: with the name of a collection in front,
 * where it may lead to several, and as it is in each.
 */
export function readAddress(text: string, several: boolean, targets: readonly string[]): readonly Address[] {
  const slash = several ? text.indexOf('/') : -1
  const named = text.slice(0, Math.max(0, slash))
  const plain = targets.map((collection) => ({ collection, id: text }))
  return targets.includes(named) ? [{ collection: named, id: text.slice(slash + 1) }, ...plain] : plain
}

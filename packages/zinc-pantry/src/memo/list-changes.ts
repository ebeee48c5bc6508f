/** The places at which a list has something else than another one of the same length, that it was made of. */
interface ListChanges {
  readonly from: readonly unknown[]
  readonly places: readonly number[]
}

/**
 * What is known of lists, which never change: so a list of ten thousand of which one item is another is not gone through by each
 * result that is made of it. A list knows the one before it, and none further back, which would never be forgotten.
 */
const changes = new WeakMap<readonly unknown[], ListChanges>()

/** Says at which places a list has something else than another one. */
export function noteChanges(list: readonly unknown[], from: readonly unknown[], places: readonly number[]): void {
  changes.delete(from)
  changes.set(list, { from, places })
}

/** The places at which a list has something else than another one; undefined where nobody said. */
export function changesBetween(from: readonly unknown[], list: readonly unknown[]): readonly number[] | undefined {
  if (from === list) return []
  const known = changes.get(list)
  return known?.from === from ? known.places : undefined
}

/** An entry that is to stand beside another in the order of its collection. */
export interface Reordering {
  readonly collection: string
  readonly id: string
  readonly neighbour: string
  readonly side: 'before' | 'after'
}

/** Ids with one of them put beside another. */
export function placeBeside(
  ids: readonly string[],
  { id, neighbour, side }: Pick<Reordering, 'id' | 'neighbour' | 'side'>,
): readonly string[] {
  const others = ids.filter((one) => one !== id)
  const at = others.indexOf(neighbour) + (side === 'after' ? 1 : 0)
  return [...others.slice(0, at), id, ...others.slice(at)]
}

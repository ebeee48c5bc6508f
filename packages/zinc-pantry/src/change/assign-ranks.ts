/** A thing that has a number for its place in an order, or none yet. */
export interface Ranked {
  readonly key: string
  readonly rank: number | undefined
}

/**
 * The numbers that put things into a wanted order, one of them having moved: those that change, by their keys. The fewest
 * change: only the one that moved where there is room for a number between its neighbours, else those that it passed by,
 * which have the same numbers among them as before; where some are equal or missing, all are counted anew.
 */
export function assignRanks(
  wanted: readonly Ranked[],
  moved: string,
  { isWhole = true }: { /** Numbers are integers, from 1. Default: true. */ readonly isWhole?: boolean } = {},
): ReadonlyMap<string, number> {
  const at = wanted.findIndex(({ key }) => key === moved)
  const between = findBetween(wanted, at, isWhole)
  if (between !== undefined) return new Map([[moved, between]])
  const ranks = wanted.map(({ rank }) => rank)
  const sorted = ranks.flatMap((rank) => rank ?? []).sort((a, b) => a - b)
  const isUsable =
    sorted.length === ranks.length && sorted.every((rank, one) => one === 0 || rank > Number(sorted[one - 1]))
  const step = isUsable ? 0 : stepOf(sorted)
  const fresh = isUsable ? sorted : wanted.map((_, one) => (one + 1) * step)
  return new Map(wanted.flatMap(({ key, rank }, one) => (fresh[one] === rank ? [] : [[key, fresh[one] as number]])))
}

/** A number between those of the neighbours of a place, where such an order leaves room for some. */
function findBetween(wanted: readonly Ranked[], at: number, isWhole: boolean): number | undefined {
  const others = wanted.filter((_, one) => one !== at).map(({ rank }) => rank)
  if (others.some((rank, one) => rank === undefined || (one > 0 && rank <= Number(others[one - 1])))) return undefined
  const [before, after] = [others[at - 1], others[at]]
  const step = stepOf(wanted.flatMap(({ rank }) => rank ?? []).sort((a, b) => a - b))
  if (after === undefined) return before === undefined || step === 1 ? undefined : before + step
  const start = before ?? (after > 0 ? 0 : after - 2)
  const middle = (start + after) / 2
  if (!isWhole) return middle > start && middle < after ? middle : undefined
  return Math.floor(middle) > start && step > 1 ? Math.floor(middle) : undefined
}

/** The distance between numbers that are counted by tens, or by any other number. */
function stepOf(sorted: readonly number[]): number {
  if (sorted.length > 0 && sorted.every((rank) => rank !== 0 && rank % 10 === 0)) return 10
  const gaps = sorted.slice(1).map((rank, at) => rank - Number(sorted[at]))
  return gaps.length === 0 ? 1 : Math.max(1, Math.min(...gaps))
}

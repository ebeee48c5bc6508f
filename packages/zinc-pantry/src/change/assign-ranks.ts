import { smallest } from '../diagnostics/extremes.ts'
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
  const sorted = wanted.flatMap(({ rank }) => rank ?? []).sort((a, b) => a - b)
  const step = stepOf(sorted)
  const at = wanted.findIndex(({ key }) => key === moved)
  const others = wanted.filter((_, one) => one !== at).map(({ rank }) => rank)
  const between = areIncreasing(others) ? findBetween([others[at - 1], others[at]], { step, isWhole }) : undefined
  if (between !== undefined) return new Map([[moved, between]])
  const isUsable = sorted.length === wanted.length && areIncreasing(sorted)
  const fresh = isUsable ? sorted : wanted.map((_, one) => (one + 1) * step)
  return new Map(wanted.flatMap(({ key, rank }, one) => (fresh[one] === rank ? [] : [[key, fresh[one] as number]])))
}

const areIncreasing = (ranks: readonly (number | undefined)[]): boolean =>
  ranks.every((rank, at) => rank !== undefined && (at === 0 || rank > Number(ranks[at - 1])))

/** A number between two neighbours, where numbers with such a step leave room for some. */
function findBetween(
  [before, after]: readonly (number | undefined)[],
  { step, isWhole }: { readonly step: number; readonly isWhole: boolean },
): number | undefined {
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
  return gaps.length === 0 ? 1 : Math.max(1, smallest(gaps, Number))
}

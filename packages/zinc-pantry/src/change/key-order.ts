/** The key before which another stands by an order, or that it stands behind. */
export function neighbourOf(
  key: string,
  keys: readonly string[],
  order: readonly string[] | undefined,
): { readonly key: string | undefined; readonly isBehind: boolean } {
  const rank = order?.indexOf(key) ?? -1
  if (!order || rank === -1) return { key: keys.at(-1), isBehind: true }
  const before = keys.findLast((one) => order.indexOf(one) < rank && order.includes(one))
  if (before !== undefined) return { key: before, isBehind: true }
  const next = keys.find((one) => order.indexOf(one) > rank)
  return next === undefined ? { key: keys.at(-1), isBehind: true } : { key: next, isBehind: false }
}

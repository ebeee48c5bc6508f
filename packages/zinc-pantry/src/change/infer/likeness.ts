/** How often each key is in some records, from 0 to 1. */
export type Profile = ReadonlyMap<string, number>

export function profileOf(records: readonly Readonly<Record<string, unknown>>[]): Profile {
  const counts = new Map<string, number>()
  for (const record of records) for (const key of Object.keys(record)) counts.set(key, (counts.get(key) ?? 0) + 1)
  return new Map([...counts].map(([key, count]) => [key, count / records.length]))
}

/** True where two profiles point the same way: the cosine of the angle between them is at least so much. */
export function isAlike(one: Profile, other: Profile, least: number): boolean {
  if (one.size === 0 && other.size === 0) return true
  let product = 0
  for (const [key, share] of one) product += share * (other.get(key) ?? 0)
  const lengths = lengthOf(one) * lengthOf(other)
  return lengths > 0 && product / lengths >= least
}

const lengthOf = (profile: Profile): number =>
  Math.sqrt([...profile.values()].reduce((sum, share) => sum + share ** 2, 0))

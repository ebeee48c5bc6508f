import type { PostingList } from './posting-list.ts'
import type { TrigramHead, TrigramShard } from './trigram-format.ts'

/** The runtime internals that this file needs. */
interface Tools {
  nameAt(names: string, at: number): string
  load(name: string): Promise<unknown>
}

/** The rows that a trigram is used in, and where in each. */
interface FoundUses {
  readonly rows: readonly number[]
  readonly positions: readonly number[]
}

/** Finds the rows with a text that has another in it, of three letters or more. */
export async function findSubstring(head: TrigramHead, wanted: string, tools: Tools): Promise<PostingList> {
  // Trigrams that cover the whole text; the last may lie over the one before it.
  const offsets = Array.from({ length: Math.ceil(wanted.length / 3) }, (_, at) => Math.min(at * 3, wanted.length - 3))
  const isWhole = offsets.length === 1
  const found = await Promise.all(
    offsets.map((offset) => findUses(head, wanted.slice(offset, offset + 3), { ...tools, isWhole })),
  )
  // The rarest first: there are few places to look at.
  const [rarest, ...others] = found
    .map((uses, at) => ({ uses, offset: offsets[at] as number }))
    .sort((a, b) => a.uses.rows.length - b.uses.rows.length)
  if (!rarest) return new Int32Array()
  if (isWhole) return Int32Array.from(new Set(rarest.uses.rows))
  const places = others.map(({ uses, offset }) => ({
    offset,
    at: new Set(uses.rows.map((row, use) => placeOf(row, uses.positions[use] as number))),
  }))
  const rows = rarest.uses.rows.filter((row, use) => {
    const start = (rarest.uses.positions[use] as number) - rarest.offset
    return places.every(({ offset, at }) => at.has(placeOf(row, start + offset)))
  })
  return Int32Array.from(new Set(rows))
}

/** A place in a row as one number. */
const placeOf = (row: number, position: number): number => row * 2 ** 25 + position

async function findUses(
  { first, rows: names, positions }: TrigramHead,
  gram: string,
  { nameAt, load, isWhole }: Tools & { readonly isWhole: boolean },
): Promise<FoundUses> {
  let shard = 0
  while (shard + 1 < first.length && (first[shard + 1] as string) <= gram) shard++
  const [stored, places] = await Promise.all([
    load(nameAt(names, shard)) as Promise<TrigramShard>,
    isWhole ? [] : (load(nameAt(positions, shard)) as Promise<readonly number[]>),
  ])
  const at = stored.grams.indexOf(gram)
  if (at === -1) return { rows: [], positions: [] }
  const start = stored.counts.slice(0, at).reduce((sum, count) => sum + count, 0)
  const end = start + (stored.counts[at] as number)
  let row = 0
  const rows = stored.rows.slice(start, end).map((step) => {
    row += step
    return row
  })
  return { rows, positions: places.slice(start, end) }
}

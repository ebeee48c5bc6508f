import type { TrigramHead, TrigramShard } from '../query/trigram-format.ts'
import { type AddChunk, encodeDeltas } from './build-index.ts'

/** The number of uses of trigrams in a chunk, about. */
const SHARD_USES = 16_384
/** What stands between the values of a row, so that none of another begins in the last of one. */
const BETWEEN = 3

interface Uses {
  readonly rows: number[]
  readonly positions: number[]
}

/** Builds the index of all three letters in a row, with their places, of the texts of rows. Gives the name of its head. */
export function buildTrigrams(texts: readonly (readonly unknown[])[], addChunk: AddChunk): string {
  const uses = new Map<string, Uses>()
  for (const [row, values] of texts.entries()) {
    let start = 0
    for (const value of values) {
      if (typeof value !== 'string') continue
      for (let at = 0; at + 3 <= value.length; at++) {
        const gram = value.slice(at, at + 3)
        const own = uses.get(gram) ?? { rows: [], positions: [] }
        if (own.rows.length === 0) uses.set(gram, own)
        own.rows.push(row)
        own.positions.push(start + at)
      }
      start += value.length + BETWEEN
    }
  }
  const sorted = [...uses].sort(([a], [b]) => (a < b ? -1 : 1))
  const shards: (readonly [gram: string, uses: Uses])[][] = []
  let size = SHARD_USES
  for (const one of sorted) {
    if (size >= SHARD_USES) {
      shards.push([])
      size = 0
    }
    shards.at(-1)?.push(one)
    size += one[1].rows.length
  }
  const counts = (shard: (typeof shards)[number]): number[] => shard.map(([, { rows }]) => rows.length)
  const head: TrigramHead = {
    first: shards.map(([first]) => first?.[0] ?? ''),
    rows: shards
      .map((shard) => {
        const rows = shard.flatMap(([, own]) => encodeDeltas(own.rows))
        return addChunk({ grams: shard.map(([gram]) => gram), counts: counts(shard), rows } satisfies TrigramShard)
      })
      .join(''),
    positions: shards.map((shard) => addChunk(shard.flatMap(([, { positions }]) => positions))).join(''),
  }
  return addChunk(head)
}

import type { KeptReads } from './kept-results.ts'

/** A result with all that it was made of. */
export interface SharedResult<Value = unknown> {
  /** Says all that it is made of and that can be told beforehand. */
  readonly key: string
  /** What else was read while it was made. */
  readonly reads: KeptReads
  readonly value: Value
}

/**
 * Results that runs of one process share, such as those before and after a change, or those of a session: what both of them have
 * is there once. One at a place, the last.
 */
export interface SharedResults {
  /** The result at a place under a key, from this run or the one that came before it. */
  find(place: string, key: string): SharedResult | undefined
  share(place: string, result: SharedResult): void
  /** Forgets all places but some. */
  forget(isThere: (place: string) => boolean): void
}

/** Opens results to be shared, beside those of another run. */
export function openSharedResults(other: SharedResults | undefined): SharedResults {
  const results = new Map<string, SharedResult>()
  return {
    find(place, key) {
      const own = results.get(place)
      return own?.key === key ? own : other?.find(place, key)
    },
    share: (place, result) => void results.set(place, result),
    forget(isThere) {
      for (const place of results.keys()) if (!isThere(place)) results.delete(place)
    },
  }
}

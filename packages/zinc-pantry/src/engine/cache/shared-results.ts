import type { AssetAnswer } from '../../schema/asset.ts'
import type { KnownBody } from '../bodies.ts'
import type { FileResult } from '../check-file.ts'
import type { AssetQuestion } from './file-cache.ts'

/** The result of a file, and what it was made of. */
export interface SharedResult {
  /** Says all that it depends on and that can be told beforehand. */
  readonly key: string
  readonly result: FileResult
  /** The questions of its entries for other files, with the answers. */
  readonly assets: readonly (readonly [AssetQuestion, AssetAnswer])[]
  readonly body: KnownBody | undefined
}

/**
 * Results of the files of a site that runs of one process share, such as those before and after a change: what both of them
 * have is there once. One a file, the last.
 */
export interface SharedResults {
  /** The result of a file of a collection under a key, from this run or the one that came before it. */
  find(place: string, key: string): SharedResult | undefined
  share(place: string, found: SharedResult): void
}

/** Opens results of files, beside those of another run. */
export function openSharedResults(other: SharedResults | undefined): SharedResults {
  const results = new Map<string, SharedResult>()
  return {
    find(place, key) {
      const own = results.get(place)
      return own?.key === key ? own : other?.find(place, key)
    },
    share: (place, found) => void results.set(place, found),
  }
}

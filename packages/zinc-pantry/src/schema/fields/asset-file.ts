import { listNames } from '../../diagnostics/words.ts'
import type { AssetFacts } from '../asset.ts'
import { type CheckRun, INVALID } from '../check-run.ts'
import type { SourceOptions } from '../image-sources.ts'

/** The limits that a field sets for the files it names. */
export interface AssetLimits {
  /** Kinds allowed, by what the bytes show. Default: any that the field can tell. */
  readonly kinds?: readonly string[]
  /** Largest file allowed, in bytes. Default: no limit. */
  readonly maxSizeBytes?: number
}

/** A name's ending as the kind that it claims. */
const claimedKind = (path: string): string => {
  const ending = path.slice(path.lastIndexOf('.') + 1).toLowerCase()
  return { jpg: 'jpeg', tif: 'tiff', htm: 'html', md: 'markdown' }[ending] ?? ending
}

/**
 * Looks at a file that an entry names, at the current path: it exists inside of the content folder, its bytes are
 * what its name says, its kind and size are allowed.
 *
 * Diagnostics: `asset-outside`, `asset-guarded`, `asset-missing`, `asset-disguised`, `asset-kind`, `asset-too-large`.
 */
export function checkAsset(
  path: string,
  { kinds, maxSizeBytes, sources }: AssetLimits & { readonly sources?: SourceOptions },
  run: CheckRun,
): AssetFacts | typeof INVALID {
  const answer = run.asset(path, sources)
  if ('outside' in answer) return report(() => run.report('asset-outside', { path }))
  if ('guarded' in answer) return report(() => run.report('asset-guarded', { path, collection: answer.guarded }))
  if ('missing' in answer) {
    const { missing, suggestion } = answer
    return report(() => run.report('asset-missing', { path, looked: missing, suggestion }))
  }
  const { facts } = answer
  const claimed = claimedKind(path)
  const kind = facts.kind ?? claimed
  if (kinds && !kinds.includes(kind)) return report(() => run.report('asset-kind', { kind, kinds: [...kinds] }))
  if (facts.kind !== undefined && facts.kind !== claimed)
    return report(() => run.report('asset-disguised', { path, claimed, kind }))
  if (maxSizeBytes !== undefined && facts.sizeBytes > maxSizeBytes)
    return report(() => run.report('asset-too-large', { sizeBytes: facts.sizeBytes, limit: maxSizeBytes }))
  return facts
}

const report = (say: () => void): typeof INVALID => {
  say()
  return INVALID
}

/** For messages: `an image (png or jpeg)`. */
export const withKinds = (noun: string, kinds: readonly string[] | undefined): string =>
  kinds ? `${noun} (${listNames(kinds)})` : noun

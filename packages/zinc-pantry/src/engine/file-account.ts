import type { Seen } from '../compute/lookups.ts'
import type { LinkedCollection } from '../link/link-entry.ts'
import type { LinkResolver } from '../link/link-resolver.ts'
import { isSameEntry, qualifiedId } from '../link/pages.ts'
import type { LinkedEntry } from '../validate/entry.ts'
import type { FileReason } from './file-reason.ts'

/** An account of the work of a build on a file, and of its reason. */
export interface FileAccount {
  /** Relative to the root of the site. */
  readonly file: string
  readonly kind: 'content' | 'asset' | 'configuration' | 'unknown'
  readonly reason: FileReason
  /** The entries in it, such as `huts/gable`. */
  readonly entries: readonly string[]
  /** The entries that are looked at again when it changes. */
  readonly dependents: readonly Dependent[]
}

/** An entry that depends on a file. */
export interface Dependent {
  /** Such as `trails/high-traverse`. */
  readonly entry: string
  /** How it depends: by references, by links in texts, by what is computed, or by naming the file. */
  readonly by: 'reference' | 'link' | 'computation' | 'file'
  /** The path of the reference, such as `legs.0.hut`. */
  readonly path?: string
}

/** The sources of an account. */
export interface AccountContext {
  /** Below the content folder; undefined for a file elsewhere. */
  readonly contentPath: string | undefined
  readonly isInput: boolean
  readonly isThere: boolean
  readonly collections: readonly LinkedCollection[]
  readonly resolveLink: LinkResolver
  /** The lookups of the derived fields of an entry. */
  seenBy(entry: LinkedEntry): Seen
  readonly reasons: ReadonlyMap<string, FileReason>
}

/** Tells what a run did with a file. */
export function accountForFile(file: string, context: AccountContext): FileAccount {
  const { contentPath, isInput, isThere, collections, reasons } = context
  const all = collections.flatMap(({ entries }) => entries)
  const own = all.filter(({ source }) => source.file === contentPath)
  const reason = reasons.get(file) ?? 'unchanged'
  if (own.length > 0 || reasons.has(file)) {
    const names = own.map(qualifiedId)
    return { file, kind: 'content', reason, entries: names, dependents: listDependents(own, all, context) }
  }
  const users =
    contentPath === undefined
      ? []
      : all.filter(({ assets, privateAssets }) => assets.includes(contentPath) || privateAssets.includes(contentPath))
  const dependents = users.map((entry): Dependent => ({ entry: qualifiedId(entry), by: 'file' }))
  const kind = isInput ? 'configuration' : isThere ? 'asset' : 'unknown'
  return { file, kind, reason, entries: [], dependents }
}

function listDependents(
  own: readonly LinkedEntry[],
  all: readonly LinkedEntry[],
  { resolveLink, seenBy }: AccountContext,
): Dependent[] {
  const names = new Set(own.map(qualifiedId))
  const collections = new Set(own.map(({ collection }) => collection))
  const isOwn = (key: string): boolean => names.has(key.replace('\n', '/')) || collections.has(key)
  return all.flatMap((entry): Dependent[] => {
    if (own.includes(entry)) return []
    const name = qualifiedId(entry)
    const references = entry.links
      .filter((link) => names.has(qualifiedId(link)))
      .map(({ path }): Dependent => ({ entry: name, by: 'reference', path: path.join('.') }))
    const links = entry.body?.summary.addresses.some((href) => {
      const target = resolveLink(href, entry)
      return 'page' in target && own.some((one) => isSameEntry(one, target.page))
    })
    const computed = [...seenBy(entry).keys()].some(isOwn)
    return [
      ...references,
      ...(links ? [{ entry: name, by: 'link' as const }] : []),
      ...(computed ? [{ entry: name, by: 'computation' as const }] : []),
    ]
  })
}

import type { ParsedBody } from '../body/parsed-body.ts'
import { createDiagnostic, type Diagnostic } from '../diagnostics/diagnostic.ts'
import type { LinkedEntry } from '../validate/entry.ts'
import type { LinkedCollection } from './link-entries.ts'
import type { LinkResolver } from './link-resolver.ts'

/** What may be in use, and what tells. */
export interface UseContext {
  readonly collections: readonly LinkedCollection[]
  readonly resolve: LinkResolver
  /** Files of the content folder that no collection reads. */
  readonly assets: readonly string[]
  /** The content folder, relative to the site's root. */
  readonly content: string
}

/** The files that entries name in fields, or show and lead to in texts. */
export function findUsedFiles(collections: readonly LinkedCollection[], resolve: LinkResolver): ReadonlySet<string> {
  const used = new Set<string>()
  for (const entry of collections.flatMap(({ entries }) => entries)) {
    for (const file of [...entry.assets, ...entry.privateAssets]) used.add(file)
    // Asked in this way a body that is remembered need not be read.
    for (const parsed of textsOf(entry))
      parsed.links((href) => {
        const target = resolve(href, entry)
        if (target.kind === 'asset') used.add(target.file)
        return true
      })
  }
  return used
}

/** Lists files that no entry uses, and pages to which nothing links or refers. */
export function findUnused({ collections, resolve, assets, content }: UseContext): Diagnostic[] {
  const usedFiles = new Set<string>()
  const reached = new Set<LinkedEntry>()
  const named = new Set<string>()
  const follow = (href: string, from: LinkedEntry): void => {
    const target = resolve(href, from)
    if (target.kind === 'asset') usedFiles.add(target.file)
    if ('entry' in target && target.entry !== from) reached.add(target.entry)
  }
  for (const entry of collections.flatMap(({ entries }) => entries)) {
    for (const file of [...entry.assets, ...entry.privateAssets]) usedFiles.add(file)
    for (const { collection, id } of entry.links)
      if (collection !== entry.collection || id !== entry.id) named.add(nameOf({ collection, id }))
    for (const parsed of textsOf(entry)) for (const { href } of parsed.links(() => false)) follow(href, entry)
  }
  const unlinked = collections
    .filter(({ collection }) => collection.address !== undefined && !collection.single)
    .flatMap(({ entries }) => entries.filter((entry) => !reached.has(entry) && !named.has(nameOf(entry))))
  return [
    ...assets
      .filter((file) => !usedFiles.has(file))
      .map((file) => createDiagnostic('asset-unused', { file: `${content}/${file}`, span: [0, 0] }, {})),
    ...unlinked.map((entry) => createDiagnostic('page-unlinked', entry.locate([]), { page: nameOf(entry) })),
  ]
}

const nameOf = ({ collection, id }: Pick<LinkedEntry, 'collection' | 'id'>): string => `${collection}/${id}`

const textsOf = ({ body, texts }: LinkedEntry): ParsedBody[] => [
  ...(body ? [body.parsed] : []),
  ...texts.map(({ parsed }) => parsed),
]

import { createDiagnostic, type Diagnostic } from '../diagnostics/diagnostic.ts'
import type { LinkedEntry } from '../validate/entry.ts'
import type { LocatedLinks } from './check-links.ts'
import type { LinkedCollection } from './link-entry.ts'
import type { LinkResolver } from './link-resolver.ts'
import { isSameEntry, qualifiedId, versionKey } from './pages.ts'

/** The surroundings of the search for unused files and pages. */
export interface UseContext {
  readonly collections: readonly LinkedCollection[]
  readonly resolve: LinkResolver
  /** All links of an entry, in its body and in fields of Markdown. */
  linksOf(entry: LinkedEntry): LocatedLinks
  /** Files of the content folder that no collection reads. */
  readonly assets: readonly string[]
  /** The content folder, relative to the site's root. */
  readonly content: string
}

/** The files that entries name in fields, or may show and lead to in texts. */
export function findUsedFiles(collections: readonly LinkedCollection[], resolve: LinkResolver): ReadonlySet<string> {
  const used = new Set<string>()
  for (const entry of collections.flatMap(({ entries }) => entries)) {
    for (const file of [...entry.assets, ...entry.privateAssets]) used.add(file)
    const { body, texts } = entry
    for (const { addresses } of [...(body ? [body.summary] : []), ...texts.map(({ summary }) => summary)])
      for (const href of addresses) {
        const target = resolve(href, entry)
        if (target.kind === 'asset') used.add(target.file)
      }
  }
  return used
}

/** Lists files that no entry uses, and pages to which nothing links or refers. */
export function findUnused({ collections, resolve, linksOf, assets, content }: UseContext): Diagnostic[] {
  const usedFiles = new Set<string>()
  const reached = new Set<string>()
  const named = new Set<string>()
  const follow = (href: string, from: LinkedEntry): void => {
    const target = resolve(href, from)
    if (target.kind === 'asset') usedFiles.add(target.file)
    if ('page' in target && !isSameEntry(target.page, from)) reached.add(versionKey(target.page))
  }
  for (const entry of collections.flatMap(({ entries }) => entries)) {
    for (const file of [...entry.assets, ...entry.privateAssets]) usedFiles.add(file)
    for (const { collection, id } of entry.links)
      if (collection !== entry.collection || id !== entry.id) named.add(qualifiedId({ collection, id }))
    const { body, texts } = linksOf(entry)
    for (const { href } of [body, ...texts].flat()) follow(href, entry)
  }
  const unlinked = collections
    .filter(({ collection }) => collection.address !== undefined && !collection.single)
    .flatMap(({ entries }) =>
      entries.filter((entry) => !reached.has(versionKey(entry)) && !named.has(qualifiedId(entry))),
    )
  return [
    ...assets
      .filter((file) => !usedFiles.has(file))
      .map((file) => createDiagnostic('asset-unused', { file: `${content}/${file}`, span: [0, 0] }, {})),
    ...unlinked.map((entry) => createDiagnostic('page-unlinked', entry.locate([]), { page: qualifiedId(entry) })),
  ]
}

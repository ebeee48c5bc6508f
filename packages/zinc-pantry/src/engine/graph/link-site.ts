import type { Diagnostic } from '../../diagnostics/diagnostic.ts'
import { checkReferences } from '../../link/check-references.ts'
import { checkImplicitEntries, createImplicitEntries, type ImplicitEntry } from '../../link/implicit-entries.ts'
import {
  type CollectionEntries,
  createReferenceResolver,
  isSameHits,
  type LinkedCollection,
  linkEntry,
  listUnresolved,
} from '../../link/link-entry.ts'
import { createEntryMaker, type EntryChecking } from '../../link/make-entry.ts'
import { createTargets } from '../../link/targets.ts'
import type { Memo } from '../../memo/memo.ts'
import type { SettingProblem } from '../../schema/settings-reader.ts'
import type { Link, Reference } from '../../validate/entry.ts'
import { createListTable } from '../../validate/list-table.ts'

/** Entries whose references are resolved, those that references created included. */
export interface LinkedSite {
  readonly linked: readonly LinkedCollection[]
  readonly implicit: readonly ImplicitEntry[]
  readonly diagnostics: readonly Diagnostic[]
  readonly problems: readonly SettingProblem[]
}

/** Resolves all references of a site. */
export function linkSite(
  memo: Memo,
  collections: readonly CollectionEntries[],
  { mayDangle, outline, ...checking }: EntryChecking & { readonly mayDangle: boolean; readonly outline: object },
): LinkedSite {
  const targets = new Map(collections.map((one) => [one.collection.name, createTargets(one.entries, one.collection)]))
  const makers = new Map(
    collections.flatMap(({ collection }) =>
      collection.createFrom === undefined ? [] : [[collection.name, createEntryMaker(collection, checking)] as const],
    ),
  )
  const resolve = createReferenceResolver(targets, makers)
  const linksOf = createListTable<Link>(({ id }) => id)
  const written = collections.map(
    ({ collection, entries }): LinkedCollection => ({
      collection,
      entries: memo.within(collection.name).map('linked', entries, {
        inputs: [outline, mayDangle],
        look: (_, reference: Reference) => resolve(reference),
        make: (entry, read) => linkEntry(entry, read, { mayDangle, linksOf }),
        isSameRead: isSameHits,
      }),
    }),
  )
  const { created, diagnostics } = createImplicitEntries(written, makers, resolve)
  const unresolved = written.flatMap(({ collection, entries }) =>
    memo
      .within(collection.name)
      .map('unresolved', entries, { make: listUnresolved })
      .filter((one) => one !== undefined),
  )
  const references = checkReferences(collections, unresolved, { targets, makers, resolve })
  return {
    linked: written.map(({ collection, entries }) => {
      const own = created.get(collection.name) ?? []
      return { collection, entries: own.length === 0 ? entries : [...entries, ...own] }
    }),
    implicit: [...created.values()]
      .flat()
      .map((entry) => ({ collection: entry.collection, id: entry.id, place: entry.locate([]) })),
    diagnostics: [...diagnostics, ...references.diagnostics, ...checkImplicitEntries(collections, written, created)],
    problems: references.problems,
  }
}

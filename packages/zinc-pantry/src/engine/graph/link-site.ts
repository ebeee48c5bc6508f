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
import { createTargets, keyOf } from '../../link/targets.ts'
import type { Memo } from '../../memo/memo.ts'
import type { SettingProblem } from '../../schema/settings-reader.ts'
import type { Entry, Link, Reference } from '../../validate/entry.ts'
import { createListTable } from '../../validate/list-table.ts'
import { findCompared } from '../collection-fields.ts'

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
  // What references make on the fly is made anew each time.
  const answeredFrom =
    makers.size === 0 ? listKeys(memo.within('keys'), collections, { ...checking, outline }) : undefined
  const written = collections.map(
    ({ collection, entries }): LinkedCollection => ({
      collection,
      entries: memo.within(collection.name).map('linked', entries, {
        inputs: [outline, mayDangle],
        look: (_, reference: Reference) => resolve(reference),
        ...(answeredFrom ? { answeredFrom } : {}),
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

/**
 * All that references are compared with: where it is the same, each of them leads where it led. Undefined where a function of the
 * configuration gives some of it.
 */
function listKeys(
  memo: Memo,
  collections: readonly CollectionEntries[],
  { blocks, outline }: Pick<EntryChecking, 'blocks'> & { readonly outline: object },
): readonly unknown[] | undefined {
  const compared = findCompared(
    collections.map(({ collection }) => collection),
    blocks,
  )
  const lists: unknown[] = []
  // What a field leads to is an id.
  for (const { collection, entries } of collections)
    for (const by of new Set([...(compared.get(collection.name) ?? []), 'id'])) {
      if (Object.hasOwn(collection.derived, by)) return undefined
      const make = (entry: Entry): string | undefined => keyOf(entry, by)
      lists.push(memo.within(collection.name).map(by, entries, { inputs: [outline], make }))
    }
  return lists
}

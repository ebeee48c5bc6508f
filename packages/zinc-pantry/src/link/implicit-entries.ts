import { appendAll } from '../diagnostics/append-all.ts'
import { createDiagnostic, type Diagnostic, type Place } from '../diagnostics/diagnostic.ts'
import { createMisspellingFinder } from '../diagnostics/suggest.ts'
import type { Entry, LinkedEntry } from '../validate/entry.ts'
import type { CollectionEntries, LinkedCollection, ReferenceResolver } from './link-entry.ts'
import type { EntryMaker } from './make-entry.ts'
import { plainLabel } from './plain-label.ts'

/** An entry that no file holds: a reference created it, in a collection with `createFrom`. */
export interface ImplicitEntry {
  readonly collection: string
  readonly id: string
  /** Of the first reference to it. */
  readonly place: Place
}

/** The entries that references created, by collection, in the order of their ids. */
export type CreatedEntries = ReadonlyMap<string, readonly LinkedEntry[]>

/** Creates the entries that references lead to and that no file holds, each at the first reference to it. */
export function createImplicitEntries(
  linked: readonly LinkedCollection[],
  makers: ReadonlyMap<string, EntryMaker>,
  resolve: ReferenceResolver,
): { readonly created: CreatedEntries; readonly diagnostics: Diagnostic[] } {
  const diagnostics: Diagnostic[] = []
  const created = new Map([...makers.keys()].map((name) => [name, new Map<string, LinkedEntry>()]))
  if (makers.size > 0)
    for (const { entries } of linked)
      for (const entry of entries)
        for (const reference of entry.references) {
          if (!reference.targets.some((name) => makers.has(name))) continue
          const [hit] = resolve(reference)
          const own = hit?.isImplicit && created.get(hit.collection)
          if (!hit || !own || own.has(hit.id)) continue
          const { made, problems } = (makers.get(hit.collection) as EntryMaker).make(
            reference.text,
            entry,
            reference.path,
          )
          appendAll(diagnostics, problems)
          if (made) own.set(hit.id, { ...made, links: [] })
        }
  const byId = (own: ReadonlyMap<string, LinkedEntry>): LinkedEntry[] =>
    [...own.values()].sort((a, b) => (a.id < b.id ? -1 : 1))
  return { created: new Map([...created].map(([name, own]) => [name, byId(own)])), diagnostics }
}

/** Of more entries that references created, only those near to a written one are told. */
const MOST_COMPARED = 2_000

/**
 * Warns of created entries that may be misspellings: of written ones, or of created ones that are referred to more
 * often.
 */
export function checkImplicitEntries(
  collections: readonly CollectionEntries[],
  linked: readonly LinkedCollection[],
  created: CreatedEntries,
): Diagnostic[] {
  return [...created].flatMap(([name, made]) => {
    if (made.length === 0) return []
    const written = collections.find(({ collection }) => collection.name === name)?.entries ?? []
    return findMisspelt(name, made, { written, linked })
  })
}

function findMisspelt(
  collection: string,
  made: readonly Entry[],
  { written, linked }: { readonly written: readonly Entry[]; readonly linked: readonly LinkedCollection[] },
): Diagnostic[] {
  const counts = new Map<string, number>()
  for (const { entries } of linked)
    for (const { links } of entries)
      for (const link of links) if (link.collection === collection) counts.set(link.id, (counts.get(link.id) ?? 0) + 1)
  const usesOf = (id: string): number => counts.get(id) ?? 0
  const ids = new Set(written.map(({ id }) => id))
  const find = createMisspellingFinder([...ids, ...(made.length > MOST_COMPARED ? [] : made.map(({ id }) => id))])
  return made.flatMap((entry) => {
    const { id } = entry
    const suggestion = find(id, (other) => ids.has(other) || usesOf(other) > usesOf(id))
    // Those that differ in their writing only are listed as labels.
    return suggestion === undefined || plainLabel(suggestion) === plainLabel(id)
      ? []
      : [createDiagnostic('ref-implicit-near', entry.locate([]), { id, collection, suggestion })]
  })
}

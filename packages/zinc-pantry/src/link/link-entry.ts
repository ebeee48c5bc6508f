import type { CollectionModel } from '../schema/model.ts'
import { readAddress } from '../schema/read-address.ts'
import type { Entry, Link, LinkedEntry, Reference } from '../validate/entry.ts'
import type { ListTable } from '../validate/list-table.ts'
import type { FailedFile } from './failed-files.ts'
import type { EntryMaker } from './make-entry.ts'
import { type Replacement, replaceValues } from './replace-values.ts'
import type { Targets } from './targets.ts'

/** The entries of one collection, in order, and the files that gave none because they could not be read. */
export interface CollectionEntries {
  readonly collection: CollectionModel
  readonly entries: readonly Entry[]
  readonly failedFiles: readonly FailedFile[]
  /** True where the entries are no more than what others see of them, since nothing can be wrong among them. */
  readonly isSettled?: boolean
}

/** The entries of one collection, their references resolved. */
export interface LinkedCollection {
  readonly collection: CollectionModel
  readonly entries: readonly LinkedEntry[]
}

/** An entry that a reference may lead to. */
export interface Hit {
  readonly collection: string
  readonly id: string
  /** True for an entry that no file holds, in a collection where references create entries. */
  readonly isImplicit?: true
}

/** Finds everything that a reference could mean: nothing where it dangles, several where it is ambiguous. */
export type ReferenceResolver = (reference: Reference) => readonly Hit[]

/** Makes a resolver over the entries of all collections, and over those that references create. */
export function createReferenceResolver(
  targets: ReadonlyMap<string, Targets>,
  makers: ReadonlyMap<string, EntryMaker>,
): ReferenceResolver {
  return (reference) => {
    const { targets: names, by, text, several, isFound } = reference
    const hits = readAddress(text, several, names).flatMap(({ collection, id: key }): Hit[] => {
      const id = targets.get(collection)?.find(by, key)
      return id === undefined ? [] : [{ collection, id }]
    })
    const [first] = hits
    // What says its collection means nothing else.
    if (first) return several && text.startsWith(`${first.collection}/`) ? [first] : hits
    const collection = isFound ? undefined : names.find((name) => makers.has(name))
    const id = collection === undefined ? undefined : makers.get(collection)?.idOf(text)
    return collection === undefined || id === undefined ? [] : [{ collection, id, isImplicit: true }]
  }
}

/** Two answers of a resolver that say the same. */
export const isSameHits = (one: readonly Hit[], other: readonly Hit[]): boolean =>
  one.length === other.length &&
  one.every(({ collection, id }, at) => id === other[at]?.id && collection === other[at]?.collection)

/**
 * Resolves the references of an entry. In its data the ids that they lead to take the place of the texts; a reference that
 * leads nowhere keeps its text only where that would be the id, and where the site does not live with such references.
 */
export function linkEntry(
  entry: Entry,
  resolve: ReferenceResolver,
  { mayDangle, linksOf }: { readonly mayDangle: boolean; readonly linksOf: ListTable<Link> },
): LinkedEntry {
  if (entry.references.length === 0) return entry
  const links: Link[] = []
  const replacements: Replacement[] = []
  for (const reference of entry.references) {
    const { path, several, by, text, isPrivate } = reference
    const hits = resolve(reference)
    const [hit] = hits
    if (hit && hits.length === 1) {
      const { collection, id } = hit
      links.push({ collection, id, path, isPrivate })
      if (several) replacements.push([path, { collection, id }])
      else if (id !== text) replacements.push([path, id])
    } else if (mayDangle || several || by !== 'id') replacements.push([path, null])
  }
  return replaceValues({ ...entry, links: linksOf(links) }, replacements)
}

/** References of an entry that lead nowhere, or to more than one entry. */
export interface UnresolvedReferences {
  readonly entry: Entry
  readonly references: readonly Reference[]
}

/** The references of an entry that were not resolved; undefined where all were. */
export function listUnresolved(entry: LinkedEntry): UnresolvedReferences | undefined {
  const { references, links } = entry
  if (references.length === links.length) return undefined
  const resolved = new Set(links.map(({ path }) => path))
  return { entry, references: references.filter(({ path }) => !resolved.has(path)) }
}

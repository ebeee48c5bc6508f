import { createDiagnostic, type Diagnostic, type Place } from '../diagnostics/diagnostic.ts'
import { type ListMemory, mapAgain, memoryOf } from '../diagnostics/map-again.ts'
import { createMisspellingFinder } from '../diagnostics/suggest.ts'
import type { CollectionModel } from '../schema/model.ts'
import { Pending } from '../schema/pending.ts'
import { readAddress } from '../schema/read-address.ts'
import type { SettingProblem } from '../schema/settings-reader.ts'
import type { Entry, Link, LinkedEntry, Reference } from '../validate/entry.ts'
import { clearReferences } from './clear-references.ts'
import { createDanglingReporter, type FailedFile } from './dangling.ts'
import { createEntryMaker, type EntryChecking, type EntryMaker } from './make-entry.ts'
import { createTargets, type Targets } from './targets.ts'

/** The entries of one collection, in order, and the files that gave none because they could not be read. */
export interface CollectionEntries {
  readonly collection: CollectionModel
  readonly entries: readonly Entry[]
  readonly failedFiles: readonly FailedFile[]
}

/** The entries of one collection, their references resolved. */
export interface LinkedCollection {
  readonly collection: CollectionModel
  readonly entries: readonly LinkedEntry[]
}

/** What entries were linked to in earlier runs, so that those that are as they were stay the same objects. */
export type LinkMemory = Map<string, ListMemory<Entry, LinkedEntry>>

/** Resolves every reference. Where a collection allows it, entries that are not there yet are made. */
export function linkEntries(
  collections: readonly CollectionEntries[],
  checking: EntryChecking,
  memory?: LinkMemory,
): {
  linked: LinkedCollection[]
  implicit: ImplicitEntry[]
  diagnostics: Diagnostic[]
  /** Defaults of the configuration that lead nowhere. */
  problems: readonly SettingProblem[]
} {
  const diagnostics: Diagnostic[] = []
  const defaults = new Map<string, SettingProblem>()
  const targets = new Map(collections.map((one) => [one.collection.name, createTargets(one.entries)]))
  const makers = new Map<string, EntryMaker>()
  for (const { collection } of collections)
    if (collection.createFrom !== undefined) makers.set(collection.name, createEntryMaker(collection, checking))
  const describe = createDanglingReporter(collections, targets)

  const resolve = (entry: Entry, reference: Reference): Link | undefined => {
    const { path, several, text } = reference
    // What is recalled may have been resolved before.
    if (reference.pending) reference.pending.value = null
    const found = findAll(reference, targets)
    if (found.length > 1) {
      const names = found.map(({ collection }) => collection)
      diagnostics.push(createDiagnostic('ref-ambiguous', entry.locate(path), { id: text, collections: names }))
      return undefined
    }
    const [hit] = found.length > 0 ? found : make(entry, reference)
    if (!hit) return undefined
    if (reference.pending) reference.pending.value = several ? { collection: hit.collection, id: hit.id } : hit.id
    return { ...hit, path, ...(reference.isPrivate ? { isPrivate: true } : {}) }
  }

  /** A default that leads nowhere is wrong once, where it is declared. */
  const noteDefault = ({ collection }: Entry, { path, text }: Reference, { parameters }: Diagnostic): void => {
    const names = path.filter((step) => typeof step === 'string')
    const setting = ['collections', collection, 'fields', ...names, 'default']
    const problem = { code: 'config-default-dangling', path: setting, parameters } as const
    defaults.set([...setting, text].join('\n'), problem)
  }

  const make = (entry: Entry, reference: Reference): Hit[] => {
    const maker = reference.targets.map((target) => makers.get(target)).find((candidate) => candidate !== undefined)
    if (!maker) {
      const dangling = describe(entry, reference)
      if (dangling.code === 'ref-dangling' && isDefault(entry, reference)) noteDefault(entry, reference, dangling)
      else diagnostics.push(dangling)
      return []
    }
    const { made, problems } = maker.make(reference.text, entry, reference.path)
    diagnostics.push(...problems)
    if (!made) return []
    targets.get(made.collection)?.add(made)
    return [{ collection: made.collection, id: made.id }]
  }

  /** Where a site lives with references that lead nowhere, they have no value. */
  const clearUnresolved = (entry: LinkedEntry): LinkedEntry => {
    if (!checking.mayDangle || entry.links.length === entry.references.length) return entry
    const resolved = new Set(entry.links.map(({ path }) => path))
    const paths = entry.references.map(({ path }) => path).filter((path) => !resolved.has(path))
    return clearReferences(entry, paths)
  }
  const linksOf = (entry: Entry): Link[] => entry.references.flatMap((reference) => resolve(entry, reference) ?? [])
  const linked = collections.map(({ collection, entries }) => {
    // Whether the links of an entry are still right takes finding them, which is not done twice.
    let found: Link[] | undefined
    const isRight = (known: LinkedEntry, entry: Entry): boolean => {
      if (entry.references.length === 0) return true
      const links = linksOf(entry)
      const isSame = isSameLinks(known.links, links)
      found = isSame ? undefined : links
      return isSame
    }
    const make = (entry: Entry): LinkedEntry => {
      const links = found ?? linksOf(entry)
      found = undefined
      return clearUnresolved({ ...entry, ...settle(entry), links })
    }
    return { collection, entries: mapAgain(memoryOf(memory, collection.name), entries, { make, isRight }) }
  })
  const implicit: ImplicitEntry[] = []
  for (const [name, maker] of makers) {
    const made = maker.all()
    if (made.length === 0) continue
    for (const { id, locate } of made) implicit.push({ collection: name, id, place: locate([]) })
    const written = collections.find(({ collection }) => collection.name === name)?.entries ?? []
    diagnostics.push(...findMisspeltEntries(name, made, { written, linked }))
  }
  return {
    diagnostics,
    problems: [...defaults.values()],
    implicit,
    linked: linked.map(({ collection, entries }) => {
      const made = makers.get(collection.name)?.all() ?? []
      return made.length === 0
        ? { collection, entries }
        : { collection, entries: [...entries, ...made.map((entry) => ({ ...entry, links: [] }))] }
    }),
  }
}

/** True for a reference that no file holds: there is no place for it in the entry but that of what is above it. */
function isDefault(entry: Entry, { path }: Reference): boolean {
  const [own, above] = [entry.locate(path), entry.locate(path.slice(0, -1))]
  const [start, end] = own.span
  const isSame = own.file === above.file && start === above.span[0] && end === above.span[1]
  return isSame && entry.locate([]).span[0] === start
}

/** An entry that no file holds: a reference made it, in a collection with `createFrom`. */
export interface ImplicitEntry {
  readonly collection: string
  readonly id: string
  /** Of the first reference to it. */
  readonly place: Place
}

/** Of more entries that references made, only those near to a written one are told. */
const MOST_COMPARED = 2_000

/** Warns of made entries that may be misspellings: of written ones, or of made ones that are referred to more often. */
function findMisspeltEntries(
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
  return made.flatMap(({ id, locate }) => {
    const suggestion = find(id, (other) => ids.has(other) || usesOf(other) > usesOf(id))
    return suggestion === undefined
      ? []
      : [createDiagnostic('ref-implicit-near', locate([]), { id, collection, suggestion })]
  })
}

/** References are in their order, so that the targets tell. */
const isSameLinks = (one: readonly Link[], other: readonly Link[]): boolean =>
  one.length === other.length &&
  one.every(({ collection, id, path }, at) => {
    const link = other[at]
    return link?.id === id && link.collection === collection && link.path === path
  })

interface Hit {
  readonly collection: string
  readonly id: string
}

/** Everything that a reference could mean; mostly one. */
function findAll({ targets: names, by, text, several }: Reference, targets: ReadonlyMap<string, Targets>): Hit[] {
  const hits = readAddress(text, several, names).flatMap(({ collection, id: key }): Hit[] => {
    const id = targets.get(collection)?.find(by, key)
    return id === undefined ? [] : [{ collection, id }]
  })
  const [first] = hits
  // What says its collection means nothing else.
  return first && several && text.startsWith(`${first.collection}/`) ? [first] : hits
}

/** The data with the values of resolved references in place; the same object where there are none. */
function settle(entry: Entry): Pick<Entry, 'data' | 'properties'> {
  if (entry.references.every(({ pending }) => pending === undefined)) return entry
  return settleValue({ data: entry.data, properties: entry.properties }) as Pick<Entry, 'data' | 'properties'>
}

function settleValue(value: unknown): unknown {
  if (value instanceof Pending) return value.value
  if (Array.isArray(value)) return value.map(settleValue)
  if (typeof value !== 'object' || value === null) return value
  return Object.fromEntries(Object.entries(value).map(([key, inner]) => [key, settleValue(inner)]))
}

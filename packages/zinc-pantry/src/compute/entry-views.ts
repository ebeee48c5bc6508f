import type { OtherEntry, RuledBody, SiteView } from '../schema/computation.ts'
import type { Fields } from '../schema/field.ts'
import { mergedFields } from '../schema/fields/variant.ts'
import type { BlockFields } from '../schema/kind.ts'
import type { EntryBody, LinkedEntry } from '../validate/entry.ts'
import type { Lookups } from './lookups.ts'
import { findPrivateFields, type PrivateReads } from './private-reads.ts'

/** A function that gives a field of the view that it is called on. */
type Getter = (this: OtherEntry) => unknown

/** Entries as functions of the configuration see them: frozen, each with one view, read lazily where that tells something. */
export interface EntryViews {
  viewOf(entry: LinkedEntry): OtherEntry
  /** The entry of a view. */
  ownerOf(view: OtherEntry): LinkedEntry
  /** The views of sound entries; a list under a name is made once. */
  listOf(name: string, entries: Iterable<LinkedEntry>): readonly OtherEntry[]
}

/** The surroundings of views. */
export interface ViewContext {
  readonly blocks: BlockFields
  readonly privates: PrivateReads
  fieldsOf(collection: string): Fields
  /** What a body says of itself. */
  bodyOf(body: EntryBody): RuledBody
  /** The getters of the fields of a collection that are computed when they are read. */
  gettersOf(collection: string): readonly { readonly name: string; readonly read: Getter }[]
}

/** Ends a function that asks for a field of an entry which is not right. */
export class UnsoundField extends Error {}

const refuseUnsound = (name: string) => (): never => {
  throw new UnsoundField(`${name} is not right`)
}

/** Makes the views of a site. */
export function createEntryViews({ blocks, privates, fieldsOf, gettersOf, bodyOf }: ViewContext): EntryViews {
  const views = new Map<LinkedEntry, OtherEntry>()
  const owners = new Map<OtherEntry, LinkedEntry>()
  const readers = new Map<string, ReadonlyMap<string, Getter>>()
  const lists = new Map<string, readonly OtherEntry[]>()
  /** Getters of the fields of a collection that are private, or hold something private: what they give is noted. */
  const readersOf = (collection: string): ReadonlyMap<string, Getter> => {
    const known = readers.get(collection)
    if (known) return known
    const made = new Map<string, Getter>()
    for (const [name, hiddenIn] of findPrivateFields(fieldsOf(collection), blocks)) {
      made.set(name, function read(this: OtherEntry): unknown {
        const owner = owners.get(this)
        const value = (owner?.data ?? owner?.part)?.[name]
        privates.note(name, hiddenIn(value))
        return value
      })
    }
    readers.set(collection, made)
    return made
  }
  // To read a body takes a parse, which few functions need. All views have one getter, so that they have one hidden class.
  const facts = {
    configurable: false,
    get(this: OtherEntry): RuledBody | null {
      const body = owners.get(this)?.body
      return body ? bodyOf(body) : null
    },
  }
  const viewOf = (entry: LinkedEntry): OtherEntry => {
    const known = views.get(entry)
    if (known) return known
    const { id, slug, collection, source, locale, data = entry.part } = entry
    const values =
      locale === undefined
        ? { id, slug, collection, source, ...data }
        : { id, slug, collection, source, locale, ...data }
    const view = Object.defineProperty(values, 'body', facts) as OtherEntry
    for (const [name, get] of readersOf(collection))
      if (data && Object.hasOwn(data, name)) Object.defineProperty(view, name, { enumerable: true, get })
    for (const { name, read } of gettersOf(collection))
      Object.defineProperty(view, name, { enumerable: true, get: entry.data ? read : refuseUnsound(name) })
    if (!entry.data)
      for (const name of Object.keys(mergedFields(fieldsOf(collection))))
        if (!data || !Object.hasOwn(data, name))
          Object.defineProperty(view, name, { enumerable: true, get: refuseUnsound(name) })
    views.set(entry, Object.freeze(view))
    owners.set(view, entry)
    return view
  }
  return {
    viewOf,
    ownerOf: (view) => owners.get(view) as LinkedEntry,
    listOf(name, entries) {
      const known = lists.get(name)
      if (known) return known
      const list = Object.freeze([...entries].filter(({ data }) => data !== undefined).map(viewOf))
      lists.set(name, list)
      return list
    },
  }
}

/** The site as functions of the configuration see it. A name that it does not have is an error of the function. */
export function createSiteView(lookups: Lookups, { viewOf, listOf }: EntryViews): SiteView {
  const refuseUnknown = (collection: string): void => {
    if (!lookups.collection(collection)) throw new Error(`there is no collection ${collection}`)
  }
  return {
    entry: <Entry>(collection: string, id: string) => {
      refuseUnknown(collection)
      const found = lookups.find(collection, id)
      return found?.data ? (viewOf(found) as Entry) : undefined
    },
    entries: <Entry>(collection: string) => {
      refuseUnknown(collection)
      lookups.all(collection)
      return listOf(`ids of ${collection}`, lookups.byId(collection).values()) as readonly Entry[]
    },
  }
}

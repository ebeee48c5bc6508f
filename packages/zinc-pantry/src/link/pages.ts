import type { CollectionModel } from '../schema/model.ts'
import type { Entry, LinkedEntry } from '../validate/entry.ts'

/** Which version of an entry is meant, and where it stands. */
export type EntryName = Pick<Entry, 'collection' | 'id' | 'locale' | 'source'>

/** An entry by its collection and id, in all its languages: `huts/gable`. */
export const qualifiedId = ({ collection, id }: Pick<Entry, 'collection' | 'id'>): string => `${collection}/${id}`

/** Says which version of an entry is meant, in one of its languages. */
export const versionKey = (entry: Pick<Entry, 'collection' | 'id' | 'locale'>): string =>
  `${qualifiedId(entry)}\n${entry.locale ?? ''}`

/** An entry as links know it: an edit that leaves its page the same leads no link elsewhere. */
export interface Page extends EntryName {
  readonly slug: string
  readonly rank: string | undefined
  /** The address of its page, where it has one. */
  readonly address: string | undefined
  /** Addresses that it had before. */
  readonly former: readonly string[]
  /** The file of an entry whose values did not pass, relative to the site's root. */
  readonly failedFile: string | undefined
}

/** The address of the page of an entry, where it has one. */
export function pageAddress(
  { data }: Pick<LinkedEntry, 'data'>,
  { address }: Pick<CollectionModel, 'address'>,
): string | undefined {
  const value = address === undefined ? undefined : data?.[address]
  return typeof value === 'string' ? value : undefined
}

const NONE: readonly string[] = []

/** Makes the page of an entry. */
export function createPage(entry: LinkedEntry, collection: CollectionModel): Page {
  const { id, locale, source, slug, rank, data } = entry
  const address = pageAddress(entry, collection)
  const failedFile = data ? undefined : entry.locate([]).file
  const former = collection.formerAddresses === undefined ? undefined : data?.[collection.formerAddresses]
  return {
    collection: collection.name,
    id,
    locale,
    source,
    slug,
    rank,
    address,
    former: Array.isArray(former) ? former.map(String) : NONE,
    failedFile,
  }
}

/** True where links find the same in both. */
export const isSamePage = (one: Page, other: Page): boolean =>
  one.collection === other.collection &&
  one.id === other.id &&
  one.locale === other.locale &&
  one.source.file === other.source.file &&
  one.source.pointer === other.source.pointer &&
  one.slug === other.slug &&
  one.rank === other.rank &&
  one.address === other.address &&
  one.former.join('\n') === other.former.join('\n') &&
  one.failedFile === other.failedFile

/** True where two names mean one entry, in one place. */
export const isSameEntry = (one: EntryName, other: EntryName): boolean =>
  one.id === other.id &&
  one.collection === other.collection &&
  one.locale === other.locale &&
  one.source.file === other.source.file &&
  one.source.pointer === other.source.pointer

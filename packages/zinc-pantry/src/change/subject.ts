import type { LocatedLinks } from '../link/check-links.ts'
import type { LinkedCollection } from '../link/link-entry.ts'
import type { LinkResolver } from '../link/link-resolver.ts'
import type { WrittenFacts } from '../schema/body-facts.ts'
import type { Model } from '../schema/model.ts'
import type { LinkedEntry } from '../validate/entry.ts'

/** A checked site that something is to be changed in. */
export interface ChangeSubject {
  readonly model: Model
  readonly collections: readonly LinkedCollection[]
  /** Files of the content folder, relative to it. */
  readonly files: readonly string[]
  readonly resolveLink: LinkResolver
  /** The links of an entry for which a test does not hold. */
  locateLinks(entry: LinkedEntry, isFine: (href: string) => boolean): LocatedLinks
  textOf(file: string): string | undefined
  /** What the body of an entry says of itself. */
  factsOf(entry: LinkedEntry): WrittenFacts | undefined
}

/** All entries of a site. */
export const entriesOf = ({ collections }: Pick<ChangeSubject, 'collections'>): readonly LinkedEntry[] =>
  collections.flatMap(({ entries }) => entries)

/** The address of the page of an entry, where it has one. */
export function addressOf(
  { model }: Pick<ChangeSubject, 'model'>,
  { collection, data }: LinkedEntry,
): string | undefined {
  const { address } = model.collections.find(({ name }) => name === collection) ?? {}
  const value = address === undefined ? undefined : data?.[address]
  return typeof value === 'string' ? value : undefined
}

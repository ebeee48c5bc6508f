import type { BodyHeading } from '../body/body-summary.ts'
import type { LocatedLinks } from '../link/check-links.ts'
import type { LinkedCollection } from '../link/link-entry.ts'
import type { LinkResolver } from '../link/link-resolver.ts'
import { pageAddress } from '../link/pages.ts'
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
  /** The headings of the body of an entry, in order, at their places in its file. */
  headingsOf(entry: LinkedEntry): readonly BodyHeading[]
  /** What the body of an entry says of itself. */
  factsOf(entry: LinkedEntry): WrittenFacts | undefined
}

/** The address of the page of an entry, where it has one. */
export function addressOf({ model }: Pick<ChangeSubject, 'model'>, entry: LinkedEntry): string | undefined {
  const collection = model.collections.find(({ name }) => name === entry.collection)
  return collection && pageAddress(entry, collection)
}

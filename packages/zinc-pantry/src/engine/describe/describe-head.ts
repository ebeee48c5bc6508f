import { qualifiedId } from '../../link/pages.ts'
import { whyUnpublished } from '../../link/publication.ts'
import type { LinkedEntry } from '../../validate/entry.ts'
import type { SiteView } from './site-view.ts'

/** An entry in a line. */
export interface HeadView {
  /** `huts/gable`. */
  readonly name: string
  readonly collection: string
  readonly id: string
  readonly locale?: string
  /** What people call it. */
  readonly label: string
  readonly address?: string
  /** Why it is not to be seen, where it is not. */
  readonly hidden?: string
}

/** Describes an entry in a line. */
export function describeHead(
  entry: LinkedEntry,
  view: Pick<SiteView, 'addressOf' | 'collectionOf' | 'labelOf' | 'instant'>,
): HeadView {
  const { collection: name, id, locale } = entry
  const address = view.addressOf(entry)
  const collection = view.collectionOf(name)
  const hidden = collection && whyUnpublished(entry, collection, view.instant)
  return {
    ...{ name: qualifiedId(entry), collection: name, id, label: view.labelOf(entry) },
    ...(locale === undefined ? {} : { locale }),
    ...(address === undefined ? {} : { address }),
    ...(hidden === undefined ? {} : { hidden }),
  }
}

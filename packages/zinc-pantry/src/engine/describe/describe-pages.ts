import { qualifiedId } from '../../link/pages.ts'
import { describeHead, type HeadView } from './describe-head.ts'
import type { SiteView } from './site-view.ts'

/** A page of the site: the entry that it is of, and how it is connected. */
export interface PageView extends HeadView {
  readonly address: string
  /** Addresses that it had before, from which readers are led here. */
  readonly former: readonly string[]
  /** Entries that link or refer to it. */
  readonly reachedFrom: readonly string[]
  /** Addresses of pages that its texts lead to. */
  readonly leadsTo: readonly string[]
  /** Links of its texts that lead nowhere. */
  readonly broken: readonly string[]
}

/** Describes the pages of a site, by their addresses. */
export function describePages(view: SiteView): readonly PageView[] {
  const pages = view.entries.flatMap((entry): PageView[] => {
    const address = view.addressOf(entry)
    const collection = view.collectionOf(entry.collection)
    if (address === undefined || !collection) return []
    const links = view.linksOf(entry)
    const former = collection.formerAddresses === undefined ? [] : entry.data?.[collection.formerAddresses]
    return [
      {
        ...describeHead(entry, view),
        address,
        former: Array.isArray(former) ? former.map(String) : [],
        reachedFrom: [...new Set(view.usesOf(entry).map((use) => qualifiedId(use.entry)))],
        leadsTo: links.flatMap(({ target }) => (target.kind === 'entry' && target.address ? [target.address] : [])),
        broken: links.flatMap(({ href, target }) => (target.kind === 'broken' ? [href] : [])),
      },
    ]
  })
  return pages.sort((a, b) => (a.address < b.address ? -1 : a.address > b.address ? 1 : 0))
}

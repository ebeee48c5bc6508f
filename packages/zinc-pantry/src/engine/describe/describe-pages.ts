import { groupBy } from '../../diagnostics/group-by.ts'
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

/** The kinds of pages that one may look for. */
export const PAGE_KINDS = ['all', 'alone', 'double', 'broken', 'moved', 'hidden'] as const
export type PageKind = (typeof PAGE_KINDS)[number]

/** Pages that were looked for. */
export interface PagesView {
  /** In the order of their addresses; of many the first. */
  readonly pages: readonly PageView[]
  readonly total: number
  /** How many there are of each kind. */
  readonly counts: Readonly<Record<PageKind, number>>
  /** The page of the address that was asked for. */
  readonly chosen?: PageView
}

/** What pages are looked for. */
export interface PagesQuestion {
  /** Alone: nothing leads to it. Double: another has its address. Moved: it had others before. Default: all. */
  readonly kind?: PageKind
  /** What its address or its name has in it. */
  readonly text?: string
  /** An address of which all is wanted. */
  readonly address?: string
}

/** So many pages are given at once. */
const MOST = 2_000

/** Finds pages by their kind and by a text. */
export function findPages(pages: readonly PageView[], { kind = 'all', text = '', address }: PagesQuestion): PagesView {
  const byAddress = groupBy(pages, (page) => page.address)
  const isOf: Readonly<Record<PageKind, (page: PageView) => boolean>> = {
    all: () => true,
    alone: ({ reachedFrom }) => reachedFrom.length === 0,
    double: (page) => (byAddress.get(page.address)?.length ?? 0) > 1,
    broken: ({ broken }) => broken.length > 0,
    moved: ({ former }) => former.length > 0,
    hidden: ({ hidden }) => hidden !== undefined,
  }
  const wanted = text.toLowerCase()
  const isMeant = (page: PageView): boolean => `${page.address} ${page.label}`.toLowerCase().includes(wanted)
  const found = pages.filter((page) => isOf[kind](page) && isMeant(page))
  const counts = Object.fromEntries(PAGE_KINDS.map((one) => [one, pages.filter(isOf[one]).length]))
  const chosen = address === undefined ? undefined : byAddress.get(address)?.[0]
  return {
    pages: found.slice(0, MOST),
    total: found.length,
    counts: counts as Record<PageKind, number>,
    ...(chosen ? { chosen } : {}),
  }
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

import type { LinkTarget } from '../link/link-resolver.ts'
import { type EntryName, qualifiedId } from '../link/pages.ts'
import type { LinkedEntry } from '../validate/entry.ts'
import { rewriteHref } from './rewrite-href.ts'
import type { ChangeSubject } from './subject.ts'

/** What a change makes of what links lead to. */
export interface LinkedAfter {
  /** The path of a file after the change, relative to the content folder as before it; of one that holds several pages by the page. */
  fileAfter(file: string, page?: EntryName): string
  /** The collection and id that an entry has after the change: `huts/crag`. */
  nameAfter(page: EntryName): string
  /** The address of a page where it is another one. */
  addressAfter(page: EntryName): string | undefined
}

/** Makes what writes a link of an entry in another way, where it or what it leads to is elsewhere after a change. */
export function createLinkWriter(
  { resolveLink }: Pick<ChangeSubject, 'resolveLink'>,
  entry: LinkedEntry,
  { fileAfter, nameAfter, addressAfter }: LinkedAfter,
): (href: string) => string {
  return (href) => {
    const target = resolveLink(href, entry)
    const file = fileOf(target)
    if (file === undefined || href.startsWith('#')) return href
    const page = 'page' in target ? target.page : undefined
    return rewriteHref({
      href,
      from: entry.source.file,
      fromAfter: fileAfter(entry.source.file, entry),
      to: file,
      toAfter: fileAfter(file, page),
      name: page ? qualifiedId(page) : '',
      nameAfter: page ? nameAfter(page) : '',
      addressAfter: page && addressAfter(page),
    })
  }
}

const fileOf = (target: LinkTarget): string | undefined =>
  target.kind === 'asset' ? target.file : 'page' in target ? target.page.source.file : undefined

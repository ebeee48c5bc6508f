import type { Place, Span } from '../diagnostics/diagnostic.ts'
import { decodeAddress } from './rewrite-href.ts'

const DEFINITION = /^[ \t>*-]*\[[^\]\n]+\]:[ \t]*(?:<([^<>\n]*)>|(\S+))/gm

/**
 * Where the address of a link is written: at the place of the link, or, where it is one by reference, at the definitions that have that
 * address. None where that is not certain.
 */
export function placesOfHref(text: string, place: Place, href: string): readonly Place[] {
  if (isWrittenAs(text.slice(...place.span), href)) return [place]
  return [...text.matchAll(DEFINITION)].flatMap((found): Place[] => {
    const address = found[1] ?? found[2] ?? ''
    const end = found.index + found[0].length - (found[1] === undefined ? 0 : 1)
    const span: Span = [end - address.length, end]
    return isWrittenAs(address, href) ? [{ file: place.file, span }] : []
  })
}

/** True where a text is an address as it is written: readers of Markdown give some with signs encoded that are written as they are. */
function isWrittenAs(written: string, href: string): boolean {
  const plain = written.replaceAll('&amp;', '&')
  return written === href || plain === href || decodeAddress(plain) === decodeAddress(href)
}

import type { Place } from '../diagnostics/diagnostic.ts'
import { placeLinks } from '../link/check-links.ts'
import type { LinkedEntry } from '../validate/entry.ts'
import { placesOfHref } from './places-of-href.ts'
import type { ChangeSubject } from './subject.ts'

/** The links of an entry that are written in another way after a change, and how. */
export function rewriteLinks(
  { locateLinks, textOf }: Pick<ChangeSubject, 'locateLinks' | 'textOf'>,
  entry: LinkedEntry,
  rewrite: (href: string) => string,
): readonly { readonly place: Place; readonly text: string }[] {
  const links = locateLinks(entry, (href) => rewrite(href) === href)
  return placeLinks(entry, links, textOf).flatMap(({ href, place }) =>
    // As it is written, so that what replaces it is written so too.
    placesOfHref(textOf(place.file) ?? '', place, href).map((own) => ({
      place: own.place,
      text: rewrite(own.address),
    })),
  )
}

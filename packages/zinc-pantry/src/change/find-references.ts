import type { Place } from '../diagnostics/diagnostic.ts'
import type { Link, LinkedEntry, Reference } from '../validate/entry.ts'

/** True for a link that leads to an entry that is changed. */
export type LinkTest = (link: Pick<Link, 'collection' | 'id'>) => boolean

/** A reference as it stands in a file. */
export interface PlacedReference {
  readonly link: Link
  readonly reference: Reference
  readonly place: Place
  /** True for the property of a block in a body. */
  readonly isInBody: boolean
}

/** The references of an entry that lead to some others. */
export function findReferences(entry: LinkedEntry, isLed: LinkTest): readonly PlacedReference[] {
  const led = entry.links.filter(isLed)
  if (led.length === 0) return []
  const { body } = entry
  const written = new Map(entry.references.map((one) => [one.path.join('\n'), one]))
  return led.flatMap((link): PlacedReference[] => {
    const reference = written.get(link.path.join('\n'))
    if (!reference) return []
    const place = entry.locate(link.path)
    const isInBody = body !== undefined && place.file === body.file && place.span[0] >= body.startOffset
    return [{ link, reference, place, isInBody }]
  })
}

/** The collection that a reference to one of several names in front of the id. */
export const prefixOf = ({ targets, text }: Reference, collection: string): string =>
  targets.length > 1 && text.startsWith(`${collection}/`) ? `${collection}/` : ''

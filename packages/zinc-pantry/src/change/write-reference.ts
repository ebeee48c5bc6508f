import { formatOf } from '../read/formats.ts'
import type { LinkedEntry } from '../validate/entry.ts'
import type { PlacedReference } from './find-references.ts'
import type { ChangeSubject } from './subject.ts'
import { writeItem, writeProperty, writeScalar } from './write-scalar.ts'

/** What stands in the place of a reference so that it says another text; undefined where a person has to write it. */
export function writeReference(
  { model, textOf }: Pick<ChangeSubject, 'model' | 'textOf'>,
  entry: LinkedEntry,
  { link, reference, place, isInBody, text }: PlacedReference & { readonly text: string },
): string | undefined {
  if (isInBody) return writeProperty(text)
  const slice = textOf(place.file)?.slice(...place.span) ?? ''
  const format = formatOf(place.file, model.endings)
  const separator = model.collections.find(({ name }) => name === entry.collection)?.cells.listSeparator ?? ';'
  const isInCell = typeof link.path.at(-1) === 'number' && (format?.hasCells || slice.includes(separator))
  if (isInCell) return writeItem(slice, { item: reference.text, text, separator })
  return format && writeScalar(slice, text, format.name)
}

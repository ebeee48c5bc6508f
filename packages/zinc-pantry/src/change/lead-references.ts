import type { Place } from '../diagnostics/diagnostic.ts'
import { valueAt } from '../diagnostics/own-key.ts'
import type { PathSegment } from '../read/document.ts'
import { createWrittenPath } from '../schema/written-path.ts'
import type { LinkedEntry, Reference } from '../validate/entry.ts'
import { KEYS_STEP } from '../values/steps.ts'
import { editValue } from './edit-value.ts'
import type { EditedSource, TextEdit } from './edited-source.ts'
import { findReferences, type LinkTest, prefixOf } from './find-references.ts'
import type { SourceOf } from './source.ts'
import type { ChangeSubject } from './subject.ts'
import { writeProperty, writeScalar } from './write-scalar.ts'

/** References that are to lead elsewhere. */
export interface LedReferences {
  readonly isLed: LinkTest
  /** The entry that they lead to; undefined where they go. */
  readonly other: LinkedEntry | undefined
}

/** Where an entry refers to one that goes, and the edit for it; none where a person has to do it. */
export function leadReferences(
  { model }: ChangeSubject,
  entry: LinkedEntry,
  { isLed, other, sourceOf }: LedReferences & { readonly sourceOf: SourceOf },
): readonly { readonly place: Place; readonly edit: TextEdit | undefined }[] {
  const holder = model.collections.find(({ name }) => name === entry.collection)
  const written = holder && createWrittenPath(holder.fields, model.blocks)
  const found = findReferences(entry, isLed).map(({ link, reference, place, isInBody }) => {
    const text = other && textFor(reference, other)
    if (isInBody) return { place, edit: propertyEdit(place, text) }
    const source = sourceOf(entry, place.file)
    if (!source) return { place, edit: undefined }
    const path = [
      ...entry.recordPath,
      ...(written?.([...link.path], valueAt(source.document.value, entry.recordPath)) ?? link.path),
    ]
    const separator = holder?.cells.listSeparator ?? ';'
    return { place, edit: editReference(source, { path, place, reference, text, separator }) }
  })
  // Items of one list have one edit.
  return [...new Map(found.map((one, at) => [one.edit ? one.edit.span.join() : `by hand ${at}`, one])).values()]
}

/** The edit of the property of a block. */
function propertyEdit({ span }: Place, text: string | undefined): TextEdit | undefined {
  const property = text === undefined ? undefined : writeProperty(text)
  return property === undefined ? undefined : { span, text: property }
}

/** A reference as it stands in a text. */
interface WrittenReference {
  readonly path: readonly PathSegment[]
  readonly place: Place
  readonly reference: Reference
  /** What it is to say; undefined where it goes. */
  readonly text: string | undefined
  readonly separator: string
}

function editReference(
  source: EditedSource,
  { path, place, reference, text, separator }: WrittenReference,
): TextEdit | undefined {
  const { document, text: all, format } = source
  if (path.at(-1) === KEYS_STEP) {
    const key = path.slice(0, -1)
    const holder = valueAt(document.value, key.slice(0, -1)) as object
    const isLast = Object.keys(holder).length === 1
    if (text === undefined) return editValue(source, isLast ? key.slice(0, -1) : key, undefined, { isWhole: true })
    const name = Object.hasOwn(holder, text) ? undefined : writeScalar(all.slice(...place.span), text, format.name)
    return name === undefined ? undefined : { span: place.span, text: name }
  }
  const isItem = typeof path.at(-1) === 'number'
  const at = isItem ? path.slice(0, -1) : path
  const raw = valueAt(document.value, at)
  if (!isItem && !(format.hasCells && typeof raw === 'string' && raw.includes(separator)))
    return editValue(source, at, text)
  const items = Array.isArray(raw)
    ? raw
    : String(raw)
        .split(separator)
        .map((one) => one.trim())
  const replaced = items.map((item) => (item === reference.text ? text : item))
  const left = replaced.filter((item, position) => item !== undefined && replaced.indexOf(item) === position)
  return editValue(source, at, left.length === 0 ? undefined : left)
}

/** What a reference says where it leads to another entry; undefined where that entry has no such text. */
function textFor(reference: Reference, other: LinkedEntry): string | undefined {
  const { by } = reference
  const value = by === 'id' ? other.id : by === 'slug' ? other.slug : other.data?.[by]
  return typeof value === 'string' ? prefixOf(reference, other.collection) + value : undefined
}

import { collectionLevel } from '../change/model-names.ts'
import { takeApart, type WrittenParts } from '../change/written-fields.ts'
import { valueAt } from '../diagnostics/own-key.ts'
import type { ReadDocument } from '../read/document.ts'
import { type Format, formatOf } from '../read/formats.ts'
import { asGroup } from '../validate/name-record.ts'
import type { EditorSite, FileReading } from './editor-site.ts'
import type { EditedDocument } from './look-at.ts'

/** A document with what is written in its records. */
export interface WrittenDocument {
  readonly document: ReadDocument
  readonly format: Format
  /** How the first of the collections reads it that do. */
  readonly reading: FileReading
  readonly records: readonly WrittenParts[]
}

/** Takes the records of a document apart by the fields of their collections; undefined where it cannot be read. */
export function readParts(editorSite: EditorSite, { file, text }: EditedDocument): WrittenDocument | undefined {
  const { model, readingsOf, entriesIn, contentPath } = editorSite
  const readings = readingsOf(file)
  const [reading] = readings
  const format = formatOf(file, model.endings)
  const document = reading && format?.read({ file, text }, reading.options).document
  if (!format || !document) return undefined
  const records = readings.flatMap(({ collection, holdsMany }) => {
    const level = collectionLevel(model, collection.name)
    const own = entriesIn(contentPath(file) ?? '').filter((entry) => entry.collection === collection.name)
    const paths = holdsMany ? own.map(({ recordPath }) => recordPath) : [[]]
    // What is derived is not written.
    const written = level && { ...level, fields: collection.fields }
    return paths.flatMap((path) =>
      written ? [takeApart(model, written, { value: asGroup(valueAt(document.value, path), collection), path })] : [],
    )
  })
  return { document, format, reading, records }
}

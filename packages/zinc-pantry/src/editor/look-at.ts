import type { Span } from '../diagnostics/diagnostic.ts'
import { placeLinks } from '../link/check-links.ts'
import type { LinkedEntry } from '../validate/entry.ts'
import type { FormatName } from '../values/format-names.ts'
import type { EditorSite } from './editor-site.ts'
import { type Cursor, findCursor } from './find-cursor.ts'
import { type FieldPlace, findFieldPlaces } from './find-field.ts'
import { partAt, type TextPart } from './text-part.ts'

/** A document as it is in the editor. */
export interface EditedDocument {
  /** Relative to the site's root. */
  readonly file: string
  readonly text: string
}

/** A position in a document. */
export interface Position extends EditedDocument {
  /** In UTF-16 code units, from 0. */
  readonly offset: number
}

/** What is at a position: in data a place of the schema, in a body its text. */
export interface Look {
  readonly part: TextPart
  readonly format: FormatName
  /** In the data of a document; places are those of the whole document. */
  readonly cursor: Cursor | undefined
  readonly places: readonly FieldPlace[]
}

/** Looks at a position. Undefined for a file that no collection reads. */
export function lookAt(editorSite: EditorSite, { file, text, offset }: Position): Look | undefined {
  const format = editorSite.formatOf(file)
  const readings = editorSite.readingsOf(file)
  if (!format || readings.length === 0) return undefined
  const part = partAt(text, offset, format)
  const [{ options } = { options: {} }] = readings
  const found = part.isBody ? undefined : findCursor(part, offset - part.start, options)
  const cursor = found && { ...found, token: { ...found.token, span: shift(found.token.span, part.start) } }
  return { part, format, cursor, places: cursor ? findFieldPlaces(editorSite.model, readings, cursor) : [] }
}

const shift = ([start, end]: Span, by: number): Span => [start + by, end + by]

/** A link of a body, as it is written. */
export interface WrittenLink {
  readonly href: string
  readonly span: Span
  readonly entry: LinkedEntry
}

/** The links in the texts of a file, as it was checked last. */
export function linksIn({ site, entriesIn, contentPath }: EditorSite, file: string): readonly WrittenLink[] {
  const path = contentPath(file)
  const { bodies, textOf } = site.checked
  if (path === undefined || !bodies) return []
  return entriesIn(path).flatMap((entry) =>
    placeLinks(
      entry,
      bodies.locateLinks(entry, () => false),
      textOf,
    ).flatMap(({ href, place }) => (place.file === file ? [{ href, span: place.span, entry }] : [])),
  )
}

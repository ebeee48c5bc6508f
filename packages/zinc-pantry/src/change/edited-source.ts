import type { Span } from '../diagnostics/diagnostic.ts'
import { replaceSpans } from '../diagnostics/replace-spans.ts'
import type { CsvOptions } from '../read/csv.ts'
import type { ReadDocument } from '../read/document.ts'
import type { Format } from '../read/formats.ts'

/** A text of data in which a value is to be another. */
export interface EditedSource {
  readonly file: string
  readonly text: string
  readonly format: Format
  readonly document: ReadDocument
  readonly readOptions: CsvOptions
  /** Between the items of a list in one cell. */
  readonly listSeparator: string
}

/** An edit of a text. */
export interface TextEdit {
  readonly span: Span
  readonly text: string
}

/** Edits in the order of their places. */
export const inOrder = (edits: readonly TextEdit[]): readonly TextEdit[] =>
  edits.toSorted((a, b) => a.span[0] - b.span[0] || a.span[1] - b.span[1])

/** A text with some edits made, as it is read then; undefined where it cannot be. */
export function withEdits(source: EditedSource, edits: readonly TextEdit[]): EditedSource | undefined {
  const { file, format, readOptions } = source
  const text = replaceSpans(source.text, inOrder(edits), (edit) => edit.text)
  const { document } = format.read({ file, text }, readOptions)
  return document && { ...source, text, document }
}

import type { Span } from '../diagnostics/diagnostic.ts'
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

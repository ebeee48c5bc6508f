import type { CsvOptions } from '../read/csv.ts'
import { formatOf } from '../read/formats.ts'
import type { CollectionModel } from '../schema/model.ts'
import type { EditedSource } from './edit-value.ts'
import type { ChangeSubject } from './subject.ts'

/** How the files of a collection are read. */
export type ReadOptionsOf = (collection: CollectionModel) => CsvOptions

/** Opens a file whose values are to be edited; undefined where it cannot be read. */
export function openSource(
  { textOf, model }: ChangeSubject,
  file: string,
  readOptions: CsvOptions,
): EditedSource | undefined {
  const text = textOf(file)
  const format = formatOf(file, model.endings)
  const document = text === undefined ? undefined : format?.read({ file, text }, readOptions).document
  return text !== undefined && format && document ? { file, text, format, document, readOptions } : undefined
}

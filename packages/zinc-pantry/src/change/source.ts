import type { CsvOptions } from '../read/csv.ts'
import { formatOf } from '../read/formats.ts'
import type { CollectionModel } from '../schema/model.ts'
import type { LinkedEntry } from '../validate/entry.ts'
import type { EditedSource } from './edited-source.ts'
import type { ChangeSubject } from './subject.ts'

/** How the files of a collection are read. */
export type ReadOptionsOf = (collection: CollectionModel) => CsvOptions

/** Opens a file; undefined where it cannot be read. */
export function openSource(
  { textOf, model }: Pick<ChangeSubject, 'textOf' | 'model'>,
  file: string,
  { collection, readOptionsOf }: { readonly collection: CollectionModel; readonly readOptionsOf: ReadOptionsOf },
): EditedSource | undefined {
  const text = textOf(file)
  const format = formatOf(file, model.endings)
  const readOptions = readOptionsOf(collection)
  const document = text === undefined ? undefined : format?.read({ file, text }, readOptions).document
  const { listSeparator } = collection.cells
  return text !== undefined && format && document
    ? { file, text, format, document, readOptions, listSeparator }
    : undefined
}

/** Gives the file of an entry as it is edited; undefined for what cannot be read, or comes from elsewhere. */
export type SourceOf = (entry: LinkedEntry, file?: string) => EditedSource | undefined

/** Makes what opens the files of entries, each once. */
export function createSources(
  subject: Pick<ChangeSubject, 'textOf' | 'model'>,
  readOptionsOf: ReadOptionsOf,
): SourceOf {
  const sources = new Map<string, EditedSource | undefined>()
  return (entry, file = entry.locate([]).file) => {
    if (!sources.has(file)) {
      const holder = subject.model.collections.find(({ name }) => name === entry.collection)
      const isOurs = holder !== undefined && file.startsWith(`${subject.model.content}/`)
      sources.set(file, isOurs ? openSource(subject, file, { collection: holder, readOptionsOf }) : undefined)
    }
    return sources.get(file)
  }
}

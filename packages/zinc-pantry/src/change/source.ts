import type { CsvOptions } from '../read/csv.ts'
import { formatOf } from '../read/formats.ts'
import type { CollectionModel } from '../schema/model.ts'
import type { LinkedEntry } from '../validate/entry.ts'
import type { EditedSource } from './edit-value.ts'
import type { ChangeSubject } from './subject.ts'

/** How the files of a collection are read. */
export type ReadOptionsOf = (collection: CollectionModel) => CsvOptions

/** Opens a file; undefined where it cannot be read. */
function openSource({ textOf, model }: ChangeSubject, file: string, readOptions: CsvOptions): EditedSource | undefined {
  const text = textOf(file)
  const format = formatOf(file, model.endings)
  const document = text === undefined ? undefined : format?.read({ file, text }, readOptions).document
  return text !== undefined && format && document ? { file, text, format, document, readOptions } : undefined
}

/** Gives the file of an entry as it is edited; undefined for what cannot be read, or comes from elsewhere. */
export type SourceOf = (entry: LinkedEntry, file?: string) => EditedSource | undefined

/** Makes what opens the files of entries, each once. */
export function createSources(subject: ChangeSubject, readOptionsOf: ReadOptionsOf): SourceOf {
  const sources = new Map<string, EditedSource | undefined>()
  return (entry, file = entry.locate([]).file) => {
    if (!sources.has(file)) {
      const holder = subject.model.collections.find(({ name }) => name === entry.collection)
      const isOurs = holder !== undefined && file.startsWith(`${subject.model.content}/`)
      sources.set(file, isOurs ? openSource(subject, file, readOptionsOf(holder)) : undefined)
    }
    return sources.get(file)
  }
}

import { type EntryChoice, listEntryChoices } from '../change/entry-choices.ts'
import { groupBy } from '../diagnostics/group-by.ts'
import { readOptionsOf } from '../engine/check-file.ts'
import type { ExaminedSite } from '../engine/run-site.ts'
import { type AssignedFile, assignFiles } from '../find/assign-files.ts'
import { createFinder, type EntryFinder, entriesOf } from '../link/linked-entries.ts'
import type { CsvOptions } from '../read/csv.ts'
import { extensionsOf, formatOf } from '../read/formats.ts'
import type { CollectionModel, Model } from '../schema/model.ts'
import type { LinkedEntry } from '../validate/entry.ts'
import type { FormatName } from '../values/format-names.ts'

/** A collection that reads a file, and how. */
export interface FileReading {
  readonly collection: CollectionModel
  readonly assigned: AssignedFile
  /** True where the file holds many records. */
  readonly holdsMany: boolean
  readonly options: CsvOptions
}

/** A site as the editor service asks it: what it finds out is found out once. */
export interface EditorSite {
  readonly site: ExaminedSite
  readonly model: Model
  /** The absolute path of the root, where it has one. */
  readonly root: string | undefined
  /** The collections that read a file, by its path from the root. */
  readingsOf(file: string): readonly FileReading[]
  formatOf(file: string): FormatName | undefined
  /** The entries that stand in a file. */
  entriesIn(file: string): readonly LinkedEntry[]
  readonly entries: readonly LinkedEntry[]
  readonly find: EntryFinder
  /** The entries of a collection that a reference may lead to, by what it says. */
  choicesOf(collection: string, by: string, isOnly: boolean): readonly EntryChoice[]
  /** The path of a file below the content folder; undefined for others. */
  contentPath(file: string): string | undefined
}

/** Opens a site for the editor service. Undefined while its configuration never was right. */
export function openEditorSite(site: ExaminedSite, root?: string): EditorSite | undefined {
  const { model, checked } = site
  if (!model) return undefined
  const choices = new Map<string, readonly EntryChoice[]>()
  const readings = new Map<string, readonly FileReading[]>()
  let all: readonly LinkedEntry[] | undefined
  let byFile: ReadonlyMap<string, readonly LinkedEntry[]> | undefined
  let finder: EntryFinder | undefined
  const entries = (): readonly LinkedEntry[] => {
    all ??= entriesOf(checked)
    return all
  }
  const start = `${model.content}/`
  const contentPath = (file: string): string | undefined =>
    file.startsWith(start) ? file.slice(start.length) : undefined
  return {
    site,
    model,
    root,
    contentPath,
    get entries() {
      return entries()
    },
    get find() {
      finder ??= createFinder(checked)
      return finder
    },
    choicesOf(collection, by, isOnly) {
      const key = `${collection} ${by} ${isOnly}`
      const known = choices.get(key) ?? listEntryChoices(checked.collections, collection, { by, isOnly })
      choices.set(key, known)
      return known
    },
    readingsOf(file) {
      const known = readings.get(file) ?? readingsOf(model, contentPath(file))
      readings.set(file, known)
      return known
    },
    formatOf: (file) => formatOf(file, model.endings)?.name,
    entriesIn(file) {
      byFile ??= groupBy(
        entries().filter(({ source }) => !('implicit' in source)),
        ({ source }) => source.file,
      )
      return byFile.get(file) ?? []
    },
  }
}

function readingsOf(model: Model, path: string | undefined): readonly FileReading[] {
  if (path === undefined) return []
  const format = formatOf(path, model.endings)
  const { assigned } = assignFiles(model.collections, [path], extensionsOf(model.endings))
  return assigned.flatMap(({ collection, files }): FileReading[] => {
    const [own] = files
    if (!own || !format) return []
    const wanted = collection.perFile ?? (own.named ? 'many' : 'one')
    const canHold = format.canHoldMany || collection.records !== undefined
    const holdsMany = format.alwaysMany === true || (canHold && wanted === 'many')
    return [{ collection, assigned: own, holdsMany, options: readOptionsOf(collection) }]
  })
}

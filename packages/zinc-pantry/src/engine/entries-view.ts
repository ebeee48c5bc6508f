import type { CollectionModel } from '../schema/model.ts'
import { createEntry } from '../validate/create-entry.ts'
import type { Entry } from '../validate/entry.ts'
import type { CheckedCollection } from './check-collection.ts'

/**
 * What the other collections see of the entries of one:
 *
 * `{"digest":"…","files":[["huts.csv",["gable","ledge"]]],"slugs":{"1":"the-ledge"},"pointers":{"1":"/7"},"values":{"name":["Gable","Ledge"]}}`
 */
export interface EntriesView {
  /** Of all that references compare with. */
  readonly digest: string
  /** The files, each with the ids of its entries. */
  readonly files: readonly (readonly [path: string, ids: readonly string[]])[]
  /** By the numbers of entries: slugs that are not the id, and places that are not that in the list of a file. */
  readonly slugs: Readonly<Record<number, string>>
  readonly pointers: Readonly<Record<number, string>>
  /** Of the fields that references compare with, the values of all entries. */
  readonly values: Readonly<Record<string, readonly unknown[]>>
}

/** Describes what others see of entries, `compared` being the fields that references compare with. */
export function describeView(
  { entries }: Pick<CheckedCollection, 'entries'>,
  compared: readonly string[],
  digest: (text: string) => string,
): EntriesView {
  const files: (readonly [path: string, ids: string[]])[] = []
  const slugs: Record<number, string> = {}
  const pointers: Record<number, string> = {}
  for (const [at, { id, slug, source }] of entries.entries()) {
    if (files.at(-1)?.[0] !== source.file) files.push([source.file, []])
    const ids = files.at(-1)?.[1] as string[]
    if (slug !== id) slugs[at] = slug
    if (source.pointer !== `/${ids.length}`) pointers[at] = source.pointer
    ids.push(id)
  }
  const values = Object.fromEntries(
    compared.map((field) => [field, entries.map(({ data }) => data?.[field] ?? null)] as const),
  )
  const keys = [files.map(([, ids]) => ids), slugs, values]
  return { digest: digest(JSON.stringify(keys)), files, slugs, pointers, values }
}

/** A collection of which nothing but what others see is there. */
export function restoreView(
  { files, slugs, pointers, values }: EntriesView,
  collection: CollectionModel,
): CheckedCollection {
  const entries: Entry[] = []
  const compared = Object.entries(values)
  for (const [file, ids] of files)
    for (const [place, id] of ids.entries()) {
      const at = entries.length
      entries.push(
        createEntry({
          ...{ id, slug: slugs[at] ?? id, collection: collection.name },
          source: { file, pointer: pointers[at] ?? `/${place}` },
          data: Object.fromEntries(compared.map(([field, all]) => [field, all[at]])),
          ...{ body: undefined, locale: undefined, rank: undefined },
          // Nothing is told at an entry that was not read.
          locate: () => ({ file, span: [0, 0] }),
          ...{ recordPath: [], idPath: [], slugPath: [] },
        }),
      )
    }
  return { collection, entries, isSettled: true, failedFiles: [], diagnostics: [], problems: [], unnamedCount: 0 }
}

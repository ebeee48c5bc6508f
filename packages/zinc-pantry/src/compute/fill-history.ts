import type { HistoryField } from '../schema/fields/history.ts'
import type { CollectionModel } from '../schema/model.ts'
import type { LinkedEntry } from '../validate/entry.ts'
import { withValues } from './with-values.ts'

/** The first and the last change of a file, as instants in UTC. */
export interface FileTimes {
  readonly first: string
  readonly last: string
}

/** What is known of the changes of files, by their paths below the content folder. */
export interface SiteHistory {
  /** Undefined where there is no version control. */
  readonly versions: ReadonlyMap<string, FileTimes> | undefined
  /** The times of a file itself. */
  timesOf(file: string): FileTimes | undefined
}

/** The values of the history fields of an entry, by name. */
export type HistoryValues = readonly (readonly [name: string, value: string | null])[]

const historyFieldsOf = ({ fields }: CollectionModel): (readonly [string, HistoryField])[] =>
  Object.entries(fields).flatMap(([name, field]) => (field.kind === 'history' ? [[name, field] as const] : []))

/** True where a collection says when its entries changed. */
export const hasHistory = (collection: CollectionModel): boolean => historyFieldsOf(collection).length > 0

/** Makes what finds when the entries of a collection changed. */
export function createHistoryFinder(
  collection: CollectionModel,
  { versions, timesOf }: SiteHistory,
): (entry: LinkedEntry) => HistoryValues {
  const fields = historyFieldsOf(collection)
  return ({ source: { file } }) =>
    fields.map(([name, { end, options }]) => {
      const { from = 'versions' } = options
      const times =
        (from === 'files' ? undefined : versions?.get(file)) ?? (from === 'versions' ? undefined : timesOf(file))
      return [name, times?.[end] ?? null] as const
    })
}

/** An entry with its history fields filled. */
export const fillHistory = (entry: LinkedEntry, values: HistoryValues): LinkedEntry =>
  entry.data ? { ...entry, data: withValues(entry.data, values) } : entry

import { type Assignment, setValues } from '../../change/set-values.ts'
import { readOptionsOf } from '../check-file.ts'
import { findOtherValues } from './find-other-values.ts'
import type { Planner } from './planner.ts'

/** Values that are to be set in entries. */
export interface SetRequest {
  readonly kind: 'set'
  readonly collection: string
  readonly assignments: readonly Assignment[]
  /** A condition in the text form of queries. Default: all entries. */
  readonly where?: string | undefined
  /** The language of the entries (BCP 47). Default: the first of the site. */
  readonly locale?: string | undefined
  /** Only where a field has no value. Default: false. */
  readonly absent?: boolean | undefined
}

/** Plans the setting of values in the entries with some ids. */
export function createSetPlanner(
  { collection, assignments, absent = false, locale }: SetRequest,
  ids: ReadonlySet<string>,
): Planner {
  const isWanted = (entry: { readonly collection: string; readonly id: string; readonly locale: string | undefined }) =>
    entry.collection === collection && ids.has(entry.id) && (entry.locale === undefined || entry.locale === locale)
  return {
    plan: (subject) => setValues(subject, { collection, assignments, isAbsentOnly: absent, isWanted }, readOptionsOf),
    refuse: (subject, seen) =>
      findOtherValues(subject, seen, {
        mayBecome: () => false,
        fieldsOf: (entry) => (isWanted(entry) ? assignments.map(({ path }) => path[0] ?? '') : []),
      }),
  }
}

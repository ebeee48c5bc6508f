import type { Refusal } from '../../change/change.ts'
import type { Reordering } from '../../change/place-beside.ts'
import { refuseName } from '../../change/refuse-name.ts'
import { manualOrderOf, reorderEntry } from '../../change/reorder-entry.ts'
import type { ChangeSubject } from '../../change/subject.ts'
import { readOptionsOf } from '../check-file.ts'
import { findOtherValues } from './find-other-values.ts'
import type { Planner, SeenSite } from './planner.ts'
import { functionsThatName, withoutFront } from './target.ts'

/** Plans another place for an entry in the order of its collection. */
export function createOrderPlanner(
  { collection, id, neighbour: written, side }: Reordering,
  subject: ChangeSubject,
): Planner | Refusal {
  const neighbour = withoutFront(written, `${collection}/`)
  const ids = idsIn(subject, collection)
  if (!ids.includes(neighbour)) return refuseName(`There is no entry "${neighbour}" in ${collection}`, neighbour, ids)
  const reordering: Reordering = { collection, id, neighbour, side }
  return {
    plan: (own) => reorderEntry(own, reordering, readOptionsOf),
    functionsThatName: (model) => functionsThatName(model, `${collection}/${id}`),
    refuse(own, seen) {
      const found = own.collections.find((one) => one.collection.name === collection)
      const by = found && manualOrderOf(found.collection, found.entries)
      const isThere = isBeside(ids, idsIn(seen, collection), reordering)
      if (!isThere) return { refused: `${collection}/${id} would not stand ${side} ${neighbour}` }
      return findOtherValues(own, seen, {
        mayBecome: () => false,
        fieldsOf: (entry) => (entry.collection === collection && by && 'field' in by ? [by.field] : []),
      })
    },
  }
}

/** The ids of a collection in its order, each once. */
const idsIn = ({ collections }: Pick<SeenSite, 'collections'>, name: string): readonly string[] => [
  ...new Set(collections.find((one) => one.collection.name === name)?.entries.map(({ id }) => id)),
]

/** True where one stands beside the other, each with what lies below it, and the others are in the order that they had. */
function isBeside(
  before: readonly string[],
  now: readonly string[],
  { id, neighbour, side }: Pick<Reordering, 'id' | 'neighbour' | 'side'>,
): boolean {
  const isWith = (one: string, other: string): boolean => one === other || one.startsWith(`${other}/`)
  const others = (ids: readonly string[]): string => JSON.stringify(ids.filter((one) => !isWith(one, id)))
  const tops = now.filter((one) => isWith(one, id) === (one === id) && isWith(one, neighbour) === (one === neighbour))
  return others(before) === others(now) && tops.indexOf(id) - tops.indexOf(neighbour) === (side === 'after' ? 1 : -1)
}

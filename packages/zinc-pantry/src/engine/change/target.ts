import type { Refusal } from '../../change/change.ts'
import type { ChangeSubject } from '../../change/subject.ts'
import { suggestNearest } from '../../diagnostics/suggest.ts'
import { entriesOf } from '../../link/linked-entries.ts'
import { qualifiedId } from '../../link/pages.ts'

/** The collection and the id that an entry is named by, as `huts/gable`. */
export function splitName(target: string): { readonly collection: string; readonly id: string } {
  const slash = target.indexOf('/')
  return { collection: target.slice(0, slash), id: target.slice(slash + 1) }
}

/** Why there is no entry of a name. */
export function refuseUnknown(subject: Pick<ChangeSubject, 'collections'>, target: string): Refusal | undefined {
  const names = entriesOf(subject).map(qualifiedId)
  if (names.includes(target)) return undefined
  const suggestion = suggestNearest(target, names)
  const help =
    suggestion === undefined ? 'Name it by its collection and id, such as huts/gable' : `Did you mean "${suggestion}"?`
  return { refused: `There is no entry "${target}"`, help }
}

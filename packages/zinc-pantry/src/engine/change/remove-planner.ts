import { removeEntry } from '../../change/remove-entry.ts'
import type { ChangeSubject } from '../../change/subject.ts'
import { entriesOf } from '../../link/linked-entries.ts'
import { readOptionsOf } from '../check-file.ts'
import { findOtherValues } from './find-other-values.ts'
import type { Planner } from './planner.ts'
import { functionsThatName, refuseUnknown, splitName } from './target.ts'

/** An entry that is to go. */
export interface RemoveRequest {
  readonly kind: 'remove'
  /**
   * An entry (`huts/gable`), a collection (`huts`), a field (`huts.beds`), a value of a choice (`trails.grade.hard`), a block
   * (`callout`), or a file or folder of the content (`pictures/bell.png`).
   */
  readonly target: string
  /** The id of the entry, the value or the file that stands for it from now on. Default: none. */
  readonly replacement?: string | undefined
}

/** Plans the removal of an entry. */
export function createRemovePlanner({ target, replacement }: RemoveRequest): Planner {
  const { collection, id } = splitName(target)
  const leadsThere = (link: { readonly collection: string; readonly id: string }): boolean =>
    link.collection === collection && link.id === id
  /** The id of what stands for it, which may be named by its collection as well. */
  const idOfOther = (subject: ChangeSubject): string | undefined => {
    const isId = entriesOf(subject).some((one) => one.collection === collection && one.id === replacement)
    return !isId && replacement?.startsWith(`${collection}/`) ? replacement.slice(collection.length + 1) : replacement
  }
  return {
    plan: (subject: ChangeSubject) =>
      refuseUnknown(subject, target) ??
      removeEntry(subject, { collection, id, replacement: idOfOther(subject) }, readOptionsOf),
    functionsThatName: (model) => functionsThatName(model, target),
    refuse: (subject, seen) =>
      entriesOf(seen).some((entry) => leadsThere(entry) && !('implicit' in entry.source))
        ? { refused: `${target} cannot be taken out of its file with certainty`, help: 'Take it out by hand' }
        : findOtherValues(subject, seen, {
            mayBecome: () => false,
            fieldsOf: ({ links }, { formerAddresses }) => [
              ...links.filter(leadsThere).map(({ path }) => String(path[0])),
              ...(formerAddresses === undefined ? [] : [formerAddresses]),
            ],
          }),
  }
}

import type { Refusal } from '../../change/change.ts'
import type { ChangeSubject } from '../../change/subject.ts'
import { suggestNearest } from '../../diagnostics/suggest.ts'
import { settingPath } from '../../diagnostics/words.ts'
import { entriesOf } from '../../link/linked-entries.ts'
import { qualifiedId } from '../../link/pages.ts'
import type { Model } from '../../schema/model.ts'
import type { NamedSetting } from '../impact/effects.ts'
import { functionsWithText } from '../impact/functions.ts'

/** The collection and the id that an entry is named by, as `huts/gable`. */
export function splitName(target: string): { readonly collection: string; readonly id: string } {
  const slash = target.indexOf('/')
  return { collection: target.slice(0, slash), id: target.slice(slash + 1) }
}

/** A name without what may stand in front of it, such as the folder of the content. */
export const withoutFront = (name: string, front: string): string =>
  name.startsWith(front) ? name.slice(front.length) : name

/** Functions of the configuration that name an entry. */
export function functionsThatName(model: Model, target: string): readonly NamedSetting[] {
  const { collection, id } = splitName(target)
  return functionsWithText(model, id, collection).map((one) => ({
    ...one,
    words: `${settingPath([...one.path])} names ${id}`,
  }))
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

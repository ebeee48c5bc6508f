import type { Refusal } from '../../change/change.ts'
import type { ConfigurationText } from '../../change/configuration-text.ts'
import type { ChangeSubject } from '../../change/subject.ts'
import { createEntryPlanner } from './entry-planner.ts'
import { createFilePlanner } from './file-planner.ts'
import { createHeadingPlanner } from './heading-planner.ts'
import type { Planner } from './planner.ts'
import { refuseTarget, resolveTarget } from './resolve-target.ts'
import { createSymbolPlanner } from './symbol-planner.ts'
import { splitName, withoutFront } from './target.ts'

/** Something that is to have another name. */
export interface RenameRequest {
  readonly kind: 'rename'
  /**
   * An entry (`huts/gable`), a collection (`huts`), a field (`huts.beds`), a value of a choice (`trails.grade.hard`), a block
   * (`callout`), a file or folder of the content (`pictures/bell.png`), or a heading by its id (`trails/high#the-ridge`).
   */
  readonly target: string
  /** The id, the name or the path that it is to have. */
  readonly name: string
  /** Also all that shares its declaration, as a set of fields that several collections have. Default: false. */
  readonly shared?: boolean | undefined
}

/** Plans a renaming, by what the name means. */
export function createRenamePlanner(
  { target, name, shared = false }: RenameRequest,
  subject: ChangeSubject,
  configuration: ConfigurationText,
): Planner | Refusal {
  const [entry = '', heading] = target.split('#')
  if (heading !== undefined && resolveTarget(subject, entry)?.kind === 'entry')
    return createHeadingPlanner({ ...splitName(entry), heading, text: name })
  const found = resolveTarget(subject, target)
  if (!found) return refuseTarget(subject, heading === undefined ? target : entry)
  switch (found.kind) {
    case 'entry':
      return createEntryPlanner({ target, name })
    case 'file':
    case 'folder':
      return createFilePlanner({ path: found.path, to: pathFor(found.path, target, name) }, configuration)
    default:
      return createSymbolPlanner({ target: found, name, shared }, { model: subject.model, configuration })
  }
}

/** The new path of a file, without what the old one was named with in front of it, such as the content folder. */
function pathFor(path: string, target: string, name: string): string {
  const front = target.replace(/\/$/, '').slice(0, -path.length)
  return withoutFront(name.replace(/\/$/, ''), front)
}

import type { Change, Refusal } from '../../change/change.ts'
import type { ChangeSubject } from '../../change/subject.ts'
import type { Diagnostic } from '../../diagnostics/diagnostic.ts'
import type { Model } from '../../schema/model.ts'
import type { Checked } from '../check.ts'
import type { NamedSetting } from '../impact/effects.ts'

/** The entries of a site as it would be. */
export type SeenSite = Pick<Checked, 'collections' | 'bodies'>

/** Plans a change of one kind. */
export interface Planner {
  plan(subject: ChangeSubject): Change | Refusal
  /** The whole change, where it depends on what the site is with the first plan, as that of addresses does. */
  planSeen?(subject: ChangeSubject, seen: SeenSite): Change | Refusal
  /** Functions of the configuration that name what changes: they are not rewritten, but looked at by a person. */
  functionsThatName?(model: Model): readonly NamedSetting[]
  /** Problems that do not keep the change from being written, as those of values that are still to be filled in. */
  isExpected?(problem: Diagnostic): boolean
  /** A problem at the place that a person knows, where what it concerns came from elsewhere. */
  placeProblem?(problem: Diagnostic, seen: SeenSite): Diagnostic
  /** Why the site as it would be is not what was asked for. */
  refuse(subject: ChangeSubject, seen: SeenSite): Refusal | undefined
}

import type { Change, Refusal } from '../../change/change.ts'
import type { ChangeSubject } from '../../change/subject.ts'
import type { Checked } from '../check.ts'

/** The entries of a site as it would be. */
export type SeenSite = Pick<Checked, 'collections'>

/** Plans a change of one kind. */
export interface Planner {
  /**
   * The change of a site. What it is for addresses is known once the site is seen with a first plan: then it is planned once more
   * with `seen`.
   */
  plan(subject: ChangeSubject, seen?: SeenSite): Change | Refusal
  /** Why the site as it would be is not what was asked for. */
  refuse(subject: ChangeSubject, seen: SeenSite): Refusal | undefined
}

import type { Change, Refusal } from '../../change/change.ts'
import type { ChangeSubject } from '../../change/subject.ts'
import type { Checked } from '../check.ts'

/** The entries of a site as it would be. */
export type SeenSite = Pick<Checked, 'collections'>

/** Plans a change of one kind. */
export interface Planner {
  plan(subject: ChangeSubject): Change | Refusal
  /** The whole change, where it depends on what the site is with the first plan, as that of addresses does. */
  planSeen?(subject: ChangeSubject, seen: SeenSite): Change | Refusal
  /** Why the site as it would be is not what was asked for. */
  refuse(subject: ChangeSubject, seen: SeenSite): Refusal | undefined
}

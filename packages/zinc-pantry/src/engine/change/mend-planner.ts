import type { Change, Refusal } from '../../change/change.ts'
import { type Diagnostic, messageOf, type Place } from '../../diagnostics/diagnostic.ts'
import { groupBy } from '../../diagnostics/group-by.ts'
import { plural } from '../../diagnostics/words.ts'
import { withoutOverlap } from '../apply-edits.ts'
import type { Planner } from './planner.ts'

/** Problems that are to be mended by the edits that they propose. */
export interface MendRequest {
  readonly kind: 'mend'
  /** Their places. Default: all that propose an edit. */
  readonly places?: readonly Place[] | undefined
}

/** Plans the mending of problems: of edits that overlap the first is made. */
export function createMendPlanner({ places }: MendRequest, diagnostics: readonly Diagnostic[]): Planner {
  const keyOf = ({ file, span }: Place): string => `${file} ${span.join()}`
  const wanted = places && new Set(places.map(keyOf))
  const reasons = new Map(
    diagnostics.flatMap((one) =>
      one.edit && (wanted === undefined || wanted.has(keyOf(one))) ? [[one.edit, messageOf(one)] as const] : [],
    ),
  )
  return {
    plan(): Change | Refusal {
      if (reasons.size === 0) return { refused: 'There is nothing there that mends itself' }
      const byFile = groupBy(reasons.keys(), ({ file }) => file)
      const steps = [...byFile.values()].flatMap((own) =>
        withoutOverlap(own).map((edit) => ({ kind: 'edit' as const, ...edit, reason: reasons.get(edit) ?? '' })),
      )
      return { words: `${plural(steps.length, 'mend')}`, steps, attention: [] }
    },
    refuse: () => undefined,
  }
}

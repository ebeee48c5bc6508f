import { type HeadingRenaming, renameHeading } from '../../change/rename-heading.ts'
import { createFinder, entriesOf } from '../../link/linked-entries.ts'
import { findOtherValues } from './find-other-values.ts'
import type { Planner } from './planner.ts'

/** Plans another text for a heading: the ids that it and others have by it are known once it is tried. */
export const createHeadingPlanner = (renaming: HeadingRenaming): Planner => ({
  plan: (subject) => renameHeading(subject, renaming),
  planSeen(subject, seen) {
    const find = createFinder(seen)
    return renameHeading(subject, renaming, (entry) => {
      const body = find(entry)?.body
      return body ? (seen.bodies?.headingsOf(body).map(({ id }) => id) ?? []) : []
    })
  },
  refuse(subject, seen) {
    const find = createFinder(seen)
    const lost = entriesOf(subject).some((entry) => {
      if (entry.collection !== renaming.collection || entry.id !== renaming.id || !entry.body) return false
      const body = find(entry)?.body
      return (body ? seen.bodies?.headingsOf(body).length : 0) !== subject.headingsOf(entry).length
    })
    if (lost) return { refused: `"${renaming.text}" would not be the text of a heading` }
    // Links in fields of Markdown lead to headings too.
    return findOtherValues(subject, seen, { mayBecome: (before) => before.includes('#'), fieldsOf: () => [] })
  },
})

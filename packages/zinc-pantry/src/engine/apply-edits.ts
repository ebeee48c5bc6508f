import type { Diagnostic, Edit } from '../diagnostics/diagnostic.ts'
import { replaceSpans } from '../diagnostics/replace-spans.ts'

/** Of some edits of one text those that do not overlap, in order; of two that do, the first stays. */
export function withoutOverlap(edits: readonly Edit[]): readonly Edit[] {
  let at = 0
  const sorted = edits.toSorted((a, b) => a.span[0] - b.span[0] || a.span[1] - b.span[1])
  return sorted.filter(({ span: [start, end] }) => {
    if (start < at) return false
    at = end
    return true
  })
}

/** Makes edits of a text, in order, none of which overlap. */
export const applyEdits = (text: string, edits: readonly Edit[]): string =>
  replaceSpans(text, edits, ({ text: replacement }) => replacement)

/** Problems without those of their edits that are not kept. */
export const keepEdits = (diagnostics: readonly Diagnostic[], kept: ReadonlySet<Edit>): Diagnostic[] =>
  diagnostics.map((diagnostic) => {
    if (!diagnostic.edit || kept.has(diagnostic.edit)) return diagnostic
    const { edit: _, ...rest } = diagnostic
    return rest
  })

import type { Edit } from '../diagnostics/diagnostic.ts'

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
export function applyEdits(text: string, edits: readonly Edit[]): string {
  let result = ''
  let at = 0
  for (const { span, text: replacement } of edits) {
    result += text.slice(at, span[0]) + replacement
    at = span[1]
  }
  return result + text.slice(at)
}

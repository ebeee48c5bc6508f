import type { Span } from './diagnostic.ts'

/** A text with something else at some places, which are in order and do not overlap. */
export function replaceSpans<Part extends { readonly span: Span }>(
  text: string,
  parts: readonly Part[],
  write: (part: Part) => string,
): string {
  let out = ''
  let at = 0
  for (const part of parts) {
    out += text.slice(at, part.span[0]) + write(part)
    at = part.span[1]
  }
  return out + text.slice(at)
}

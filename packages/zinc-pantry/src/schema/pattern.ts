import type { CheckRun } from './field.ts'

/** Says whether a text matches a pattern; undefined where that took too long to find out. */
export type Matcher = (text: string, run: Pick<CheckRun, 'matches'>) => boolean | undefined

/** So short a text is matched fast, whatever the pattern. */
const SHORT = 12

/** More than one repetition without an end can try a number of ways that grows faster than the text. */
const isRisky = (pattern: string): boolean =>
  (pattern.replace(/\\.|\[(?:\\.|[^\]\\])*\]/gs, 'x').match(/[*+]|\{\d+,\}/g) ?? []).length > 1

/** Compiles a pattern as JSON Schema writes them (ECMA-262, with the flag `u`). */
export function compilePattern(source: string): Matcher & { readonly source: string } {
  const pattern = new RegExp(source, 'u')
  const risky = isRisky(source)
  const match: Matcher = (text, { matches }) =>
    risky && matches && text.length > SHORT ? matches(pattern, text) : pattern.test(text)
  return Object.assign(match, { source: pattern.source })
}

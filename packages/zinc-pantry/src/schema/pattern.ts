import type { CheckRun } from './check-run.ts'

/** Says whether a text matches a pattern; undefined where that took too long to find out. */
export type Matcher = (text: string, run: Pick<CheckRun, 'matches'>) => boolean | undefined

/** Compiles a pattern as JSON Schema writes them (ECMA-262, with the flag `u`). */
export function compilePattern(source: string): Matcher & { readonly source: string } {
  const pattern = new RegExp(source, 'u')
  const match: Matcher = (text, { matches }) => matches(pattern, text)
  return Object.assign(match, { source: pattern.source })
}

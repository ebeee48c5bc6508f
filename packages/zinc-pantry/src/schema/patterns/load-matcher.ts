import { isPlainPattern } from '../../values/patterns/plain-pattern.ts'
import type { AnyField } from '../any-field.ts'
import type { PatternMatcher } from '../check-run.ts'
import type { Fields } from '../field.ts'
import { visitFields } from '../model.ts'

/** Matches with the engine of the language, which is fast enough where all patterns are plain. */
const matchNatively: PatternMatcher = (pattern, text) => pattern.test(text)

/**
 * Gives what matches the patterns of some sets of fields within bounded time. The engine that does is loaded where there
 * are patterns that need it only. `limited` matches, for a limited time each, those that it does not have.
 */
export async function loadPatternMatcher(
  sets: Iterable<Fields>,
  limited: PatternMatcher = matchNatively,
): Promise<PatternMatcher> {
  if (patternsOf(sets).every(isPlainPattern)) return matchNatively
  const { createLinearMatcher } = await import('../../values/patterns/linear-matcher.ts')
  return createLinearMatcher(limited)
}

function patternsOf(sets: Iterable<Fields>): string[] {
  const patterns = new Set<string>()
  const visit = ({ options }: AnyField): void => {
    const { pattern } = options as { pattern?: unknown }
    if (typeof pattern === 'string') patterns.add(new RegExp(pattern, 'u').source)
  }
  for (const fields of sets) visitFields(fields, visit)
  return [...patterns]
}

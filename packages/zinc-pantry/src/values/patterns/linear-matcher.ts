import { RE2JS } from 're2js'
import { isPlainPattern } from './plain-pattern.ts'
import { type PropertyRanges, translatePattern } from './translate-pattern.ts'

/** Decides whether a text matches; undefined where that would take too long. */
export type PatternMatcher = (pattern: RegExp, text: string) => boolean | undefined

/** After so many texts that took too long, longer ones are not tried any more. */
const MOST_TIMEOUTS = 3

/**
 * Makes a matcher whose time is in proportion to the text, for all patterns that RE2 has; `otherwise` matches the others,
 * each for a limited time.
 */
export function createLinearMatcher(otherwise: PatternMatcher): PatternMatcher {
  const made = new Map<string, (text: string) => boolean | undefined>()
  const properties: PropertyRanges = new Map()
  return (pattern, text) => {
    const known = made.get(pattern.source)
    if (known) return known(text)
    const match = compile(pattern, otherwise, properties)
    made.set(pattern.source, match)
    return match(text)
  }
}

/** A test whose time is in proportion to the text; undefined for a pattern that cannot be matched so, as one that looks ahead. */
export function compileBounded(source: string): ((text: string) => boolean) | undefined {
  if (isPlainPattern(source)) {
    const pattern = new RegExp(source, 'u')
    return (text) => pattern.test(text)
  }
  const linear = compileLinear(source, new Map())
  return linear && ((text) => linear.test(text))
}

function compile(
  pattern: RegExp,
  otherwise: PatternMatcher,
  properties: PropertyRanges,
): (text: string) => boolean | undefined {
  if (isPlainPattern(pattern.source)) return (text) => pattern.test(text)
  const linear = compileLinear(pattern.source, properties)
  return linear ? (text) => linear.test(text) : limited(pattern, otherwise)
}

function compileLinear(source: string, properties: PropertyRanges): RE2JS | undefined {
  const translated = translatePattern(source, properties)
  if (translated === undefined) return undefined
  try {
    return RE2JS.compile(translated)
  } catch {
    // It is too large for the other engine.
    return undefined
  }
}

/** Each text has its time; of many that use it up all together would take too long. */
function limited(pattern: RegExp, otherwise: PatternMatcher): (text: string) => boolean | undefined {
  let timeouts = 0
  let shortest = Number.POSITIVE_INFINITY
  return (text) => {
    if (timeouts >= MOST_TIMEOUTS && text.length >= shortest) return undefined
    const found = otherwise(pattern, text)
    if (found !== undefined) return found
    timeouts++
    shortest = Math.min(shortest, text.length)
    return undefined
  }
}

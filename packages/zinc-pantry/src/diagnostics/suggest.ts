import { distance } from 'fastest-levenshtein'

/** Above this many candidates only those of similar length are measured. */
const WIDE = 2000

/**
 * The known word that a misspelt one most likely means, by edit distance, or undefined when none is
 * near: at most a third of the letters, and at most three, may differ.
 */
export function suggestNearest(wrong: string, known: Iterable<string>): string | undefined {
  if (wrong.length > 100) return undefined
  const candidates = [...known]
  const lowered = wrong.toLowerCase()
  const limit = Math.max(1, Math.min(3, Math.floor(wrong.length / 3)))
  let best: string | undefined
  let bestDistance = limit + 1
  let measured = 0
  const letters = lettersOf(lowered)
  for (const candidate of candidates) {
    if (Math.abs(candidate.length - wrong.length) > (measured > WIDE ? 1 : limit)) continue
    const other = candidate.toLowerCase()
    // Every edit changes at most two of the letters that are there at all.
    if (countBits(letters ^ lettersOf(other)) > 2 * limit) continue
    measured++
    const edits = countEdits(lowered, other)
    // What shares no letter at its place is no likeness, such as another letter for one.
    if (edits >= Math.max(other.length, lowered.length)) continue
    if (edits < bestDistance || (edits === bestDistance && best !== undefined && candidate < best)) {
      best = candidate
      bestDistance = edits
    }
  }
  return best ?? sharedWords(lowered, candidates)
}

/** After so many comparisons no more is suggested: in a wholly broken site they would take minutes. */
const MOST_COMPARISONS = 3_000_000

/** Suggests one of some known words, as {@link suggestNearest} does; `scope` names what is known. */
export type Suggester = (scope: string, wrong: string, known: KnownWords) => string | undefined

/** Words that are known, which need not be listed before there is something to suggest. */
export interface KnownWords {
  readonly size: number
  words(): Iterable<string>
}

/** Makes a suggester for the problems of a whole site: each wrong word is looked for once, and all together so long. */
export function createSuggester(): Suggester {
  const found = new Map<string, string | undefined>()
  let comparisons = 0
  return (scope, wrong, { size, words }) => {
    const key = `${scope}\n${wrong}`
    if (found.has(key) || comparisons > MOST_COMPARISONS) return found.get(key)
    comparisons += size
    const suggestion = suggestNearest(wrong, words())
    found.set(key, suggestion)
    return suggestion
  }
}

/** The first of some known words, among those that pass, that another one is most likely a misspelling of. */
export type MisspellingFinder = (word: string, passes: (candidate: string) => boolean) => string | undefined

/**
 * Makes a finder of misspellings: one edit in words of four letters and more, two in those of eight and more. Stricter than
 * {@link suggestNearest}, for words that may be right.
 */
export function createMisspellingFinder(known: Iterable<string>): MisspellingFinder {
  const candidates = Array.from(known, (candidate) => {
    const lowered = candidate.toLowerCase()
    return { candidate, lowered, letters: lettersOf(lowered) }
  })
  return (word, passes) => {
    const limit = word.length >= 8 ? 2 : word.length >= 4 ? 1 : 0
    const own = word.toLowerCase()
    const ownLetters = lettersOf(own)
    return candidates.find(
      ({ candidate, lowered, letters }) =>
        candidate !== word &&
        Math.abs(candidate.length - word.length) <= limit &&
        countBits(ownLetters ^ letters) <= 2 * limit &&
        passes(candidate) &&
        countEdits(own, lowered) <= limit,
    )?.candidate
  }
}

/** The letters of a text as bits; different letters can share one. */
function lettersOf(text: string): number {
  let bits = 0
  for (let at = 0; at < text.length; at++) bits |= 1 << (text.charCodeAt(at) & 31)
  return bits
}

function countBits(bits: number): number {
  let count = 0
  for (let rest = bits; rest !== 0; rest &= rest - 1) count++
  return count
}

/** The edit distance, where two neighbouring letters that changed places count as one edit. */
function countEdits(a: string, b: string): number {
  const edits = distance(a, b)
  if (edits !== 2 || a.length !== b.length) return edits
  let at = 0
  while (a[at] === b[at]) at++
  return a[at] === b[at + 1] && a[at + 1] === b[at] ? 1 : edits
}

/** A name that goes on after the other, or stops before it, at the end of a word: people add and drop words. */
function sharedWords(lowered: string, known: readonly string[]): string | undefined {
  if (lowered.length < 3) return undefined
  let best: string | undefined
  for (const candidate of known) {
    const other = candidate.toLowerCase()
    const related = other.length < lowered.length ? isPartOf(other, lowered) : isPartOf(lowered, other)
    if (related && (best === undefined || candidate.length < best.length)) best = candidate
  }
  return best
}

function isPartOf(short: string, long: string): boolean {
  if (short.length < 3) return false
  const before = long[long.length - short.length - 1] ?? ''
  return (
    (long.startsWith(short) && '-_/. '.includes(long[short.length] ?? '')) ||
    (long.endsWith(short) && '-_/. '.includes(before))
  )
}

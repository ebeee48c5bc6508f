import { distance } from 'fastest-levenshtein'

/** Above this many candidates only those of similar length are measured. */
const WIDE = 2000

/**
 * The known word that a misspelt one most likely means, by edit distance, or undefined when none is
 * near: at most a third of the letters, and at most three, may differ.
 */
export function suggestNearest(wrong: string, known: Iterable<string>): string | undefined {
  if (wrong.length > 100) return undefined
  const lowered = wrong.toLowerCase()
  const limit = Math.max(1, Math.min(3, Math.floor(wrong.length / 3)))
  let best: string | undefined
  let bestDistance = limit + 1
  let measured = 0
  for (const candidate of known) {
    if (Math.abs(candidate.length - wrong.length) > (measured > WIDE ? 1 : limit)) continue
    measured++
    const edits = distance(lowered, candidate.toLowerCase())
    if (edits < bestDistance || (edits === bestDistance && best !== undefined && candidate < best)) {
      best = candidate
      bestDistance = edits
    }
  }
  return best ?? sharedTail(lowered, known)
}

/** A word that ends in the wrong one after a slash: people leave the folder away. */
function sharedTail(lowered: string, known: Iterable<string>): string | undefined {
  if (lowered.length < 3) return undefined
  for (const candidate of known) {
    const other = candidate.toLowerCase()
    if (other.endsWith(`/${lowered}`) || lowered.endsWith(`/${other}`)) return candidate
  }
  return undefined
}

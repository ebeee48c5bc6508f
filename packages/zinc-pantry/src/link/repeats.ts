/** Texts of which some are there twice: all that are, and a few others. */
export interface Repeats {
  note(text: string): void
  /** False where a text was noted once at most. */
  mayHave(text: string): boolean
}

/** Bits for a text: one of sixteen shares its bit with another, about. */
const BITS_A_TEXT = 16
const LEAST_BITS = 2 ** 10
const MOST_BITS = 2 ** 28

/** Makes a filter by one hash: two bits a hash, for one that was there, and for one that was there again. A million texts need 4 MB. */
export function createRepeats(count: number): Repeats {
  const bits = Math.min(MOST_BITS, Math.max(LEAST_BITS, 2 ** Math.ceil(Math.log2(count * BITS_A_TEXT + 1))))
  const once = new Uint32Array(bits / 32)
  const again = new Uint32Array(bits / 32)
  return {
    note(text) {
      const hash = hashOf(text) & (bits - 1)
      const [word, bit] = [hash >>> 5, 1 << (hash & 31)]
      if (((once[word] as number) & bit) !== 0) again[word] = (again[word] as number) | bit
      else once[word] = (once[word] as number) | bit
    },
    mayHave(text) {
      const hash = hashOf(text) & (bits - 1)
      return ((again[hash >>> 5] as number) & (1 << (hash & 31))) !== 0
    },
  }
}

/** The FNV-1a hash of the code units of a text, its bits mixed once more so that the lowest depend on all. */
function hashOf(text: string): number {
  let hash = 0x811c9dc5
  for (let at = 0; at < text.length; at++) hash = Math.imul(hash ^ text.charCodeAt(at), 0x01000193)
  hash = Math.imul(hash ^ (hash >>> 16), 0x85ebca6b)
  return hash ^ (hash >>> 13)
}

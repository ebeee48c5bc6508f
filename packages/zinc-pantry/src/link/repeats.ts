/** Hashes of things of which some are there twice: all that are, and a few others. */
export interface Repeats {
  note(hash: number): void
  /** False where a hash was noted once at most. */
  mayHave(hash: number): boolean
}

/** Bits for a thing: one of sixteen shares its bit with another, about. */
const BITS_EACH = 16
const LEAST_BITS = 2 ** 10
const MOST_BITS = 2 ** 28

/** Makes a Bloom filter of 32-bit hashes: two bits a hash, for one that was there, and for one that was there again. A million need 4 MB. */
export function createRepeats(count: number): Repeats {
  const bits = Math.min(MOST_BITS, Math.max(LEAST_BITS, 2 ** Math.ceil(Math.log2(count * BITS_EACH + 1))))
  const once = new Uint32Array(bits / 32)
  const again = new Uint32Array(bits / 32)
  return {
    note(hash) {
      const at = hash & (bits - 1)
      const [word, bit] = [at >>> 5, 1 << (at & 31)]
      if (((once[word] as number) & bit) !== 0) again[word] = (again[word] as number) | bit
      else once[word] = (once[word] as number) | bit
    },
    mayHave(hash) {
      const at = hash & (bits - 1)
      return ((again[at >>> 5] as number) & (1 << (at & 31))) !== 0
    },
  }
}

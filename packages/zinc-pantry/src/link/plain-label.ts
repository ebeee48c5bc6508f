/** A label as it is compared: without case, marks, spaces, hyphens, and a plural `s`. */
export function plainLabel(text: string): string {
  const bare = MARKABLE.test(text) ? text.normalize('NFD').replace(/\p{M}+/gu, '') : text
  const lower = bare.toLowerCase()
  const joined = SEPARATORS.test(lower) ? lower.replace(/[\s_-]+/g, '') : lower
  return joined.endsWith('s') ? joined.replace(/(?<=..[^s])s$/, '') : joined
}

/** Letters that may have marks. */
const MARKABLE = /[^\0-\x7f]/
const SEPARATORS = /[\s_-]/

/** Longer labels are written out before they are hashed. */
const MOST_CODES = 64
const LAST_ASCII = 0x7f
/** Filled and read within one call. */
const codes = new Uint8Array(MOST_CODES)

/** A hash of {@link plainLabel}, the same for labels that are alike; most are hashed without writing them out, in a tenth of the time. */
export function hashOfPlainLabel(text: string): number {
  if (text.length > MOST_CODES) return hashOf(plainLabel(text))
  let length = 0
  for (let at = 0; at < text.length; at++) {
    const code = text.charCodeAt(at)
    if (code > LAST_ASCII) return hashOf(plainLabel(text))
    if (isSeparator(code)) continue
    codes[length++] = code >= UPPER_A && code <= UPPER_Z ? code + TO_LOWER : code
  }
  const hasPlural = length > 3 && codes[length - 1] === LOWER_S && codes[length - 2] !== LOWER_S
  let hash = HASH_START
  for (let at = 0; at < (hasPlural ? length - 1 : length); at++)
    hash = Math.imul(hash ^ (codes[at] as number), HASH_FACTOR)
  return mix(hash)
}

const UPPER_A = 65
const UPPER_Z = 90
const TO_LOWER = 32
const LOWER_S = 115
/** Spaces, line breaks and the like, hyphens, and underscores. */
const isSeparator = (code: number): boolean => code === 32 || code === 45 || code === 95 || (code >= 9 && code <= 13)

const HASH_START = 0x811c9dc5
const HASH_FACTOR = 0x01000193

/** The FNV-1a hash of the code units of a text. */
function hashOf(text: string): number {
  let hash = HASH_START
  for (let at = 0; at < text.length; at++) hash = Math.imul(hash ^ text.charCodeAt(at), HASH_FACTOR)
  return mix(hash)
}

/** Mixes the bits of a hash, so that the lowest depend on all. */
function mix(hash: number): number {
  const mixed = Math.imul(hash ^ (hash >>> 16), 0x85ebca6b)
  return mixed ^ (mixed >>> 13)
}

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

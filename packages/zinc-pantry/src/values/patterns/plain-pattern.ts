/** One character, a class of them, or an escape that stands for either. */
const ATOM = String.raw`(?:\[(?:\\.|[^\]\\])*\]|\\(?:u\{[\dA-Fa-f]+\}|u[\dA-Fa-f]{4}|x[\dA-Fa-f]{2}|[pP]\{[^}]*\}|[^ux1-9bBkpPc])|[^\\[\](){}|*+?^$])`
const FIXED = String.raw`(?:\{\d+\})?`
const VARIABLE = String.raw`(?:[*+?]|\{\d+,\d*\})\??`
const PLAIN = new RegExp(
  `^(?:(?:${ATOM}${FIXED})*|\\^(?:${ATOM}${FIXED})*(?:${ATOM}${VARIABLE})?(?:${ATOM}${FIXED})*)\\$?$`,
  'su',
)

/**
 * True for a pattern that every engine matches in a time in proportion to the text: single characters in a row, of which one
 * at most has a number that varies, and then only behind the start. Most patterns are; the others need an engine that
 * tries no way twice.
 */
export const isPlainPattern = (source: string): boolean => PLAIN.test(source)

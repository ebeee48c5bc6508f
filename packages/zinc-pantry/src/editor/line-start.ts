/** The start of the signs in front of a place for each of which a pattern holds. */
export function runStartOf(text: string, offset: number, sign: RegExp): number {
  let at = offset
  while (at > 0 && sign.test(text[at - 1] as string)) at--
  return at
}

/** The offset at which the line of a place begins. */
export const lineStartOf = (text: string, offset: number): number =>
  offset <= 0 ? 0 : text.lastIndexOf('\n', offset - 1) + 1

/**
 * Places around an offset of a text. Each is found by going back from the offset, sign by sign, as far as needed: a file can be one line
 * of megabytes, and thousands of its values are changed at once.
 */

/** The spaces in front of a place, where nothing else is on its line but the signs of items, which count as spaces. */
export function indentOf(text: string, offset: number): string | undefined {
  let at = offset
  while (at > 0 && text[at - 1] !== '\n' && /[\s-]/.test(text[at - 1] as string)) at--
  return at === 0 || text[at - 1] === '\n' ? text.slice(at, offset).replaceAll('-', ' ') : undefined
}

/** The start of the line of an item, where nothing but its sign stands before it. */
export function itemLineStart(text: string, offset: number): number | undefined {
  const indent = indentOf(text, offset)
  const start = indent === undefined ? undefined : offset - indent.length
  return start !== undefined && /^\s*-\s+$/.test(text.slice(start, offset)) ? start : undefined
}

/** The start of the comma in front of a place, where nothing but space stands between. */
export function commaBefore(text: string, offset: number): number | undefined {
  const at = spaceBefore(text, offset)
  return text[at - 1] === ',' ? at - 1 : undefined
}

/** The start of the space in front of a place. */
export function spaceBefore(text: string, offset: number): number {
  let at = offset
  while (at > 0 && /\s/.test(text[at - 1] as string)) at--
  return at
}

/** The end of the line that a place is on. */
export function lineEndAfter(text: string, offset: number): number {
  const found = /\r?\n/.exec(text.slice(offset))
  return found ? offset + found.index : text.length
}

/** The end that the lines of a text have. */
export const lineEndOf = (text: string): string => (/\r?\n/.exec(text)?.[0] === '\r\n' ? '\r\n' : '\n')

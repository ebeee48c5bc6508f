/** Counts all keys and the depth, level by level, since a recursion could run out of stack. */
export function measure(value: unknown): { keys: number; depth: number } {
  let keys = 0
  let depth = 0
  let level: unknown[] = [value]
  while (level.length > 0) {
    const next: unknown[] = []
    for (const part of level) {
      if (typeof part !== 'object' || part === null) continue
      const children = Object.values(part)
      if (!Array.isArray(part)) keys += children.length
      for (const child of children) if (typeof child === 'object' && child !== null) next.push(child)
    }
    if (next.length > 0 || level.some((part) => typeof part === 'object' && part !== null)) depth++
    level = next
  }
  return { keys, depth }
}

/** Colons outside of text: one a key. More of them than keys in the value means a key was lost. Texts are jumped over. */
export function countColons(text: string): number {
  let colons = 0
  for (let at = 0; ; ) {
    const open = text.indexOf('"', at)
    const end = open === -1 ? text.length : open
    for (; at < end; at++) if (text.charCodeAt(at) === COLON) colons++
    if (open === -1) return colons
    at = endOfText(text, open) + 1
  }
}

const COLON = 58
const BACKSLASH = 92

/** The closing quote of a text in JSON without a fault. */
export function endOfText(text: string, open: number): number {
  let close = text.indexOf('"', open + 1)
  while (isEscaped(text, close)) close = text.indexOf('"', close + 1)
  return close
}

/** True for a character behind an odd number of backslashes. */
function isEscaped(text: string, at: number): boolean {
  let first = at
  while (text.charCodeAt(first - 1) === BACKSLASH) first--
  return (at - first) % 2 === 1
}

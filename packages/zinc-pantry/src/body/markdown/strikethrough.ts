import type MarkdownIt from 'markdown-it'
import type { StateInline } from './token.ts'

const TILDE = 0x7e

/**
 * Strikethrough as the extension spec has it: one or two tildes on both sides, never more. The rule of the
 * parser itself takes any even number, and only those.
 */
export function addStrikethrough(markdown: MarkdownIt): void {
  markdown.inline.ruler.at('strikethrough', tokenize)
  markdown.inline.ruler2.at('strikethrough', (state) => {
    replace(state, state.delimiters)
    for (const meta of state.tokens_meta) if (meta?.delimiters) replace(state, meta.delimiters)
    return false
  })
}

/** One tilde pairs with one and two with two: each has a marker of its own. */
const markerOf = (length: number): number => TILDE + length * 0x10000

function tokenize(state: StateInline, silent: boolean): boolean {
  if (silent || state.src.charCodeAt(state.pos) !== TILDE) return false
  const { can_open: open, can_close: close, length } = state.scanDelims(state.pos, true)
  const token = state.push('text', '', 0)
  token.content = '~'.repeat(length)
  const position = state.tokens.length - 1
  // Length 0 switches off the rule for emphasis that counts in threes.
  if (length <= 2) state.delimiters.push({ marker: markerOf(length), length: 0, token: position, end: -1, open, close })
  state.pos += length
  return true
}

function replace(state: StateInline, delimiters: StateInline['delimiters']): void {
  for (const { marker, end, token } of delimiters) {
    if (end === -1 || (marker !== markerOf(1) && marker !== markerOf(2))) continue
    const closing = delimiters[end]?.token ?? token
    for (const [at, nesting] of [[token, 1] as const, [closing, -1] as const]) {
      const part = state.tokens[at]
      if (part)
        Object.assign(part, { type: nesting === 1 ? 'del_open' : 'del_close', tag: 'del', nesting, content: '' })
    }
  }
}

import type { Span } from '../../diagnostics/diagnostic.ts'
import type { Token } from './token.ts'

/** Leads from what the parser reads back to the text. */
export interface SourceMap {
  /** An offset in the text as the parser sees it, with plain line ends. */
  plain(offset: number): number
  /** A span of the content of the inline token at a position. */
  inline(position: number, span: Span): Span
}

/** The lines of a text, with their ends. */
export const linesOf = (text: string): (readonly [start: number, line: string])[] =>
  [...text.matchAll(/[^\r\n]*(?:\r\n|\r|\n|$)/g)].map((found) => [found.index, found[0]])

/** Makes the map of one text; nothing is worked out before it is needed. */
export function createSourceMap(text: string, tokens: readonly Token[]): SourceMap {
  let lines: ReturnType<typeof linesOf> | undefined
  return {
    plain: (offset) => (text.includes('\r\n') ? skipReturns(text, offset) : offset),
    inline(position, [start, end]) {
      const content = tokens[position]?.content ?? ''
      const map = mapOf(tokens, position)
      if (!map) return findText(text, content, [start, end])
      const offsetAt = (offset: number): number => {
        const before = content.slice(0, offset)
        const row = before.split('\n').length - 1
        lines ??= linesOf(text)
        const line = lines[map[0] + row]
        const part = content.split('\n')[row] ?? ''
        if (!line) return text.length
        const [lineStart, lineText] = line
        const from = cellStart(tokens, position, lineText) ?? 0
        const found = isCell(tokens, position) ? lineText.indexOf(part, from) : lineText.lastIndexOf(part)
        // Tabs before the text can have become spaces; the end of the line stays.
        const base = found === -1 ? Math.max(0, lineText.trimEnd().length - part.length) : found
        return lineStart + base + offset - (before.lastIndexOf('\n') + 1)
      }
      return [offsetAt(start), offsetAt(end)]
    },
  }
}

/** The place of an offset that counts `\r\n` as one. */
function skipReturns(text: string, offset: number): number {
  let at = 0
  for (let seen = 0; seen < offset; seen++) at += text.startsWith('\r\n', at) ? 2 : 1
  return at
}

const isCell = (tokens: readonly Token[], position: number): boolean =>
  /^t[hd]_open$/.test(tokens[position - 1]?.type ?? '')

/** The lines of an inline token: its own, or of the row of a table that it stands in. */
function mapOf(tokens: readonly Token[], position: number): readonly [number, number] | null {
  const own = tokens[position]?.map
  if (own || !isCell(tokens, position)) return own ?? null
  for (let at = position; at >= 0; at--) if (tokens[at]?.type === 'tr_open') return tokens[at]?.map ?? null
  return null
}

/** Where a cell can start in its row: behind the cells before it. */
function cellStart(tokens: readonly Token[], position: number, row: string): number | undefined {
  if (!isCell(tokens, position)) return undefined
  let first = position
  while (first > 0 && tokens[first]?.type !== 'tr_open') first--
  let from = 0
  for (const token of tokens.slice(first, position)) {
    if (token.type !== 'inline') continue
    const found = row.indexOf(token.content, from)
    if (found !== -1) from = found + token.content.length
  }
  return from
}

/** For what has no lines of its own, such as a note in the line: the first place where it stands. */
function findText(text: string, content: string, [start, end]: Span): Span {
  const found = Math.max(0, text.indexOf(content))
  return [Math.min(found + start, text.length), Math.min(found + end, text.length)]
}

import type { Span } from '../diagnostics/diagnostic.ts'
import { lineStartOf } from './line-start.ts'

/** The key or the value that a cursor is in, or would begin. */
export interface Token {
  /** All of it, quotes included. */
  readonly span: Span
  /** Without quotes. */
  readonly text: string
  /** The part of the text in front of the cursor. */
  readonly typed: string
  readonly quote: '' | '"' | "'"
  /** True where it stands in brackets, so that some signs have to be quoted. */
  readonly isInFlow: boolean
  /** True where a colon or an equals sign stands behind it. */
  readonly isKey: boolean
}

/** Finds the token at an offset of a text in YAML or TOML, within its line; the text need not be right. */
export function findToken(text: string, offset: number, format: 'yaml' | 'toml'): Token {
  const lineStart = lineStartOf(text, offset)
  const lineEnd = endOfLine(text, offset)
  const assign = format === 'toml' ? '=' : ':'
  let start = lineStart + (/^\s*/.exec(text.slice(lineStart, lineEnd))?.[0].length ?? 0)
  let depth = openBrackets(text, lineStart, format)
  if (format === 'toml' && depth === 0 && text[start] === '[') start += text.startsWith('[[', start) ? 2 : 1
  else if (format === 'yaml' && depth === 0)
    for (let item = itemSign(text, start, lineEnd); item > 0; item = itemSign(text, start, lineEnd)) start += item
  let quote = ''
  let end = lineEnd
  let isKey = false
  for (let at = start; at < lineEnd; at++) {
    const sign = text[at] ?? ''
    const isLast = at >= offset
    if (quote) {
      if (sign === quote && text[at - 1] !== '\\') quote = ''
      continue
    }
    const before = text[at - 1] ?? '\n'
    if ((sign === '"' || sign === "'") && (at === start || /[\s[{,:=]/.test(before))) {
      quote = sign
      if (!isLast) start = at
      continue
    }
    const isComment = sign === '#' && /\s/.test(before)
    const isAssign = sign === assign && (format === 'toml' || /[\s,\]}]|$/.test(text[at + 1] ?? '\n'))
    const isSeparator = depth > 0 && (sign === ',' || sign === ']' || sign === '}')
    const isOpening = (sign === '[' || sign === '{') && (depth > 0 || text.slice(start, at).trim() === '')
    if (!isComment && !isAssign && !isSeparator && !isOpening) continue
    if (isLast) {
      end = at
      isKey = isAssign
      break
    }
    if (isComment) break
    if (isOpening) depth++
    if (sign === ']' || sign === '}') depth--
    start = at + 1
  }
  while (start < end && start < offset && /\s/.test(text[start] ?? '')) start++
  while (end > start && end > offset && /\s/.test(text[end - 1] ?? '')) end--
  return tokenOf(text, [start, Math.max(end, start)], offset, { isInFlow: depth > 0, isKey })
}

/** The length of the sign of an item of a list, with the spaces behind it. */
const itemSign = (text: string, at: number, end: number): number =>
  /^-(?:\s+|$)/.exec(text.slice(at, end))?.[0].length ?? 0

function endOfLine(text: string, offset: number): number {
  const found = /[\r\n]/.exec(text.slice(offset))
  return found ? offset + found.index : text.length
}

/** The brackets that are open at a place, as far as lines above belong to the same value. */
function openBrackets(text: string, until: number, format: 'yaml' | 'toml'): number {
  const lines = text.slice(0, until).split('\n').slice(-MOST_LINES, -1)
  let depth = 0
  for (const line of lines) {
    const plain = line.replace(/"(?:[^"\\]|\\.)*"|(?<=[\s[{,:=])'[^']*'/g, '').replace(/(?:^|\s)#[\s\S]*/, '')
    const isValue =
      /[:=]\s*[[{]|^\s*-\s+[[{]|^\s*[[{]/.test(plain) && !(format === 'toml' && /^\s*\[/.test(plain) && depth === 0)
    if (depth === 0 && !isValue) continue
    for (const sign of plain) depth += sign === '[' || sign === '{' ? 1 : sign === ']' || sign === '}' ? -1 : 0
    depth = Math.max(0, depth)
  }
  return depth
}

/** The number of lines that are looked at for brackets that are open. */
const MOST_LINES = 60

/** Makes a token of a span. */
export function tokenOf(
  text: string,
  [start, end]: Span,
  offset: number,
  rest: Pick<Token, 'isInFlow' | 'isKey'>,
): Token {
  const written = text.slice(start, end)
  const sign = written[0]
  const quote = sign === '"' || sign === "'" ? sign : ''
  const isClosed = quote !== '' && written.length > 1 && written.endsWith(quote)
  const inner = quote ? written.slice(1, isClosed ? -1 : undefined) : written
  const typed = text.slice(start + quote.length, Math.max(offset, start + quote.length)).slice(0, inner.length)
  return { span: [start, end], text: inner, typed, quote, ...rest }
}

import { countBefore } from '../../diagnostics/count-before.ts'
import type { Span } from '../../diagnostics/diagnostic.ts'
import type { Token } from './token.ts'

/** Leads from what the parser reads back to the text. */
export interface SourceMap {
  /** An offset in the text as the parser sees it, with plain line ends. */
  plain(offset: number): number
  /** A span of the content of the inline token at a position. */
  inline(position: number, span: Span): Span
}

const LINE = /[^\r\n]*(?:\r\n|\r|\n|$)/g

/** The lines of a text, with their ends. */
export const linesOf = (text: string): (readonly [start: number, line: string])[] =>
  [...text.matchAll(LINE)].map((found) => [found.index, found[0]])

/** Where the lines of an inline token stand. */
interface PlacedContent {
  /** Offsets in the content at which its lines start. */
  readonly starts: readonly number[]
  /** Offsets in the text at which they start there, found when they are asked for. */
  readonly bases: (number | undefined)[]
  /** The first line in the text. */
  readonly line: number
  /** In a cell of a table, where in its row it can start. */
  readonly from: number | undefined
}

/** Makes the map of one text; nothing is worked out before it is needed, and everything once. */
export function createSourceMap(text: string, tokens: readonly Token[]): SourceMap {
  let lines: ReturnType<typeof linesOf> | undefined
  let returns: readonly number[] | undefined
  const placed = new Map<number, PlacedContent | undefined>()
  const lineAt = (line: number): readonly [number, string] | undefined => {
    lines ??= linesOf(text)
    return lines[line]
  }
  const place = (position: number): PlacedContent | undefined => {
    if (placed.has(position)) return placed.get(position)
    const token = tokens[position]
    if (token?.map) placed.set(position, placeContent(token.content, token.map[0], undefined))
    else if (isCell(tokens, position)) placeRow(position)
    else placed.set(position, undefined)
    return placed.get(position)
  }
  /** Places all cells of a row: each starts behind those before it. */
  const placeRow = (position: number): void => {
    let first = position
    while (first > 0 && tokens[first]?.type !== 'tr_open') first--
    const { map } = tokens[first] ?? {}
    let from = 0
    for (let at = first; at === first || (tokens[at] && tokens[at]?.type !== 'tr_close'); at++) {
      const token = tokens[at] as Token
      if (token.type !== 'inline') continue
      placed.set(at, map ? placeContent(token.content, map[0], from) : undefined)
      const written = asCell(token.content)
      const found = map ? (lineAt(map[0])?.[1].indexOf(written, from) ?? -1) : -1
      if (found !== -1) from = found + written.length
    }
  }
  const baseOf = (content: string, own: PlacedContent, row: number): number => {
    const known = own.bases[row]
    if (known !== undefined) return known
    const line = lineAt(own.line + row)
    const end = own.starts[row + 1]
    const part = content.slice(own.starts[row], end === undefined ? undefined : end - 1)
    const base = line ? line[0] + columnOf(line[1], part, own.from) : text.length
    own.bases[row] = base
    return base
  }
  return {
    plain(offset) {
      returns ??= text.includes('\r\n') ? Array.from(text.matchAll(/\r\n/g), ({ index }) => index) : []
      return offset + countBefore(returns, (found, at) => found - at < offset)
    },
    inline(position, [start, end]) {
      const content = tokens[position]?.content ?? ''
      const own = place(position)
      if (!own) return findText(text, content, [start, end])
      const offsetAt = (offset: number): number => {
        const row = countBefore(own.starts, (found) => found <= offset) - 1
        const start = own.starts[row] ?? 0
        const before = content.slice(start, offset)
        const length = own.from === undefined ? before.length : asCell(before).length
        return Math.min(text.length, baseOf(content, own, row) + length)
      }
      return [offsetAt(start), offsetAt(end)]
    },
  }
}

function placeContent(content: string, line: number, from: number | undefined): PlacedContent {
  const starts = [0]
  for (let at = content.indexOf('\n'); at !== -1; at = content.indexOf('\n', at + 1)) starts.push(at + 1)
  return { starts, bases: [], line, from }
}

/** The column at which a part of a content stands in its line. */
function columnOf(line: string, part: string, from: number | undefined): number {
  const found = from === undefined ? line.lastIndexOf(part) : line.indexOf(asCell(part), from)
  // Tabs before the text can have become spaces; the end of the line stays.
  return found === -1 ? Math.max(0, line.trimEnd().length - part.length) : found
}

/** A part of a cell as it is written: a bar in it has a backslash before it. */
const asCell = (part: string): string => part.replaceAll('|', '\\|')

const isCell = (tokens: readonly Token[], position: number): boolean =>
  /^t[hd]_open$/.test(tokens[position - 1]?.type ?? '')

/** For what has no lines of its own, such as a note in the line: the first place where it stands. */
function findText(text: string, content: string, [start, end]: Span): Span {
  const found = Math.max(0, text.indexOf(content))
  return [Math.min(found + start, text.length), Math.min(found + end, text.length)]
}

import type { AlignType, Table, TableCell, TableRow } from 'mdast'
import { doubt } from '../doubt.ts'
import { readMarker } from './starts.ts'
import { skipSpaces, trimEnd, type View } from './view.ts'

/** A cell, with the place of its text. */
export interface CellText {
  readonly cell: TableCell
  readonly start: number
  readonly end: number
}

const DELIMITERS = /^\|? *:?-+:? *(?:\| *:?-+:? *)*(?:\| *)?$/

/** The alignments of the columns where a line and the next begin a table; nothing where they do not. */
export function readAlignment(view: View, line: number): AlignType[] | undefined {
  if (line + 1 >= view.lines.length) return undefined
  const head = view.line(line)
  const next = view.line(line + 1)
  const first = skipSpaces(view.text, next.start, next.end)
  if (next.isLazy) return undefined
  const code = view.text.charCodeAt(first)
  // A line of nothing but these.
  if (first === next.end || (code !== 124 && code !== 45 && code !== 58)) return undefined
  const delimiters = view.text.slice(first, next.end)
  if (!DELIMITERS.test(delimiters) || !/[|:]/.test(delimiters)) return undefined
  const columns = delimiters
    .replace(/^\||(?<! ) +$/g, '')
    .replace(/\|$/, '')
    .split('|')
  const start = skipSpaces(view.text, head.start, head.end)
  if (cutRow(view.text, start, head.end).length !== columns.length) return undefined
  if (readMarker(view.text, first, next.end)) doubt('delimiters that may be an item')
  return columns.map((column) => {
    const written = column.trim()
    if (written.startsWith(':')) return written.endsWith(':') ? 'center' : 'left'
    return written.endsWith(':') ? 'right' : null
  })
}

/** The cells of a row: from the pipe in front to the next, or to the end of the line. */
function cutRow(text: string, start: number, end: number): [number, number][] {
  const pipes: number[] = []
  for (let at = start; at < end; at++) {
    const code = text.charCodeAt(at)
    if (code === 92) at++
    else if (code === 124) pipes.push(at)
  }
  const starts = pipes[0] === start ? pipes : [start, ...pipes]
  const last = starts.at(-1) as number
  if (starts.length > 1 && skipSpaces(text, last + 1, end) === end) starts.pop()
  return starts.map((from, at) => [from, starts[at + 1] ?? end])
}

/** Makes a row of a line, and tells the places of its texts. */
export function createRow(view: View, line: number, texts: CellText[]): TableRow {
  const { start: lineStart, end } = view.line(line)
  const start = skipSpaces(view.text, lineStart, end)
  const children = cutRow(view.text, start, end).map(([from, to]): TableCell => {
    const cell: TableCell = { type: 'tableCell', children: [], position: view.position(from, to) }
    const inner = skipSpaces(view.text, view.text.charCodeAt(from) === 124 ? from + 1 : from, to)
    const closing = trimEnd(view.text, inner, to)
    // Behind the text of the last cell a pipe may stand.
    const isClosed = to === end && closing > inner && isPipe(view.text, inner, closing - 1)
    const last = isClosed ? trimEnd(view.text, inner, closing - 1) : closing
    if (last > inner) texts.push({ cell, start: inner, end: last })
    return cell
  })
  return { type: 'tableRow', children, position: view.position(start, end) }
}

/** True for a pipe that no backslash takes its meaning. */
function isPipe(text: string, start: number, at: number): boolean {
  if (text.charCodeAt(at) !== 124) return false
  let backslashes = 0
  while (at - 1 - backslashes >= start && text.charCodeAt(at - 1 - backslashes) === 92) backslashes++
  return backslashes % 2 === 0
}

export const createTable = (align: AlignType[], children: TableRow[]): Table => ({ type: 'table', align, children })

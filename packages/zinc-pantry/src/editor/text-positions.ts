import type { Span } from '../diagnostics/diagnostic.ts'
import { createLineIndex, type LineIndex } from '../diagnostics/line-index.ts'

/** How the protocol counts within a line. */
export type PositionEncoding = 'utf-16' | 'utf-8'

/** A place as the protocol has it: both from 0. */
export interface ProtocolPosition {
  readonly line: number
  readonly character: number
}

/** A range as the protocol has it. */
export interface ProtocolRange {
  readonly start: ProtocolPosition
  readonly end: ProtocolPosition
}

/** Turns offsets of a text, in UTF-16 code units, into positions and back. */
export interface TextPositions {
  positionAt(offset: number): ProtocolPosition
  rangeOf(span: Span): ProtocolRange
  offsetAt(position: ProtocolPosition): number
}

/** Makes what places positions in a text, whose lines are counted when the first is asked for. */
export function createTextPositions(text: string, encoding: PositionEncoding): TextPositions {
  let lines: LineIndex | undefined
  const indexOf = (): LineIndex => {
    lines ??= createLineIndex(text)
    return lines
  }
  const positionAt = (offset: number): ProtocolPosition => {
    const { line, column } = indexOf().at(offset)
    const units = column - 1
    const character = encoding === 'utf-16' ? units : countBytes(indexOf().lineText(line).slice(0, units))
    return { line: line - 1, character }
  }
  return {
    positionAt,
    rangeOf: ([start, end]) => ({ start: positionAt(start), end: positionAt(end) }),
    offsetAt({ line, character }) {
      const [start, end] = indexOf().spanOf(line + 1)
      const units = encoding === 'utf-16' ? character : unitsOf(text.slice(start, end), character)
      return Math.min(end, start + units)
    },
  }
}

const countBytes = (text: string): number => new TextEncoder().encode(text).length

/** The code units of the beginning of a line that takes so many bytes. */
function unitsOf(line: string, bytes: number): number {
  let [units, left] = [0, bytes]
  for (const sign of line) {
    left -= countBytes(sign)
    if (left < 0) break
    units += sign.length
  }
  return units
}

import type { Point, Position } from 'unist'

/** A line of a view. */
export interface ViewLine {
  /** Where it begins and ends in the view. */
  readonly start: number
  readonly end: number
  /** Where it begins in the source: its offset, its line and its column, the first of which are 1. */
  readonly source: number
  readonly number: number
  readonly column: number
  /** True for a line that goes on with a paragraph of a container without being written as a part of it. */
  readonly isLazy: boolean
}

/** The rest of a line of a view, from an offset on. */
export interface Part {
  readonly line: number
  readonly from: number
  readonly isLazy: boolean
}

/** What ends a line in a source. */
export type LineEnd = '\n' | '\r\n'

/** A text as a container shows it to what is in it, without what stands in front of its lines. In it each line ends with `\n`. */
export class View {
  readonly text: string
  readonly lines: readonly ViewLine[]
  /** What ends lines in the source, and so in the values of nodes. */
  readonly lineEnd: LineEnd
  #last = 0

  /** True where a container stands around it. */
  readonly isNested: boolean

  constructor(text: string, lines: readonly ViewLine[], lineEnd: LineEnd, isNested: boolean) {
    this.text = text
    this.lines = lines
    this.lineEnd = lineEnd
    this.isNested = isNested
  }

  /** The lines of a source whose lines all end alike. */
  static of(source: string, lineEnd: LineEnd): View {
    const text = lineEnd === '\n' ? source : source.replaceAll(lineEnd, '\n')
    const lines: ViewLine[] = []
    for (let start = 0, number = 1; start <= text.length; number++) {
      const found = text.indexOf('\n', start)
      const end = found === -1 ? text.length : found
      lines.push({ start, end, source: start + (number - 1) * (lineEnd.length - 1), number, column: 1, isLazy: false })
      start = end + 1
    }
    return new View(text, lines, lineEnd, false)
  }

  /** A piece of the text as the source has it. */
  slice(start: number, end: number): string {
    return this.written(this.text.slice(start, end))
  }

  /** A piece of the text with the ends of lines that the source has. */
  written(piece: string): string {
    return this.lineEnd === '\n' || !piece.includes('\n') ? piece : piece.replaceAll('\n', this.lineEnd)
  }

  /** The rest of some lines, from the place that is given for each. */
  within(parts: readonly Part[]): View {
    const lines: ViewLine[] = []
    const texts: string[] = []
    let start = 0
    for (const { line, from, isLazy } of parts) {
      const outer = this.line(line)
      const text = this.text.slice(from, outer.end)
      const skipped = from - outer.start
      lines.push({
        start,
        end: start + text.length,
        source: outer.source + skipped,
        number: outer.number,
        column: outer.column + skipped,
        isLazy: isLazy || outer.isLazy,
      })
      texts.push(text)
      start += text.length + 1
    }
    return new View(texts.join('\n'), lines, this.lineEnd, true)
  }

  line(at: number): ViewLine {
    return this.lines[at] as ViewLine
  }

  /** The number of the line, from 0, in which an offset lies, that of its end included. */
  lineAt(offset: number): number {
    let at = this.#last
    // Nearly always the line of the last question, or the next.
    if (offset < this.line(at).start || offset > this.line(at).end + 1) at = this.#search(offset)
    else if (offset > this.line(at).end) at++
    this.#last = Math.min(at, this.lines.length - 1)
    return this.#last
  }

  #search(offset: number): number {
    let [low, high] = [0, this.lines.length - 1]
    while (low < high) {
      const middle = (low + high + 1) >> 1
      if (this.line(middle).start <= offset) low = middle
      else high = middle - 1
    }
    return low
  }

  point(offset: number): Point {
    const { start, source, number, column } = this.line(this.lineAt(offset))
    return { line: number, column: column + offset - start, offset: source + offset - start }
  }

  /** The place behind something: behind the end of a line it is where the next line begins in the source, whatever is in front of it. */
  endPoint(offset: number): Point {
    if (offset === 0 || this.text.charCodeAt(offset - 1) !== 10) return this.point(offset)
    const before = this.point(offset - 1)
    return { line: before.line + 1, column: 1, offset: (before.offset as number) + this.lineEnd.length }
  }

  position(start: number, end: number): Position {
    return { start: this.point(start), end: this.endPoint(end) }
  }
}

/** The first offset from one on, and before another, that has no space. */
export function skipSpaces(text: string, start: number, end: number): number {
  let at = start
  while (at < end && text.charCodeAt(at) === 32) at++
  return at
}

/** The end of a text without the spaces behind it. */
export function trimEnd(text: string, start: number, end: number): number {
  let at = end
  while (at > start && text.charCodeAt(at - 1) === 32) at--
  return at
}

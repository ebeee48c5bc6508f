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
  /** True where it ends with `\r\n`. */
  readonly hasReturn: boolean
}

/** The rest of a line of a view, from an offset on. */
export interface Part {
  readonly line: number
  readonly from: number
  readonly isLazy: boolean
}

/** A text as a container shows it to what is in it, without what stands in front of its lines. In it each line ends with `\n`. */
export class View {
  readonly text: string
  readonly lines: readonly ViewLine[]
  /** True where a container stands around it. */
  readonly isNested: boolean
  /** True where some line ends otherwise in the source, and so in the values of nodes. */
  readonly #hasReturns: boolean
  #last = 0

  constructor(
    text: string,
    lines: readonly ViewLine[],
    of: { readonly isNested: boolean; readonly hasReturns: boolean },
  ) {
    this.text = text
    this.lines = lines
    this.isNested = of.isNested
    this.#hasReturns = of.hasReturns
  }

  /** The lines of a source, each of which ends with `\n` or `\r\n`. */
  static of(source: string): View {
    const hasReturns = source.includes('\r')
    const lines: ViewLine[] = []
    for (let start = 0, at = 0, number = 1; at <= source.length; number++) {
      const found = source.indexOf('\n', at)
      const last = found === -1 ? source.length : found
      const hasReturn = hasReturns && found > at && source.charCodeAt(found - 1) === 13
      const end = start + last - at - (hasReturn ? 1 : 0)
      lines.push({ start, end, source: at, number, column: 1, isLazy: false, hasReturn })
      start = end + 1
      at = last + 1
    }
    return new View(hasReturns ? source.replaceAll('\r\n', '\n') : source, lines, { isNested: false, hasReturns })
  }

  /** A piece of the text as the source has it, what stands in front of its lines aside. */
  slice(start: number, end: number): string {
    const piece = this.text.slice(start, end)
    if (!this.#hasReturns || !piece.includes('\n')) return piece
    return piece.replaceAll('\n', (_, at: number) => this.lineEnd(this.lineAt(start + at)))
  }

  /** What ends a line in the source. */
  lineEnd(at: number): '\n' | '\r\n' {
    return this.line(at).hasReturn ? '\r\n' : '\n'
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
        hasReturn: outer.hasReturn,
      })
      texts.push(text)
      start += text.length + 1
    }
    return new View(texts.join('\n'), lines, { isNested: true, hasReturns: this.#hasReturns })
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
    const size = this.lineEnd(this.lineAt(offset - 1)).length
    return { line: before.line + 1, column: 1, offset: (before.offset as number) + size }
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

import { countBefore } from './count-before.ts'

/** A place as people count: both 1-based; the column counts UTF-16 code units. */
export interface LineAndColumn {
  readonly line: number
  readonly column: number
}

/** Turns offsets of one text into lines and columns. Built only for files that have a problem. */
export interface LineIndex {
  readonly lineCount: number
  /** The place of a 0-based offset; an offset past the end counts as the end. */
  at(offset: number): LineAndColumn
  /** The text of a 1-based line, without its line break; empty when there is no such line. */
  lineText(line: number): string
  /** Where that text starts and ends: of a long line nobody may want the whole. */
  spanOf(line: number): readonly [start: number, end: number]
  /** The offset at which a 1-based line starts. */
  startOf(line: number): number
}

/**
 * Line breaks are LF, CR and CR LF.
 *
 * @example
 * ```ts
 * import { createLineIndex } from 'zinc-pantry/engine'
 *
 * const { line, column } = createLineIndex('name: Gable\nbeds: 24\n').at(18)
 * console.log(line, column) // 2 7
 * ```
 */
export function createLineIndex(text: string): LineIndex {
  const starts = [0]
  for (let offset = 0; offset < text.length; offset++) {
    const unit = text.charCodeAt(offset)
    if (unit === 13 && text.charCodeAt(offset + 1) === 10) continue
    if (unit === 10 || unit === 13) starts.push(offset + 1)
  }
  const startOf = (line: number): number => starts[line - 1] ?? text.length
  const spanOf = (line: number): readonly [number, number] => {
    if (line < 1 || line > starts.length) return [text.length, text.length]
    const start = startOf(line)
    let end = startOf(line + 1)
    while (end > start && /[\r\n]/.test(text[end - 1] ?? '')) end--
    return [start, end]
  }
  return {
    lineCount: starts.length,
    startOf,
    at(offset) {
      const clamped = Math.min(Math.max(offset, 0), text.length)
      const line = countBefore(starts, (start) => start <= clamped)
      return { line, column: clamped - startOf(line) + 1 }
    },
    spanOf,
    lineText: (line) => text.slice(...spanOf(line)),
  }
}

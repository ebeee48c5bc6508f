import type { Span } from '../diagnostics/diagnostic.ts'

/** A cell of a CSV text, its quotes included. */
export interface CsvCell {
  readonly span: Span
}

export type CsvRow = readonly CsvCell[]

/**
 * The places of all cells of a CSV text, empty lines left out. The parser that reads the values tells no places; a
 * test holds the two together.
 */
export function locateCells(text: string, { delimiter, quote }: { delimiter: string; quote: string }): CsvRow[] {
  const rows: CsvRow[] = []
  let row: CsvCell[] = []
  let at = 0
  const endRow = (): void => {
    if (row.length > 1 || (row[0] && row[0].span[1] > row[0].span[0])) rows.push(row)
    row = []
  }
  while (at <= text.length) {
    const end = endOfCell(text, at, { delimiter, quote })
    row.push({ span: [at, end] })
    if (end >= text.length) break
    if (text.startsWith(delimiter, end)) {
      at = end + delimiter.length
      continue
    }
    endRow()
    at = end + (text.startsWith('\r\n', end) ? 2 : 1)
  }
  endRow()
  return rows
}

function endOfCell(text: string, start: number, { delimiter, quote }: { delimiter: string; quote: string }): number {
  let at = start
  if (text.startsWith(quote, at)) {
    at++
    for (;;) {
      const close = text.indexOf(quote, at)
      if (close === -1) return text.length
      if (!text.startsWith(quote, close + 1)) {
        at = close + 1
        break
      }
      at = close + 2
    }
  }
  while (at < text.length && !text.startsWith(delimiter, at) && text[at] !== '\n' && text[at] !== '\r') at++
  return at
}

import type { Span } from '../diagnostics/diagnostic.ts'

/** A cell of a CSV text, its quotes included. */
export interface CsvCell {
  readonly span: Span
}

export type CsvRow = readonly CsvCell[]

/** Where a row stands. */
export interface CsvRowPlace {
  readonly span: Span
  /** Its first cell. */
  readonly opening: Span
}

/** How the cells of a text are told apart. */
export interface CsvForm {
  readonly delimiter: string
  readonly quote: string
}

/** Finds the rows of a text and the cells in them. The parser that reads the values tells no places; a test holds the two together. */
export interface CsvScanner {
  /** All rows, empty lines left out. */
  findRows(): readonly CsvRowPlace[]
  /** The cells of the row that starts at an offset. */
  locateRow(start: number): CsvRow
}

/** Makes a scanner of a text. */
export function createCsvScanner(text: string, { delimiter, quote }: CsvForm): CsvScanner {
  // Of several characters the first ends a cell only where the others follow.
  const unquoted = new RegExp(`[^\\r\\n${delimiter[0]?.replace(/[\\\]^-]/, '\\$&')}]*`, 'y')
  const endOfCell = (start: number): number => {
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
    for (;;) {
      unquoted.lastIndex = at
      unquoted.test(text)
      at = unquoted.lastIndex
      if (at >= text.length || text[at] === '\n' || text[at] === '\r' || text.startsWith(delimiter, at)) return at
      at++
    }
  }
  /** Goes over the cells of a row, and gives where the next starts. */
  const scanRow = (start: number, onCell: (start: number, end: number) => void): number => {
    for (let at = start; ; ) {
      const end = endOfCell(at)
      onCell(at, end)
      if (end >= text.length) return text.length + 1
      if (!text.startsWith(delimiter, end)) return end + (text.startsWith('\r\n', end) ? 2 : 1)
      at = end + delimiter.length
    }
  }
  return {
    findRows() {
      const rows: CsvRowPlace[] = []
      for (let start = 0; start <= text.length; ) {
        let firstEnd: number | undefined
        let end = start
        const next = scanRow(start, (_, cellEnd) => {
          firstEnd ??= cellEnd
          end = cellEnd
        })
        if (end > start) rows.push({ span: [start, end], opening: [start, firstEnd ?? end] })
        start = next
      }
      return rows
    },
    locateRow(start) {
      const cells: CsvCell[] = []
      scanRow(start, (from, end) => cells.push({ span: [from, end] }))
      return cells
    },
  }
}

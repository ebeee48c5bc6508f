import { isGroup } from '../diagnostics/own-key.ts'
import { type CsvRow, createCsvScanner } from '../read/csv-places.ts'
import type { EditedSource } from './edited-source.ts'

/** How the cells of a table are written. */
export interface CellStyle {
  readonly delimiter: string
  /** Between the items of a list. */
  readonly listSeparator: string
}

/** How the cells of a table are written that is there. */
export function cellStyleOf({ text, format, readOptions, listSeparator }: EditedSource): CellStyle {
  const [heading = ''] = /^\ufeff?[^\r\n]*/.exec(text) ?? []
  const likely = format.name === 'tsv' ? '\t' : mostFrequent(heading)
  return { delimiter: readOptions.delimiter ?? likely, listSeparator }
}

/** The cells of a table, row by row. */
export function cellsOf(source: EditedSource): readonly CsvRow[] {
  const { delimiter } = cellStyleOf(source)
  const scanner = createCsvScanner(source.text, { delimiter, quote: source.readOptions.quote ?? '"' })
  return scanner.findRows().map(({ span }) => scanner.locateRow(span[0]))
}

/** The headings of a table, as they are read. */
export const headingsOf = ({ text }: EditedSource, [heading = []]: readonly CsvRow[]): readonly string[] =>
  heading.map(({ span }) =>
    text
      .slice(...span)
      .trim()
      .replace(/^["']|["']$/g, ''),
  )

const mostFrequent = (heading: string): string =>
  [',', ';', '\t', '|'].sort((one, other) => heading.split(other).length - heading.split(one).length)[0] ?? ','

/**
 * A value as a cell of a table, in the place of what is written there: nothing is empty, a list has its items behind each other.
 * Undefined for what no cell can hold.
 */
export function writeCell(value: unknown, written: string, style: CellStyle): string | undefined {
  const text = cellText(value, style)
  if (text === undefined) return undefined
  const needsQuotes = text.includes(style.delimiter) || /["\r\n]|^\s|\s$/.test(text)
  return written.startsWith('"') || needsQuotes ? `"${text.replaceAll('"', '""')}"` : text
}

/** The text of a cell, before it is put into quotes. */
function cellText(value: unknown, { listSeparator }: CellStyle): string | undefined {
  if (value === null || value === undefined) return ''
  if (!Array.isArray(value)) return isGroup(value) ? undefined : String(value)
  if (value.some((item) => typeof item === 'object')) return undefined
  return value.join(/^[;,]$/.test(listSeparator) ? `${listSeparator} ` : listSeparator)
}

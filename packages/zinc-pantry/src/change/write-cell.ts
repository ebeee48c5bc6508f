import { isGroup } from '../diagnostics/own-key.ts'
import { writeScalar } from './write-scalar.ts'

/** How the cells of a table are written. */
export interface CellStyle {
  /** Undefined where it is found out from the text. */
  readonly delimiter?: string | undefined
  /** Between the items of a list. */
  readonly listSeparator: string
}

/**
 * A value as a cell of a table, in the place of what is written there: nothing is empty, a list has its items behind each other.
 * Undefined for what no cell can hold.
 */
export function writeCell(value: unknown, written: string, style: CellStyle): string | undefined {
  const text = cellText(value, style)
  if (text === undefined) return undefined
  const isApart = style.delimiter !== undefined && text.includes(style.delimiter)
  return writeScalar(isApart || /^\s|\s$/.test(text) ? '"' : written, text, 'csv')
}

/** The text of a cell, before it is put into quotes. */
function cellText(value: unknown, { listSeparator }: Pick<CellStyle, 'listSeparator'>): string | undefined {
  if (value === null || value === undefined) return ''
  if (!Array.isArray(value)) return isGroup(value) ? undefined : String(value)
  if (value.some((item) => typeof item === 'object')) return undefined
  return value.join(/^[;,]$/.test(listSeparator) ? `${listSeparator} ` : listSeparator)
}

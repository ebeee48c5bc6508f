import stringWidth from 'string-width'
import { largest } from '../diagnostics/extremes.ts'
import { lineOf } from '../diagnostics/line-of.ts'
import type { Answer } from '../engine/index.ts'

/** No column becomes narrower for others to fit. */
const NARROWEST = 6
/** Room that a column is given before the last ones are left out. */
const ROOM = 16
/** The gap between two columns. */
const GAP = 2

/** How a table is drawn. */
export interface TableStyle {
  /** Characters in a line, or undefined where there is no end. */
  readonly width: number | undefined
  /** The columns were asked for by name, so that none may be left out. */
  readonly chosen: boolean
  /** Paints the headings. */
  heading(text: string): string
}

interface Column {
  readonly name: string
  readonly cells: readonly string[]
  readonly right: boolean
  width: number
}

/** A table, and the columns for which there was no room, or that make no readable cell. */
export interface DrawnTable {
  readonly text: string
  readonly leftOut: readonly string[]
}

/** Draws the rows of an answer as a table that fits the terminal. Empty where there are none. */
export function renderTable({ columns, rows, depths }: Answer, { width, chosen, heading }: TableStyle): DrawnTable {
  if (rows.length === 0) return { text: '', leftOut: [] }
  const all = columns.flatMap(({ name, shape }, at): Column[] => {
    // What is nested makes no readable cell; it is shown when it is asked for.
    if (!chosen && (shape.kind === 'group' || shape.item?.kind === 'group')) return []
    if (!chosen && isUsual(name) && rows.every((row) => row[at] === row[0])) return []
    const indent = (row: number): string => (at === 0 ? '  '.repeat(depths?.[row] ?? 0) : '')
    const cells = rows.map((row, number) => indent(number) + lineOf(row[at]).replace(/\s+/g, ' '))
    const widest = largest(cells, (cell) => stringWidth(cell), stringWidth(name))
    return [{ name, cells, right: shape.kind === 'number', width: widest }]
  })
  const shown = fitColumns(all, width ?? Number.POSITIVE_INFINITY, chosen)
  const draw = (cellOf: (column: Column) => string): string =>
    shown
      .map((column) => fitCell(cellOf(column), column))
      .join(' '.repeat(GAP))
      .trimEnd()
  const lines = [heading(draw(({ name }) => name)), ...rows.map((_, at) => draw(({ cells }) => cells[at] ?? ''))]
  const leftOut = columns
    .map(({ name }) => name)
    .filter((name) => !isUsual(name) && !shown.some((one) => one.name === name))
  return { text: `${lines.join('\n')}\n`, leftOut }
}

/** A cell in the width of its column: filled with spaces, or cut. */
function fitCell(text: string, { width, right }: Column): string {
  const own = stringWidth(text)
  if (own <= width) return right ? ' '.repeat(width - own) + text : text + ' '.repeat(width - own)
  let cut = ''
  let used = 0
  // Made where a cell is cut: the first thing of languages takes the engine 30 ms.
  for (const { segment } of new Intl.Segmenter().segment(text)) {
    used += stringWidth(segment)
    if (used >= width) break
    cut += segment
  }
  return `${cut}…${' '.repeat(width - 1 - stringWidth(cut))}`
}

/** True for what is left out where it says what another column says. */
const isUsual = (name: string): boolean => name === 'slug'

/** Narrows the widest columns until all fit; what still does not is left out at the end, unless chosen. */
function fitColumns(columns: readonly Column[], width: number, chosen: boolean): readonly Column[] {
  const shown = [...columns]
  const total = (most = Number.POSITIVE_INFINITY): number =>
    shown.reduce((sum, column) => sum + Math.min(column.width, most) + GAP, -GAP)
  while (!chosen && shown.length > 1 && total(ROOM) > width) shown.pop()
  while (total() > width) {
    const widest = shown.reduce((a, b) => (b.width > a.width ? b : a))
    if (widest.width <= NARROWEST) break
    widest.width--
  }
  return shown
}

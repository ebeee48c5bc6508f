import stringWidth from 'string-width'
import { type Diagnostic, helpOf, messageOf, noteOf, type Place } from './diagnostic.ts'
import { formatCount } from './format-count.ts'
import { groupRepeated } from './group-repeated.ts'
import { createLineIndex, type LineIndex } from './line-index.ts'

/** Paints parts of the output; every function returns its text unchanged where colour is off. */
export interface Palette {
  error(text: string): string
  warning(text: string): string
  strong(text: string): string
  faint(text: string): string
  place(text: string): string
}

const same = (text: string): string => text

/**
 * A palette without colour.
 *
 * @example
 * ```ts
 * import { type Palette, plainPalette } from 'zinc-pantry/engine'
 *
 * const loud: Palette = { ...plainPalette, error: (text) => text.toUpperCase() }
 * ```
 */
export const plainPalette: Palette = {
  error: same,
  warning: same,
  strong: same,
  faint: same,
  place: same,
}

/** Gives the text of a file that has a diagnostic, or undefined when it is gone. */
export type TextSource = (file: string) => string | undefined

/** Source lines shown above and below the line of a problem. */
const AROUND = 2
/** Longest source line shown whole. */
const WIDTH = 100

/** One line index a file, made when it is first asked for. */
export function createLineIndexes(textOf: TextSource): (file: string) => LineIndex {
  const made = new Map<string, LineIndex>()
  return (file) => {
    const known = made.get(file)
    if (known) return known
    const index = createLineIndex(textOf(file) ?? '')
    made.set(file, index)
    return index
  }
}

/** How the text form is written. */
export interface TextStyle {
  /** Default: no colour. */
  readonly palette?: Palette
  /**
   * Many problems of one kind are told once, with their number and the first of their places. Default: each is told.
   */
  readonly isGrouped?: boolean
  /** The name by which a file is shown. Default: its path, relative to the site's root. */
  nameOf?(file: string): string
}

interface Writer {
  readonly palette: Palette
  readonly indexes: (file: string) => LineIndex
  readonly nameOf: (file: string) => string
}

/**
 * The text form of diagnostics: place, severity, code and message; two source lines either side with
 * a caret as wide as the span; related places; help. An empty line stands between two problems.
 *
 * @example
 * ```ts
 * import { checkSite, createNodeHost, renderText } from 'zinc-pantry/engine'
 *
 * const report = await checkSite({ host: createNodeHost('.'), configurationFile: 'pantry.config.ts' })
 * console.log(renderText(report.diagnostics, report.textOf, { isGrouped: true }))
 * ```
 */
export function renderText(
  diagnostics: readonly Diagnostic[],
  textOf: TextSource,
  { palette = plainPalette, nameOf = same, isGrouped = false }: TextStyle = {},
): string {
  const writer: Writer = { palette, nameOf, indexes: createLineIndexes(textOf) }
  const groups = isGrouped ? groupRepeated(diagnostics) : diagnostics.map((first) => ({ first, others: [] }))
  return groups.map(({ first, others }) => renderOne(first, writer) + renderOthers(others, writer)).join('\n')
}

function renderOne(diagnostic: Diagnostic, writer: Writer): string {
  const { palette, indexes } = writer
  const paint = diagnostic.severity === 'error' ? palette.error : palette.warning
  const place = palette.place(placeText(diagnostic, writer))
  const lines = [
    `${place} ${paint(diagnostic.severity)} ${palette.faint(diagnostic.code)}`,
    `  ${palette.strong(messageOf(diagnostic))}`,
    ...renderFrame(diagnostic, indexes(diagnostic.file), { paint, faint: palette.faint }),
  ]
  for (const related of diagnostic.related ?? [])
    lines.push(`  ${noteOf(related)}: ${palette.place(placeText(related, writer))}`)
  const help = helpOf(diagnostic)
  if (help) lines.push(`  ${palette.faint('help:')} ${help}`)
  return `${lines.join('\n')}\n`
}

/** The number of places of like problems that are named. */
const SHOWN_PLACES = 2

function renderOthers(others: readonly Diagnostic[], writer: Writer): string {
  if (others.length === 0) return ''
  const { palette } = writer
  const shown = others.slice(0, SHOWN_PLACES).map((one) => palette.place(placeText(one, writer)))
  const more = others.length - shown.length
  const count = `${formatCount(others.length + 1)} times in all`
  return `  ${palette.strong(count)}: also ${shown.join(', ')}${more > 0 ? ` and ${formatCount(more)} more` : ''}\n`
}

function placeText(place: Place, { indexes, nameOf }: Writer): string {
  const { line, column } = indexes(place.file).at(place.span[0])
  return `${printable(nameOf(place.file))}:${line}:${column}`
}

function renderFrame(
  { span }: Diagnostic,
  index: LineIndex,
  palette: { paint: (text: string) => string; faint: (text: string) => string },
): string[] {
  const start = index.at(span[0])
  const end = index.at(span[1])
  if (index.lineCount === 1 && index.lineText(1) === '') return []
  const first = Math.max(1, start.line - AROUND)
  const last = Math.min(index.lineCount, start.line + AROUND)
  const gutter = String(last).length
  const lines: string[] = []
  for (let line = first; line <= last; line++) {
    const text = index.lineText(line)
    if (line > start.line && line === last && text === '') break
    const window = windowOf(text, line === start.line ? start.column : 1)
    const number = String(line).padStart(gutter)
    lines.push(`  ${palette.faint(`${number} │`)} ${window.text}`.trimEnd())
    if (line !== start.line) continue
    const endColumn = end.line === start.line ? end.column : text.length + 1
    const before = text.slice(window.from, start.column - 1)
    const marked = text.slice(start.column - 1, Math.min(endColumn - 1, window.from + WIDTH))
    const lead = ' '.repeat(stringWidth(before) + (window.from > 0 ? 1 : 0))
    const carets = '^'.repeat(Math.max(1, stringWidth(marked)))
    lines.push(`  ${palette.faint(`${' '.repeat(gutter)} │`)} ${lead}${palette.paint(carets)}`)
  }
  return lines
}

/** The part of a long line that shows the given column, with an ellipsis where it is cut. */
function windowOf(text: string, column: number): { text: string; from: number } {
  const from = column > WIDTH - 20 ? column - 1 - 40 : 0
  const cut = text.slice(from, from + WIDTH)
  const shown = `${from > 0 ? '…' : ''}${cut}${from + WIDTH < text.length ? '…' : ''}`
  return { text: printable(shown), from }
}

/** Control characters as visible signs, so that content cannot drive a terminal. Tabs become one arrow. */
function printable(text: string): string {
  return text
    .replace(/\t/g, '→')
    .replace(/[\u0000-\u001f]/g, (control) => String.fromCharCode(0x2400 + control.charCodeAt(0)))
    .replace(/[\u007f-\u009f\u2028\u2029\u202a-\u202e\u2066-\u2069]/g, '\ufffd')
}

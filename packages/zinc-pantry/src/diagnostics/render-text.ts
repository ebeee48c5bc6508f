import { type Diagnostic, helpOf, messageOf, noteOf, type Place } from './diagnostic.ts'
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

/** A palette without colour. */
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

/**
 * The text form of diagnostics: place, severity, code and message; two source lines either side with
 * a caret as wide as the span; related places; help. An empty line stands between two problems.
 */
export function renderText(
  diagnostics: readonly Diagnostic[],
  textOf: TextSource,
  palette: Palette = plainPalette,
): string {
  const indexes = createLineIndexes(textOf)
  return diagnostics.map((diagnostic) => renderOne(diagnostic, indexes, palette)).join('\n')
}

function renderOne(
  diagnostic: Diagnostic,
  indexes: (file: string) => LineIndex,
  palette: Palette,
): string {
  const paint = diagnostic.severity === 'error' ? palette.error : palette.warning
  const head = `${palette.place(placeText(diagnostic, indexes))} ${paint(diagnostic.severity)} ${palette.faint(diagnostic.code)}`
  const lines = [head, `  ${palette.strong(messageOf(diagnostic))}`]
  const frame = renderFrame(diagnostic, indexes(diagnostic.file), { paint, faint: palette.faint })
  lines.push(...frame)
  for (const related of diagnostic.related ?? [])
    lines.push(`  ${noteOf(related)}: ${palette.place(placeText(related, indexes))}`)
  const help = helpOf(diagnostic)
  if (help) lines.push(`  ${palette.faint('help:')} ${help}`)
  return `${lines.join('\n')}\n`
}

function placeText(place: Place, indexes: (file: string) => LineIndex): string {
  const { line, column } = indexes(place.file).at(place.span[0])
  return `${printable(place.file)}:${line}:${column}`
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
    const lead = ' '.repeat(displayWidth(before) + (window.from > 0 ? 1 : 0))
    const carets = '^'.repeat(Math.max(1, displayWidth(marked)))
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

const WIDE =
  /[\u1100-\u115f\u2e80-\u303e\u3041-\u33ff\u3400-\u4dbf\u4e00-\u9fff\ua000-\ua4cf\uac00-\ud7a3\uf900-\ufaff\ufe30-\ufe6f\uff00-\uff60\uffe0-\uffe6]|\p{Emoji_Presentation}/u
const ZERO = /\p{Mn}|\p{Me}|\p{Cf}/u

/** Terminal cells a text takes: wide characters take two, combining ones none. */
export function displayWidth(text: string): number {
  let width = 0
  for (const character of text) width += WIDE.test(character) ? 2 : ZERO.test(character) ? 0 : 1
  return width
}

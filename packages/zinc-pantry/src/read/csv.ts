import Papa from 'papaparse'
import { createDiagnostic, type Diagnostic } from '../diagnostics/diagnostic.ts'
import { setOwn } from '../diagnostics/own-key.ts'
import { type CsvCell, type CsvForm, type CsvRowPlace, createCsvScanner } from './csv-places.ts'
import {
  createDocument,
  LazyPlace,
  MAX_DEPTH,
  type PathSegment,
  type PlaceNode,
  type ReadResult,
  type SourceText,
} from './document.ts'

/** How a CSV text is written, where it cannot be seen from it. */
export interface CsvOptions {
  /** The delimiter of cells. Default: found out from the text. */
  readonly delimiter?: string | undefined
  /** The quote around a cell with delimiters or line breaks in it. Default: found out from the heading. */
  readonly quote?: string | undefined
  /** Whether spaces around headings, and in cells that hold nothing else, are left out. Default: true. */
  readonly trim?: boolean
  /** Headings that are taken whole, though they have dots. Default: none. */
  readonly whole?: readonly string[]
}

/**
 * Reads CSV (RFC 4180) with a heading. Every row is a group of texts by the names in the heading; an empty cell
 * is absent; dots in a name lead into groups: `start.hut`.
 *
 * Diagnostics: `csv-quote`, `csv-heading-empty`, `csv-heading-twice`, `csv-heading-deep`, `csv-row-long`.
 *
 * @example
 * ```ts
 * import { readCsv } from 'zinc-pantry/read'
 *
 * const { document } = readCsv({ file: 'huts.csv', text: 'id;name;start.hut\n1;Gable;high\n' })
 * console.log(document?.value) // [{ id: '1', name: 'Gable', start: { hut: 'high' } }]
 * ```
 */
export function readCsv(
  { file, text }: SourceText,
  { delimiter, quote = detectQuote(text), trim = true, whole = [] }: CsvOptions = {},
): ReadResult {
  const parsed = Papa.parse<string[]>(text, { delimiter: delimiter ?? '', quoteChar: quote, skipEmptyLines: true })
  const form = { delimiter: parsed.meta.delimiter, quote }
  const unclosed = parsed.errors.find(({ type }) => type === 'Quotes')
  if (unclosed)
    return { document: undefined, diagnostics: [describeQuote(file, text, { ...form, row: unclosed.row ?? 0 })] }
  const [heading = [], ...rows] = parsed.data
  const names = trim ? heading.map((name) => name.trim()) : heading
  const paths = names.map((name) => (whole.includes(name) ? [name] : name.split('.')))
  const problems = checkTable({ file, text, names, paths, rows, ...form })
  if (problems.some(({ code }) => code.startsWith('csv-heading'))) return { document: undefined, diagnostics: problems }
  const value = rows.map((cells) => {
    const record: Record<string, unknown> = {}
    for (const [column, path] of paths.entries()) {
      const cell = cells[column]
      if (cell !== undefined && (trim ? cell.trim() : cell) !== '') setAt(record, path, cell)
    }
    return record
  })
  return { document: createDocument(value, () => buildPlaces(text, paths, form)), diagnostics: problems }
}

/** Single quotes count as quotes where the heading has some around a name, and no double ones. */
function detectQuote(text: string): string {
  const heading = /^[^\r\n]*/.exec(text)?.[0] ?? ''
  return /(?:^|[,;|\t])'/.test(heading) && !heading.includes('"') ? "'" : '"'
}

function setAt(record: Record<string, unknown>, path: readonly string[], cell: string): void {
  let at = record
  for (const name of path.slice(0, -1)) {
    if (!Object.hasOwn(at, name) || typeof at[name] !== 'object') setOwn(at, name, {})
    at = at[name] as Record<string, unknown>
  }
  setOwn(at, path[path.length - 1] ?? '', cell)
}

function describeQuote(file: string, text: string, { row, ...form }: CsvForm & { row: number }): Diagnostic {
  const scanner = createCsvScanner(text, form)
  const rows = scanner.findRows()
  const cells = scanner.locateRow(rows[Math.min(row, rows.length - 1)]?.span[0] ?? 0)
  const cell = cells.find(({ span }) => text.startsWith(form.quote, span[0]))
  const start = cell?.span[0] ?? 0
  return createDiagnostic('csv-quote', { file, span: [start, start + 1] }, { quote: form.quote })
}

interface Table extends CsvForm {
  readonly file: string
  readonly text: string
  readonly names: readonly string[]
  readonly paths: readonly (readonly string[])[]
  readonly rows: readonly (readonly string[])[]
}

function checkTable({ file, text, names, paths, rows, ...form }: Table): Diagnostic[] {
  const isDeep = (column: number): boolean => (paths[column]?.length ?? 0) > MAX_DEPTH
  const isFine =
    rows.every((cells) => cells.length <= names.length) &&
    new Set(names).size === names.length &&
    !names.includes('') &&
    !names.some((_, column) => isDeep(column))
  if (isFine) return []
  const scanner = createCsvScanner(text, form)
  const places = scanner.findRows()
  const heading = scanner.locateRow(places[0]?.span[0] ?? 0)
  const diagnostics: Diagnostic[] = []
  const seen = new Set<string>()
  for (const [column, name] of names.entries()) {
    const span = heading[column]?.span ?? [0, 1]
    if (name === '') diagnostics.push(createDiagnostic('csv-heading-empty', { file, span }, { column: column + 1 }))
    else if (seen.has(name)) diagnostics.push(createDiagnostic('csv-heading-twice', { file, span }, { name }))
    else if (isDeep(column))
      diagnostics.push(createDiagnostic('csv-heading-deep', { file, span }, { limit: MAX_DEPTH }))
    seen.add(name)
  }
  for (const [position, row] of rows.entries()) {
    const place = row.length > names.length ? places[position + 1] : undefined
    const extra = place && scanner.locateRow(place.span[0])[names.length]
    if (!extra) continue
    diagnostics.push(
      createDiagnostic('csv-row-long', { file, span: extra.span }, { cells: row.length, columns: names.length }),
    )
  }
  return diagnostics
}

function buildPlaces(text: string, paths: readonly (readonly string[])[], form: CsvForm): PlaceNode {
  const scanner = createCsvScanner(text, form)
  const [first, ...rows] = scanner.findRows()
  const heading = first ? scanner.locateRow(first.span[0]) : []
  const placeCells = (start: number): Map<PathSegment, PlaceNode> => {
    const row = scanner.locateRow(start)
    const children = new Map<PathSegment, PlaceNode>()
    for (const [column, path] of paths.entries()) {
      const cell = row[column]
      if (cell) placeCell(children, path, { cell, heading: heading[column] ?? cell })
    }
    return children
  }
  const placeRow = ({ span, opening }: CsvRowPlace): PlaceNode =>
    new LazyPlace(span, opening, () => placeCells(span[0]))
  return {
    span: [0, text.length],
    opening: first?.opening ?? [0, 0],
    children: new Map<PathSegment, PlaceNode>(rows.map((row, position) => [position, placeRow(row)])),
  }
}

function placeCell(
  row: Map<PathSegment, PlaceNode>,
  path: readonly string[],
  { cell, heading }: { cell: CsvCell; heading: CsvCell },
): void {
  let children = row
  for (const [depth, name] of path.entries()) {
    const known = children.get(name)
    const next: PlaceNode = known ?? { span: cell.span, opening: cell.span, heading: heading.span }
    children.set(name, next)
    if (depth === path.length - 1) return
    next.children ??= new Map()
    children = next.children
  }
}

import Papa from 'papaparse'
import { createDiagnostic, type Diagnostic } from '../diagnostics/diagnostic.ts'
import { setOwn } from '../diagnostics/own-key.ts'
import { type CsvCell, type CsvRow, locateCells } from './csv-places.ts'
import {
  createDocument,
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

interface Form {
  readonly delimiter: string
  readonly quote: string
}

function describeQuote(file: string, text: string, { row, ...form }: Form & { row: number }): Diagnostic {
  const rows = locateCells(text, form)
  const cell = rows[Math.min(row, rows.length - 1)]?.find(({ span }) => text.startsWith(form.quote, span[0]))
  const start = cell?.span[0] ?? 0
  return createDiagnostic('csv-quote', { file, span: [start, start + 1] }, { quote: form.quote })
}

interface Table extends Form {
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
  const cells = locateCells(text, form)
  const diagnostics: Diagnostic[] = []
  const seen = new Set<string>()
  for (const [column, name] of names.entries()) {
    const span = cells[0]?.[column]?.span ?? [0, 1]
    if (name === '') diagnostics.push(createDiagnostic('csv-heading-empty', { file, span }, { column: column + 1 }))
    else if (seen.has(name)) diagnostics.push(createDiagnostic('csv-heading-twice', { file, span }, { name }))
    else if (isDeep(column))
      diagnostics.push(createDiagnostic('csv-heading-deep', { file, span }, { limit: MAX_DEPTH }))
    seen.add(name)
  }
  for (const [position, row] of rows.entries()) {
    const extra: CsvCell | undefined = cells[position + 1]?.[names.length]
    if (row.length <= names.length || !extra) continue
    diagnostics.push(
      createDiagnostic('csv-row-long', { file, span: extra.span }, { cells: row.length, columns: names.length }),
    )
  }
  return diagnostics
}

function buildPlaces(text: string, paths: readonly (readonly string[])[], form: Form): PlaceNode {
  const [heading = [], ...rows] = locateCells(text, form)
  const placeRow = (row: CsvRow): PlaceNode => {
    const [first] = row
    const opening = first?.span ?? [0, 0]
    const place: PlaceNode = {
      span: [opening[0], row[row.length - 1]?.span[1] ?? opening[1]],
      opening,
      children: new Map(),
    }
    for (const [column, path] of paths.entries()) {
      const cell = row[column]
      if (cell) placeCell(place, path, { cell, heading: heading[column] ?? cell })
    }
    return place
  }
  return {
    span: [0, text.length],
    opening: heading[0]?.span ?? [0, 0],
    children: new Map<PathSegment, PlaceNode>(rows.map((row, position) => [position, placeRow(row)])),
  }
}

function placeCell(
  row: PlaceNode,
  path: readonly string[],
  { cell, heading }: { cell: CsvCell; heading: CsvCell },
): void {
  let at = row
  for (const [depth, name] of path.entries()) {
    at.children ??= new Map()
    const known = at.children.get(name)
    const next: PlaceNode = known ?? {
      span: cell.span,
      opening: cell.span,
      heading: heading.span,
      ...(depth < path.length - 1 ? { children: new Map() } : {}),
    }
    at.children.set(name, next)
    at = next
  }
}

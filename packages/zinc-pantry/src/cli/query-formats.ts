import Papa from 'papaparse'
import { lineOf } from '../diagnostics/line-of.ts'
import type { Answer } from '../engine/index.ts'

/**
 * Rows as JSON: an array of objects, keyed by the names of the fields as they were asked for; where values are to be
 * counted, an object with the array as `entries` and the counts as `facets`. In a tree each has those below it as `children`.
 */
export function renderJsonRows({ columns, rows, facets, depths }: Answer): string {
  const plain = rows.map((row): Row => Object.fromEntries(columns.map(({ name }, at) => [name, row[at]])))
  const entries = depths ? nest(plain, depths) : plain
  const counts = Object.fromEntries(facets.map((facet) => [facet.name, facet.counts]))
  return `${JSON.stringify(facets.length > 0 ? { entries, facets: counts } : entries, null, 2)}\n`
}

type Row = Record<string, unknown>

/** Rows with those below them, by their depths. */
function nest(rows: readonly Row[], depths: readonly number[]): Row[] {
  const roots: Row[] = []
  /** The children of the last row of each depth. */
  const open: Row[][] = [roots]
  for (const [at, row] of rows.entries()) {
    const depth = depths[at] ?? 0
    const children: Row[] = []
    open[depth]?.push({ ...row, children })
    open[depth + 1] = children
  }
  return roots
}

/** Rows as CSV (RFC 4180, line feeds) with a heading; lists of plain values with `; `, groups as JSON. */
export function renderCsv({ columns, rows }: Answer): string {
  const fields = columns.map(({ name }) => name)
  const data = rows.map((row) => row.map(lineOf))
  return `${Papa.unparse({ fields, data }, { newline: '\n' })}\n`
}

import Papa from 'papaparse'
import type { Answer } from '../engine/index.ts'

/**
 * Rows as JSON: an array of objects, keyed by the names of the fields as they were asked for; where values are to be
 * counted, an object with the array as `entries` and the counts as `facets`.
 */
export function renderJsonRows({ columns, rows, facets }: Answer): string {
  const entries = rows.map((row) => Object.fromEntries(columns.map(({ name }, at) => [name, row[at]])))
  const counts = Object.fromEntries(facets.map((facet) => [facet.name, facet.counts]))
  return `${JSON.stringify(facets.length > 0 ? { entries, facets: counts } : entries, null, 2)}\n`
}

/** Rows as CSV (RFC 4180, line feeds) with a heading; lists of plain values with `; `, groups as JSON. */
export function renderCsv({ columns, rows }: Answer): string {
  const fields = columns.map(({ name }) => name)
  const data = rows.map((row) => row.map(plainText))
  return `${Papa.unparse({ fields, data }, { newline: '\n' })}\n`
}

/** One value as a line of text. */
export function plainText(value: unknown): string {
  if (value === null || value === undefined) return ''
  if (Array.isArray(value) && value.every((item) => typeof item !== 'object')) return value.join('; ')
  return typeof value === 'object' ? JSON.stringify(value) : String(value)
}

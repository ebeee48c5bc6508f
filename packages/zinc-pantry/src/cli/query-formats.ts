import Papa from 'papaparse'
import { lineOf } from '../diagnostics/line-of.ts'
import type { Answer } from '../engine/index.ts'

/**
 * Rows as JSON: an array of objects, keyed by the names of the fields as they were asked for; where values are to be
 * counted, an object with the array as `entries` and the counts as `facets`. In a tree each has those below it as `children`, and
 * a group the entries that were asked for as `entries`.
 */
export function renderJsonRows({ columns, rows, facets, depths, members }: Answer): string {
  const plain = namedRows(columns, rows).map((row, at): Row => {
    const own = members?.rows[at]
    return own && members ? { ...row, entries: namedRows(members.columns, own) } : row
  })
  const entries = depths ? nest(plain, depths) : plain
  const counts = Object.fromEntries(facets.map((facet) => [facet.name, facet.counts]))
  return `${JSON.stringify(facets.length > 0 ? { entries, facets: counts } : entries, null, 2)}\n`
}

type Row = Record<string, unknown>

const namedRows = (columns: Answer['columns'], rows: Answer['rows']): Row[] =>
  rows.map((row) => Object.fromEntries(columns.map(({ name }, at) => [name, row[at]])))

/** The entries of groups as rows, each with the values of its group in front; as people read them only in the first of a group. */
export function listMembers({ members, ...answer }: Answer, isForPeople: boolean): Answer {
  if (!members) return answer
  const rows = answer.rows.flatMap((group, number) =>
    (members.rows[number] ?? []).map((row, at) => [...(isForPeople && at > 0 ? group.map(() => null) : group), ...row]),
  )
  return { ...answer, columns: [...answer.columns, ...members.columns], rows }
}

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
export function renderCsv(answer: Answer): string {
  const { columns, rows } = listMembers(answer, false)
  const fields = columns.map(({ name }) => name)
  const data = rows.map((row) => row.map(lineOf))
  return `${Papa.unparse({ fields, data }, { newline: '\n' })}\n`
}

import type { ConditionTree, SortKey } from './condition.ts'
import { estimateRows, findRows } from './find-rows.ts'
import type { Site } from './open-site.ts'
import { orderRows, prefetchOrder } from './order-rows.ts'
import type { QueryResult } from './plan.ts'
import { QueryError } from './query-error.ts'
import type { RowSet } from './row-set.ts'
import { startRun, type Table } from './run.ts'

/** A query as plain data. */
export interface QueryRequest {
  readonly collection: string
  readonly condition?: ConditionTree | undefined
  /** Words to search for, in what the collection's setting `search` names. Without `sort` the nearest come first. */
  readonly search?: string | undefined
  readonly sort?: readonly SortKey[]
  readonly limit?: number | undefined
  readonly offset?: number | undefined
  /** The language of the entries; those that lack it stand in the first. Default: the first. */
  readonly locale?: string | undefined
}

/** Rows that match, in the order of the collection. */
export interface Matched {
  readonly rows: RowSet
  /** The same rows, as many as are wanted at least and the nearest first, where words were searched for. */
  rank?(wanted: number | undefined): readonly number[]
  /** A score a row of the collection. */
  readonly scores?: Float32Array
  /** True for a word, folded, that was found. */
  isFound?(word: string): boolean
}

/** Rows that a query gave, with what is needed to go on with them. */
export interface QueryRows extends Omit<Matched, 'rows'> {
  readonly table: Table
  /** Rows in order, within limit and offset. */
  readonly rows: readonly number[] | RowSet
  readonly total: number
  readonly order?: string | undefined
}

/** The rows that match. */
export async function matchRows(
  table: Table,
  { condition, search }: Pick<QueryRequest, 'condition' | 'search'>,
): Promise<Matched> {
  const rows = await findRows(table, condition)
  return search === undefined ? { rows } : (await import('./search.ts')).matchWords(table, search, rows)
}

/** Answers a query with rows. */
export async function runRows(site: Site, request: QueryRequest): Promise<QueryRows> {
  const { condition, sort = [], offset = 0, limit } = request
  for (const name of ['limit', 'offset'] as const) checkCount(name, request[name] ?? 0, 0)
  const table = await startRun(site, request.locale).open(request.collection)
  const end = limit === undefined ? undefined : offset + limit
  const ordering = { table, sort, end }
  if (limit !== 0) prefetchOrder(condition ? estimateRows(table, condition) : table.count, ordering)
  const matched = await matchRows(table, request)
  const { rows } = matched
  const given = { ...matched, table, total: rows.length }
  if (limit === 0) return { ...given, rows: [] }
  const ordered = matched.rank && sort.length === 0 ? { rows: matched.rank(end) } : await orderRows(rows, ordering)
  return { ...given, ...ordered, rows: ordered.rows.slice(offset, end) }
}

/** Answers a query with the indexes that help. Wrong use, such as a value that a field can never have, is a `QueryError`. */
export async function runQuery(site: Site, request: QueryRequest): Promise<QueryResult> {
  const [{ answerQuery }, { checkRequest }] = await Promise.all([import('./plan.ts'), import('./check-request.ts')])
  return answerQuery(site, checkRequest(site, request))
}

/** Refuses what is no whole number, or too small. */
export function checkCount(name: string, value: number, minimum: number): void {
  if (!Number.isSafeInteger(value) || value < minimum)
    throw new QueryError(`${name} must be a whole number from ${minimum}, not ${value}`)
}

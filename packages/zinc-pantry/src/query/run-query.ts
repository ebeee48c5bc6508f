import { byScore } from './condition.ts'
import { estimateRows, findRows } from './find-rows.ts'
import type { Site } from './open-site.ts'
import { orderRows, prefetchOrder } from './order-rows.ts'
import type { QueryResult } from './plan.ts'
import type { PostingList } from './posting-list.ts'
import { QueryError } from './query-error.ts'
import type { Matched, QueryRequest } from './query-request.ts'
import { startRun, type Table } from './run.ts'

/** Rows that a query gave, with what is needed to go on with them. */
export interface QueryRows extends Omit<Matched, 'rows'> {
  readonly table: Table
  /** Rows in order, within limit and offset. */
  readonly rows: readonly number[] | PostingList
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
  const { cube, clusters: all } = table
  if (cube && limit !== undefined && request.search === undefined && (limit === 0 || all.length > 0)) {
    const found = await (await import('./cube.ts')).answerInCube(table, request)
    if (found) return { ...found, table }
  }
  const isPage = limit !== undefined && limit > 0 && request.search === undefined && table.clusters.length > 0
  const clusters = isPage ? await import('./cluster-rows.ts') : undefined
  const cluster = clusters?.clusterOf(table, sort)
  if (limit !== 0 && !cluster) prefetchOrder(condition ? estimateRows(table, condition) : table.count, ordering)
  const matched = await matchRows(table, request)
  const { rows } = matched
  const given = { ...matched, table, total: rows.length }
  if (limit === 0) return { ...given, rows: [] }
  const stretch = cluster && (await clusters?.readStretch(table, cluster, { rows, start: offset, end: end as number }))
  if (stretch) return { ...given, ...stretch }
  const { rank, scores } = matched
  const isByScore = sort.length === 0 || (sort.length === 1 && sort[0] === byScore)
  const ordered = rank && isByScore ? { rows: rank(end) } : await orderRows(rows, { ...ordering, scores })
  return { ...given, ...ordered, rows: ordered.rows.slice(offset, end) }
}

/**
 * Answers a query with the indexes that help. Wrong use, such as a value that a field can never have, is a
 * `QueryError`.
 *
 * @example
 * ```ts
 * import { createNodeHost, openContent } from 'zinc-pantry/engine'
 * import { runQuery } from 'zinc-pantry/query'
 *
 * const { site } = await openContent({ host: createNodeHost('.'), configurationFile: 'pantry.config.ts' })
 * const { entries, total } = await runQuery(site, {
 *   collection: 'huts',
 *   condition: { kind: 'test', path: ['beds'], operator: 'atLeast', values: [20] },
 *   limit: 5,
 * })
 * console.log(total, entries.map(({ id }) => id))
 * ```
 */
export async function runQuery(site: Site, request: QueryRequest): Promise<QueryResult> {
  const [{ answerQuery }, { checkRequest }] = await Promise.all([import('./plan.ts'), import('./check-request.ts')])
  return answerQuery(site, checkRequest(site, request))
}

/** Refuses what is no whole number, or too small. */
export function checkCount(name: string, value: number, minimum: number): void {
  if (!Number.isSafeInteger(value) || value < minimum)
    throw new QueryError(`${name} must be a whole number from ${minimum}, not ${value}`)
}

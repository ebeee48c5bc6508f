import type { ConditionTree, SortKey } from './condition.ts'
import { estimateRows, findRows } from './find-rows.ts'
import { QueryError } from './handles.ts'
import type { Site } from './open-site.ts'
import { orderRows, prefetchOrder } from './order-rows.ts'
import { keepMarked, markRows, type RowSet } from './row-set.ts'
import { type PlanStep, startRun, type Table } from './run.ts'
import type { StoredValue } from './shape.ts'

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

/** How a query was answered. */
export interface QueryPlan {
  /** Which index served which part of the condition. */
  readonly steps: readonly PlanStep[]
  /** The index that gave the order, where one did, as `collection.path`. */
  readonly order: string | undefined
  /** Entries on which the condition was tested; 0 where indexes told all. */
  readonly examined: number
  /** True where no index helped with the condition, so that every entry was tested. */
  readonly isScan: boolean
  /** Bytes of data that were read; what was there before is not counted. */
  readonly bytes: number
}

/** What a query gave. */
export interface QueryResult {
  readonly entries: readonly StoredValue[]
  /** Entries that match, before limit and offset. */
  readonly total: number
  readonly plan: QueryPlan
}

/** Rows that match, in the order of the collection, and how well where something was searched for. */
interface Matched {
  readonly rows: RowSet
  /** A score a row of the collection, where something was searched for. */
  readonly scores?: Float32Array
  /** The words that were found, folded, where something was searched for. */
  readonly words?: ReadonlySet<string>
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
  if (search === undefined) return { rows }
  const { run, name, count } = table
  // Several questions of one query, such as facets, search once.
  run.searched ??= import('./search.ts').then((module) => module.searchRows(table, search))
  const found = await run.searched
  const part: ConditionTree = { kind: 'test', path: ['search'], operator: 'hasWords', values: [search] }
  run.steps.push({ part, index: `${name}.search`, rows: found.rows.length })
  return { ...found, rows: keepMarked(found.rows, markRows(rows, count)) }
}

/** Answers a query with rows. */
export async function runRows(site: Site, request: QueryRequest): Promise<QueryRows> {
  const { condition, sort = [], offset = 0, limit } = request
  checkCounts(request)
  const table = await startRun(site, request.locale).open(request.collection)
  const end = limit === undefined ? undefined : offset + limit
  const ordering = { table, sort, end }
  if (limit !== 0) prefetchOrder(condition ? estimateRows(table, condition) : table.count, ordering)
  const matched = await matchRows(table, request)
  const { rows, scores } = matched
  const total = rows.length
  const given = { ...matched, table, total }
  if (limit === 0) return { ...given, rows: [] }
  const ordered =
    scores && sort.length === 0
      ? { rows: (await import('./search.ts')).orderByScore(rows, scores, end) }
      : await orderRows(rows, ordering)
  return { ...given, ...ordered, rows: ordered.rows.slice(offset, end) }
}

/** Answers a query with the indexes that help. */
export async function runQuery(site: Site, request: QueryRequest): Promise<QueryResult> {
  const { table, rows, total, order } = await runRows(site, request)
  const entries = await table.entries(rows)
  const { steps, examined, bytes } = table.run
  const isScan = request.condition !== undefined && examined > 0 && steps.length === 0
  return { entries, total, plan: { steps, order, examined, isScan, bytes } }
}

/** Refuses what is no number of entries. */
export function checkCounts(request: Pick<QueryRequest, 'limit' | 'offset'>): void {
  for (const name of ['limit', 'offset'] as const) checkCount(name, request[name] ?? 0, 0)
}

/** Refuses what is no whole number, or too small. */
export function checkCount(name: string, value: number, minimum: number): void {
  if (!Number.isSafeInteger(value) || value < minimum)
    throw new QueryError(`${name} must be a whole number from ${minimum}, not ${value}`)
}

import type { ConditionTree, SortKey } from './condition.ts'
import { estimateRows, findRows } from './find-rows.ts'
import { QueryError } from './handles.ts'
import type { Site } from './open-site.ts'
import { orderRows, prefetchOrder } from './order-rows.ts'
import { toPositive } from './positive.ts'
import { intersectRows, type RowSet } from './row-set.ts'
import { entriesAt, openFor, type PlanStep, type Run, shapeFor, startRun } from './run.ts'
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

/** Rows that a query gave, with what is needed to go on with them. */
export interface QueryRows {
  readonly run: Run
  /** Rows in order, within limit and offset. */
  readonly rows: readonly number[] | Int32Array
  readonly total: number
  readonly order: string | undefined
  /** A score a row of the collection, where something was searched for. */
  readonly scores?: Float32Array | undefined
  /** The words that were found, folded, where something was searched for. */
  readonly words?: ReadonlySet<string> | undefined
}

/** The rows that match, in the order of the collection, and how well where something was searched for. */
export async function matchRows(
  run: Run,
  { collection: name, condition, search }: Pick<QueryRequest, 'collection' | 'condition' | 'search'>,
): Promise<{ rows: RowSet; scores?: Float32Array; words?: ReadonlySet<string> }> {
  const rows = await findRows(run, name, condition && toPositive(condition))
  if (search === undefined) return { rows }
  // Several questions of one query, such as facets, search once.
  run.searched ??= import('./search.ts').then(async (module) =>
    module.searchRows(run, await openFor(run, name), search),
  )
  const { rows: found, scores, words } = await run.searched
  const part: ConditionTree = { kind: 'test', path: ['search'], operator: 'hasWords', values: [search] }
  run.steps.push({ part, index: `${name}.search`, rows: found.length })
  return { rows: intersectRows(rows, found), scores, words }
}

/** Answers a query with rows. */
export async function runRows(site: Site, request: QueryRequest): Promise<QueryRows> {
  const { collection: name, sort = [], limit, offset = 0, locale } = request
  checkCount('limit', limit)
  checkCount('offset', offset)
  const run = startRun(site, locale)
  const shape = shapeFor(run, name)
  const collection = await openFor(run, name)
  const end = limit === undefined ? undefined : offset + limit
  const ordering = { run, collection, shape, keys: sort, wanted: end }
  const positive = request.condition && toPositive(request.condition)
  if (limit !== 0) prefetchOrder(positive ? estimateRows(run, collection, positive) : collection.count, ordering)
  const { rows: found, scores, words } = await matchRows(run, request)
  const total = found.length
  if (limit === 0) return { run, rows: [], total, order: undefined }
  if (scores && sort.length === 0) {
    const { orderByScore } = await import('./search.ts')
    return { run, rows: orderByScore(found, scores, end).slice(offset, end), total, order: undefined, scores, words }
  }
  const { rows, index } = await orderRows(found, ordering)
  return {
    run,
    rows: offset === 0 && end === undefined ? rows : rows.slice(offset, end),
    total,
    order: index,
    scores,
    words,
  }
}

/** Answers a query with the indexes that help. */
export async function runQuery(site: Site, request: QueryRequest): Promise<QueryResult> {
  const { run, rows, total, order } = await runRows(site, request)
  const entries = await entriesAt(run, await openFor(run, request.collection), rows)
  const { steps, examined, bytes } = run
  const isScan = request.condition !== undefined && examined > 0 && steps.length === 0
  return { entries, total, plan: { steps, order, examined, isScan, bytes } }
}

/** Refuses what is no number of entries. */
export function checkCount(name: string, value: number | undefined): void {
  if (value === undefined || (Number.isSafeInteger(value) && value >= 0)) return
  throw new QueryError(`${name} must be a whole number from 0, not ${value}`)
}

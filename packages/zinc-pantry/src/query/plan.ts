import type { LazyResult } from './lazy-results.ts'
import type { Site } from './open-site.ts'
import type { QueryRequest } from './query-request.ts'
import type { PlanStep } from './run.ts'
import type { StoredValue } from './shape.ts'

/** How a query was answered. */
export interface QueryPlan {
  /** Which index served which part of the condition. */
  readonly steps: readonly PlanStep[]
  /** The index that gave the order, where one did, as `collection.path`. */
  readonly order: string | undefined
  /** Entries on which the condition was tested; 0 where indexes told all. */
  readonly examined: number
  /** Entries that were put in order by their own values; 0 where an index gave the order. */
  readonly sorted: number
  /** True where more than indexes was read: entries were tested, or more were put in order than are given. */
  readonly isScan: boolean
  /** Bytes of data that were read; what was there before is not counted. */
  readonly bytes: number
}

/** The result of a query. */
export interface QueryResult {
  readonly entries: readonly StoredValue[]
  /** Entries that match, before limit and offset. */
  readonly total: number
  readonly plan: QueryPlan
}

/** Answers a query, and says how. */
export async function answerQuery(site: Site, request: QueryRequest): Promise<QueryResult> {
  const { table, rows, total, order } = await site.internals.runRows(site, request)
  const entries = await table.entries(rows)
  const { steps, examined, sorted, bytes } = table.run
  const isScan = examined > 0 || sorted > entries.length
  return { entries, total, plan: { steps, order, examined, sorted, isScan, bytes } }
}

/** How a query is answered. */
export const plan: LazyResult<'plan'> = async ({ site, settings }) => (await answerQuery(site, settings)).plan

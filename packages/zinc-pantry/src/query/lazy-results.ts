import type { Site } from './open-site.ts'
import type { QuerySettings } from './query-request.ts'
import type { Query } from './query-types.ts'
import type { Table } from './run.ts'

/** The results of a query that are loaded when they are first asked for, so that a page loads what it asks for only. */
export type LazyResultName =
  | 'distinct'
  | 'facets'
  | 'range'
  | 'statistics'
  | 'groupBy'
  | 'page'
  | 'neighbours'
  | 'pages'
  | 'related'
  | 'hits'
  | 'completions'
  | 'correction'
  | 'plan'

/** A query as what gives a result sees it. */
export interface Asked {
  readonly site: Site
  readonly settings: QuerySettings
  /** The handles of the fields. */
  readonly fields: unknown
  /** Opens the collection for a new run. */
  open(): Promise<Table>
}

/** Gives a result of a query. */
export type LazyResult<Name extends LazyResultName> = (
  asked: Asked,
  ...given: Parameters<Query<unknown, unknown>[Name]>
) => ReturnType<Query<unknown, unknown>[Name]>

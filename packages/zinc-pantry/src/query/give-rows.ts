import type { Site } from './open-site.ts'
import { pickValues } from './pick.ts'
import { entriesAt, openFor, type Run, shapeFor } from './run.ts'
import { type QueryRequest, runRows } from './run-query.ts'

/** What was said of a query so far. */
export interface Settings extends QueryRequest {
  /** What to give instead of entries. */
  readonly spec?: unknown
}

/** Gives what rows stand for: their entries, or what is picked of them. */
export async function giveRows(run: Run, rows: Iterable<number>, { collection, spec }: Settings): Promise<unknown[]> {
  const entries = await entriesAt(run, await openFor(run, collection), rows)
  return spec === undefined ? entries : pickValues(run, entries, { shape: shapeFor(run, collection), spec })
}

/** Answers a query with what its rows stand for. */
export async function fetchAll(site: Site, settings: Settings): Promise<unknown[]> {
  const { run, rows } = await runRows(site, settings)
  return giveRows(run, rows, settings)
}

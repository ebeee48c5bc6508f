import { type Keep, singleIndex } from './open-collection.ts'
import type { Site } from './open-site.ts'
import type { Table } from './run.ts'
import { checkCounts, type QueryRequest, runRows } from './run-query.ts'
import { SIDES } from './test-value.ts'

/** What was said of a query so far. */
export interface Settings extends QueryRequest {
  /** What to give instead of entries. */
  readonly spec?: unknown
}

/** What rows stand for: their entries, or what is picked of them. */
export async function giveRows(table: Table, rows: ArrayLike<number>, spec: unknown): Promise<readonly unknown[]> {
  const entries = await table.entries(rows)
  return spec === undefined ? entries : (await import('./pick.ts')).pickValues(table, entries, spec)
}

/** Answers a query with what its rows stand for. */
export async function fetchAll(site: Site, settings: Settings): Promise<readonly unknown[]> {
  const now = fetchNow(site, settings)
  if (now) return now
  const { table, rows } = await runRows(site, settings)
  return giveRows(table, rows, settings.spec)
}

/** A frozen array would be slow to copy. */
const asTheyAre: Keep = (entries) => entries

/** Answers a question for one field at once, where its index and the entries are there; no more can be asked of many. */
function fetchNow(
  site: Site,
  { collection: name, condition, sort = [], search, spec, locale = site.locales[0], limit, offset = 0 }: Settings,
): readonly unknown[] | undefined {
  const collection = site.opened(name)
  if (!collection || condition?.kind !== 'test' || (search ?? spec ?? sort[1] ?? collection.view(locale)) !== undefined)
    return undefined
  const { path, operator } = condition
  const index = SIDES[operator] && singleIndex(collection, path)
  const pieces = index?.findNow(condition)
  if (!index || !pieces) return undefined
  checkCounts({ limit, offset })
  let found: readonly unknown[] | undefined
  const [key] = sort
  if (key) {
    if (key.path.join() !== path.join() || key.direction !== 'ascending' || key.collation || key.absent)
      return undefined
    for (const [, from, to, block] of pieces) {
      // Copied from the entries of the blocks of the index, which are kept in its order.
      const { rows = [], starts = [] } = block ?? {}
      const part = collection.rowsNow(rows, asTheyAre)?.slice(starts[from], starts[to])
      if (!part) return undefined
      found = found ? found.concat(part) : part
    }
  } else found = collection.rowsNow(index.rowsOf(condition, pieces), operator === 'is' ? Object.freeze : undefined)
  return limit === undefined && offset === 0 ? found : found?.slice(offset, offset + (limit ?? found.length))
}

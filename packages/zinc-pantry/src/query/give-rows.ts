import { type OpenCollection, singleIndex } from './open-collection.ts'
import type { Site } from './open-site.ts'
import type { Run } from './run.ts'
import { checkCounts, type QueryRequest, runRows } from './run-query.ts'
import { NEGATIVE } from './test-value.ts'

/** What was said of a query so far. */
export interface Settings extends QueryRequest {
  /** What to give instead of entries. */
  readonly spec?: unknown
}

/** What rows stand for: their entries, or what is picked of them. */
export async function giveRows(
  {
    run,
    collection,
    rows,
  }: { readonly run: Run; readonly collection: OpenCollection; readonly rows: ArrayLike<number> },
  spec: unknown,
): Promise<readonly unknown[]> {
  const entries = await collection.loadRows(rows, run.read)
  if (spec === undefined) return entries
  const { pickValues } = await import('./pick.ts')
  return pickValues(run, entries, { shape: collection.shape, spec })
}

/** Answers a query with what its rows stand for. */
export async function fetchAll(site: Site, settings: Settings): Promise<readonly unknown[]> {
  return fetchNow(site, settings) ?? giveRows(await runRows(site, settings), settings.spec)
}

/** Answers a question for one field at once, where its index and the entries are there; no more can be asked of many. */
function fetchNow(
  site: Site,
  { collection: name, condition, sort = [], search, spec, locale = site.locales[0], limit, offset = 0 }: Settings,
): readonly unknown[] | undefined {
  const collection = site.opened(name)
  if (!collection || condition?.kind !== 'test' || (search ?? spec) !== undefined || collection.view(locale))
    return undefined
  const { path, operator } = condition
  const index = NEGATIVE[operator] || operator === 'hasWords' ? undefined : singleIndex(collection, path)
  if (!index || sort.length > 1) return undefined
  checkCounts({ limit, offset })
  let found: readonly unknown[] | undefined
  const [key] = sort
  if (key) {
    if (key.path.join() !== path.join() || key.direction !== 'ascending' || key.collation || key.absent) return undefined
    for (const [rows, from, to] of index.findOrdered(condition) ?? []) {
      // Copied from the entries of the blocks of the index, which are kept in its order.
      const part = collection.rowsNow(rows, true)?.slice(from, to)
      if (!part) return undefined
      found = found ? found.concat(part) : part
    }
  } else {
    const rows = index.findNow(condition)
    found = rows && Object.freeze(collection.rowsNow(rows, operator === 'is'))
  }
  return limit === undefined && offset === 0 ? found : found?.slice(offset, offset + (limit ?? found.length))
}

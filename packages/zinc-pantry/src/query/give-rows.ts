import type { FieldIndex, OrderedRows } from './field-index.ts'
import type { OpenCollection } from './open-collection.ts'
import type { Site } from './open-site.ts'
import { entriesAt, openFor, type Run, shapeFor } from './run.ts'
import { checkCount, type QueryRequest, runRows } from './run-query.ts'
import { isOwnValue } from './select-values.ts'
import type { Shape } from './shape.ts'
import { NEGATIVE, type ValueQuestion } from './test-value.ts'

/** What was said of a query so far. */
export interface Settings extends QueryRequest {
  /** What to give instead of entries. */
  readonly spec?: unknown
}

/** Gives what rows stand for: their entries, or what is picked of them. */
export async function giveRows(
  run: Run,
  rows: Iterable<number>,
  { collection, spec }: Settings,
): Promise<readonly unknown[]> {
  const entries = await entriesAt(run, await openFor(run, collection), rows)
  if (spec === undefined) return entries
  const { pickValues } = await import('./pick.ts')
  return pickValues(run, entries, { shape: shapeFor(run, collection), spec })
}

/** Answers a query with what its rows stand for. */
export async function fetchAll(site: Site, settings: Settings): Promise<readonly unknown[]> {
  const quick = settings.spec === undefined ? fetchNow(site, settings) : undefined
  if (quick) return quick
  const { run, rows } = await runRows(site, settings)
  return giveRows(run, rows, settings)
}

/** Answers a question for one field at once, where its index and the entries are there; no more can be asked of many. */
function fetchNow(
  site: Site,
  { collection: name, condition, sort = [], search, ...rest }: Settings,
): readonly unknown[] | undefined {
  const collection = site.opened(name)
  if (!collection || condition?.kind !== 'test' || search !== undefined || sort.length > 1) return undefined
  const { path, operator } = condition
  const shape = site.shapes.get(name) as Shape
  if (
    NEGATIVE[operator] ||
    operator === 'hasWords' ||
    collection.view(rest.locale ?? site.locales[0]) ||
    !isOwnValue(shape, path)
  )
    return undefined
  const index = collection.index(path.join('.'))
  const [key] = sort
  const isOrder = key?.path.join() === path.join() && key.direction === 'ascending' && !key.collation && !key.absent
  if (!index || (key && !isOrder)) return undefined
  const { limit, offset = 0 } = rest
  checkCount('limit', limit)
  checkCount('offset', offset)
  const found = key ? takeOrdered(index.findOrdered(condition), collection) : takeFound(index, condition, collection)
  return limit === undefined && offset === 0 ? found : found?.slice(offset, offset + (limit ?? found.length))
}

function takeFound(
  index: FieldIndex,
  asked: ValueQuestion,
  collection: OpenCollection,
): readonly unknown[] | undefined {
  const rows = index.find(asked, () => Promise.reject())
  if (!(rows instanceof Promise)) return Object.freeze(collection.rowsNow(rows, asked.operator === 'is'))
  // What is not there is loaded by the usual way.
  rows.catch(() => undefined)
  return undefined
}

/** Entries in the order of an index: copied from those of its blocks, which are kept in that order. */
function takeOrdered(
  parts: readonly OrderedRows[] | undefined,
  collection: OpenCollection,
): readonly unknown[] | undefined {
  const found = parts?.map(([rows, from, to]) => collection.rowsNow(rows, true)?.slice(from, to))
  if (!found || found.includes(undefined)) return undefined
  return found.length === 1 ? found[0] : found.flat()
}

import type { Scalar } from './condition.ts'
import type { FieldIndex } from './field-index.ts'
import type { OpenCollection } from './open-collection.ts'
import type { Site } from './open-site.ts'
import type { QuerySettings } from './query-request.ts'
import type { Table } from './run.ts'
import { runRows } from './run-query.ts'
import { BOUNDS, type ValueQuestion } from './test-value.ts'

/** The results of rows: their entries, or values that are picked of them. */
export async function giveRows(table: Table, rows: ArrayLike<number>, spec: unknown): Promise<readonly unknown[]> {
  const entries = await table.entries(rows)
  return spec === undefined ? entries : (await import('./pick.ts')).pickValues(table, entries, spec)
}

/** Answers a query with what its rows stand for. */
export async function fetchAll(site: Site, settings: QuerySettings): Promise<readonly unknown[]> {
  const now = fetchNow(site, settings)
  if (now) return now
  const { table, rows } = await runRows(site, settings)
  return giveRows(table, rows, settings.spec)
}

/**
 * Answers a question for one field at once, where its index and the entries are there; no more can be asked of many.
 */
function fetchNow(
  site: Site,
  { collection: name, condition, sort = [], search, spec, locale = site.locales[0], limit, offset }: QuerySettings,
): readonly unknown[] | undefined {
  const collection = site.opened(name)
  const [key, more] = sort
  if (
    !collection ||
    condition?.kind !== 'test' ||
    (search ?? spec ?? more ?? limit ?? offset ?? collection.view(locale)) !== undefined
  )
    return undefined
  const { path, operator } = condition
  const index = BOUNDS[operator] && collection.singleIndex(path)
  if (!index) return undefined
  const asked = { collection, index, condition }
  if (!key) return operator === 'is' ? fetchEqual(asked) : fetchRows(asked)
  // Handles give the same path every time.
  const isOwn = key.path === path && key.direction === 'ascending' && !key.collation && !key.absent
  return isOwn ? fetchInOrder(asked) : undefined
}

interface Asked {
  readonly collection: OpenCollection
  readonly index: FieldIndex
  readonly condition: ValueQuestion
}

/** Entries with a value; the same list is given whenever they are asked for. */
function fetchEqual(asked: Asked): readonly unknown[] | undefined {
  const { answers } = asked.index
  const value = asked.condition.values[0] as Scalar
  const known = answers.get(value)
  if (known) return known
  const found = fetchRows(asked)
  // Values that no entry has are without number.
  if (found && found.length > 0) answers.set(value, Object.freeze(found))
  return found
}

function fetchRows({ collection, index, condition }: Asked): readonly unknown[] | undefined {
  const ranges = index.findNow(condition)
  return ranges && collection.rowsNow(index.rowsOf(condition, ranges))
}

/** Entries in the order of the index: copied from those of its blocks, which are kept in that order. */
function fetchInOrder({ collection, index, condition }: Asked): readonly unknown[] | undefined {
  let found: readonly unknown[] | undefined
  for (const [, from, to, block] of index.findNow(condition) ?? []) {
    const { rows = [], offsets = [] } = block ?? {}
    const part = collection.rowsNow(rows, true)?.slice(offsets[from], offsets[to])
    if (!part) return undefined
    found = found ? found.concat(part) : part
  }
  return found
}

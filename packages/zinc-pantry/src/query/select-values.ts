import type { Scalar } from './condition.ts'
import { readPath } from './evaluate.ts'
import { type OpenCollection, seenRows } from './open-collection.ts'
import type { RowSet } from './row-set.ts'
import type { Run } from './run.ts'
import type { Shape } from './shape.ts'

/**
 * Reads the value at a path of every one of some values: through groups, into the entries that references lead to, and
 * of every item of a list, which gives a list. Null where the way ends early.
 */
export async function selectValues(
  run: Run,
  values: readonly unknown[],
  { shape, path }: { readonly shape: Shape; readonly path: readonly string[] },
): Promise<unknown[]> {
  if (path.length === 0) return values.map((value) => value ?? null)
  if (shape.kind === 'list') {
    return throughLists(values, (items) => selectValues(run, items, { shape: shape.item as Shape, path }))
  }
  if (shape.kind === 'ref') {
    const collection = await run.open(shape.target ?? '')
    const wanted = [...new Set(values)].filter((id): id is string => typeof id === 'string')
    const entries = await collection.loadRows(await findById(run, collection, wanted), run.read)
    const byId = new Map<unknown, unknown>(entries.map((entry) => [entry.id, entry]))
    return selectValues(
      run,
      values.map((id) => byId.get(id)),
      { shape: collection.shape, path },
    )
  }
  const [name = '', ...rest] = path
  const inner = shape.fields?.[name] ?? { kind: 'text' }
  return selectValues(
    run,
    values.map((value) => readPath(value, [name])),
    { shape: inner, path: rest },
  )
}

/** Does some work on the items of lists, all at once, and gives lists of what came of them; null where there is none. */
export async function throughLists(
  lists: readonly unknown[],
  work: (items: readonly unknown[]) => Promise<readonly unknown[]>,
): Promise<(readonly unknown[] | null)[]> {
  const found = await work(lists.flatMap((list) => (Array.isArray(list) ? list : [])))
  let at = 0
  return lists.map((list) => {
    if (!Array.isArray(list)) return null
    at += list.length
    return found.slice(at - list.length, at)
  })
}

/** The rows of ids. */
export async function findById(
  { locale, read }: Run,
  collection: OpenCollection,
  values: readonly Scalar[],
  key = 'id',
): Promise<RowSet> {
  const rows = await collection.index([key])?.find({ operator: 'isOneOf', values }, read)
  return seenRows(collection, locale, rows ?? new Int32Array())
}

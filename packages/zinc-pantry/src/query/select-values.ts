import type { Scalar } from './condition.ts'
import { readPath } from './evaluate.ts'
import { entriesAt, openFor, type Run, seenRows, shapeFor } from './run.ts'
import { followPath, type Shape, type StoredValue } from './shape.ts'

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
    const { target = '' } = shape
    const entries = await entriesById(run, target, values)
    const found = values.map((id) => entries.get(id as string))
    return selectValues(run, found, { shape: shapeFor(run, target), path })
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

/** Entries of a collection by their ids, as the language of the query has them. */
async function entriesById(run: Run, name: string, ids: Iterable<unknown>): Promise<Map<string, StoredValue>> {
  const collection = await openFor(run, name)
  const wanted = [...new Set(ids)].filter((id): id is string => typeof id === 'string')
  const rows = wanted.length === 0 ? undefined : await findById(run, name, wanted)
  const entries = rows ? await entriesAt(run, collection, rows) : []
  return new Map(entries.map((entry) => [String(entry.id), entry]))
}

/** The rows of ids. */
export async function findById(run: Run, name: string, ids: readonly Scalar[], key = 'id') {
  const collection = await openFor(run, name)
  const rows = await collection.index(key)?.find({ operator: 'isOneOf', values: ids }, collection.loader(run.read))
  return rows && seenRows(run, collection, rows)
}

/** True for a path to a single value of the entry itself. */
export function isOwnValue(shape: Shape, path: readonly string[]): boolean {
  const { end, crossing, isSingle } = followPath(shape, path)
  return !crossing && isSingle && end.kind !== 'list' && end.kind !== 'group'
}

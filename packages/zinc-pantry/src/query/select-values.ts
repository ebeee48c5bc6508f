import type { Scalar } from './condition.ts'
import { seenRows } from './find-rows.ts'
import type { PostingList } from './posting-list.ts'
import { createReader } from './read-path.ts'
import type { Run, Table } from './run.ts'
import { type Shape, type Shapes, stepInto } from './shape.ts'

/** Values of one shape; a table is that of its entries. */
export interface Place {
  readonly run: Run
  readonly shape: Shape
}

/** References are followed before their names are asked for. */
const NONE: Shapes = new Map()

/**
 * Reads the value at a path of every one of some values: through groups, into the entries that references lead to, and
 * of every item of a list, which gives a list. Null where the way ends early.
 */
export async function selectValues(
  { run, shape }: Place,
  values: readonly unknown[],
  path: readonly string[],
): Promise<unknown[]> {
  const [name, ...rest] = path
  if (name === undefined) return values.map((value) => value ?? null)
  const many = stepInto(shape, name, NONE)
  if (shape.kind === 'list' && !many)
    return throughLists(values, (items) => selectValues({ run, shape: shape.item }, items, path))
  if (shape.kind === 'ref') {
    return throughEntries(run, shape.target, values, path)
  }
  if (shape.kind === 'group' && shape.targets && !Object.hasOwn(shape.fields, name)) {
    const { throughAddresses } = await import('./addresses.ts')
    return throughAddresses(shape.targets, values, (target, ids) => throughEntries(run, target, ids, path))
  }
  const inner = { run, shape: many ?? { kind: 'text' } }
  return selectValues(inner, values.map(await createReader([name])), rest)
}

/** Reads the value at a path of the entries that ids lead to. */
async function throughEntries(
  run: Run,
  target: string,
  values: readonly unknown[],
  path: readonly string[],
): Promise<unknown[]> {
  const ids = [...new Set(values)].filter((id): id is string => typeof id === 'string')
  // Of a collection that nobody leads to nothing need be loaded.
  if (ids.length === 0) return values.map(() => null)
  const table = await run.open(target)
  const entries = await table.entries(await findById(table, ids))
  const byId = new Map<unknown, unknown>(entries.map((entry) => [entry.id, entry]))
  return selectValues(
    table,
    values.map((id) => byId.get(id)),
    path,
  )
}

/**
 * Does some work on the items of lists, all at once, and gives lists of what came of them; null where there is none.
 */
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

/** The single values in what was found at a path. */
export const singleValues = (found: unknown): Scalar[] =>
  [found].flat(Number.POSITIVE_INFINITY).filter((value): value is Scalar => value !== null && typeof value !== 'object')

/** The rows of ids. */
export async function findById(table: Table, values: readonly Scalar[], key = 'id'): Promise<PostingList> {
  const rows = await table.index([key])?.find({ operator: 'isOneOf', values }, table.run.read)
  return seenRows(table, rows ?? new Int32Array())
}

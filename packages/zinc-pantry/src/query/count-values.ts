import type { ConditionTree, Scalar } from './condition.ts'
import { compareScalars } from './order-rows.ts'
import { markRows, type RowSet } from './row-set.ts'
import { entriesAt, openFor, type Run, shapeFor } from './run.ts'
import { matchRows } from './run-query.ts'
import { selectValues } from './select-values.ts'
import { followPath, type Shape } from './shape.ts'

/** A value and how many entries have it. */
export interface ValueCount<Value = Scalar> {
  readonly value: Value
  readonly count: number
}

/** The values that are asked for, and among which entries. */
export interface ValueQuestion {
  readonly path: readonly string[]
  readonly condition: ConditionTree | undefined
  /** Words that were searched for. */
  readonly search?: string | undefined
}

/** Counts the entries of each value at a path under a condition; the most frequent first. */
export async function countValues(
  run: Run,
  name: string,
  { path, condition, search }: ValueQuestion,
): Promise<ValueCount[]> {
  const shape = shapeFor(run, name)
  const collection = await openFor(run, name)
  const { crossing, isSingle } = followPath(shape, path)
  const own = crossing ? crossing.before : path
  const index = collection.index(own.join('.'))
  const loader = collection.loader(run.read)
  const [{ rows }] = await Promise.all([
    matchRows(run, { collection: name, condition, search }),
    (condition || search) && index?.all(loader),
  ])
  if (!index || (crossing && !isSingle)) return sortCounts(await countByRows(run, rows, { name, shape, path }))
  const counts = new Map<Scalar, number>()
  if (rows.length === collection.count && index.counts)
    for (const { value, count } of index.counts) counts.set(value, count)
  else {
    const marks = markRows(rows, collection.count)
    for (const { value, rows: own } of await index.all(loader)) {
      let count = 0
      for (const row of own) count += marks[row] as number
      counts.set(value, count)
    }
  }
  return sortCounts(crossing ? await mapIds(run, counts, crossing) : counts)
}

/** The smallest and the largest value at a path under a condition; undefined where there is none. */
export async function findRange(
  run: Run,
  name: string,
  asked: ValueQuestion,
): Promise<{ minimum: Scalar; maximum: Scalar } | undefined> {
  const { path, condition, search } = asked
  const collection = await openFor(run, name)
  const index = followPath(shapeFor(run, name), path).crossing ? undefined : collection.index(path.join('.'))
  if (!index) {
    const values = (await countValues(run, name, asked)).map(({ value }) => value).sort(compareScalars)
    return values.length === 0 ? undefined : { minimum: values[0] as Scalar, maximum: values.at(-1) as Scalar }
  }
  const { rows } = await matchRows(run, { collection: name, condition, search })
  const marks = markRows(rows, collection.count)
  const firstOf = async (direction: 'ascending' | 'descending'): Promise<Scalar | undefined> => {
    for await (const groups of index.walk(direction, collection.loader(run.read)))
      for (const { value, rows: own } of groups) if (own.some((row) => marks[row] === 1)) return value
    return undefined
  }
  const minimum = await firstOf('ascending')
  return minimum === undefined ? undefined : { minimum, maximum: (await firstOf('descending')) as Scalar }
}

/** Counts of ids as counts of what is found in their entries. */
async function mapIds(
  run: Run,
  counts: ReadonlyMap<Scalar, number>,
  { target, after }: { readonly target: string; readonly after: readonly string[] },
): Promise<Map<Scalar, number>> {
  const ids = [...counts.keys()]
  const found = await selectValues(run, ids, { shape: { kind: 'ref', target }, path: after })
  const mapped = new Map<Scalar, number>()
  for (const [at, id] of ids.entries())
    for (const value of new Set(singleValues(found[at])))
      mapped.set(value, (mapped.get(value) ?? 0) + (counts.get(id) ?? 0))
  return mapped
}

async function countByRows(
  run: Run,
  rows: RowSet,
  { name, shape, path }: { readonly name: string; readonly shape: Shape; readonly path: readonly string[] },
): Promise<Map<Scalar, number>> {
  const entries = await entriesAt(run, await openFor(run, name), rows)
  const counts = new Map<Scalar, number>()
  for (const found of await selectValues(run, entries, { shape, path }))
    for (const value of new Set(singleValues(found))) counts.set(value, (counts.get(value) ?? 0) + 1)
  return counts
}

/** The single values in what was found at a path. */
export const singleValues = (found: unknown): Scalar[] =>
  (Array.isArray(found) ? (found.flat(Number.POSITIVE_INFINITY) as unknown[]) : [found]).filter(
    (value): value is Scalar => value !== null && typeof value !== 'object',
  )

const sortCounts = (counts: ReadonlyMap<Scalar, number>): ValueCount[] =>
  [...counts]
    .filter(([, count]) => count > 0)
    .map(([value, count]) => ({ value, count }))
    .sort((a, b) => b.count - a.count || compareScalars(a.value, b.value))

/** A condition without those of its parts that ask for nothing but a path, so that a facet shows what else there is. */
export function withoutPath(tree: ConditionTree | undefined, path: readonly string[]): ConditionTree | undefined {
  if (tree?.kind === 'and') {
    const parts = tree.parts.flatMap((part) => withoutPath(part, path) ?? [])
    return parts.length > 0 ? { kind: 'and', parts } : undefined
  }
  return tree && !isAbout(tree, path.join('.'), []) ? tree : undefined
}

function isAbout(tree: ConditionTree, path: string, above: readonly string[]): boolean {
  if ('parts' in tree) return tree.parts.every((part) => isAbout(part, path, above))
  if (tree.kind === 'not') return isAbout(tree.part, path, above)
  const full = [...above, ...tree.path]
  return tree.kind === 'test' ? full.join('.') === path : isAbout(tree.part, path, full)
}

import type { ConditionTree, Scalar } from './condition.ts'
import type { Internals } from './internals.ts'
import type { Table } from './run.ts'
import type { Crossing, Shape } from './shape.ts'

/** A value and how many entries have it. */
export interface ValueCount<Value = Scalar> {
  readonly value: Value
  readonly count: number
}

/** Counts of ids, each with the value of a field of the entry that it leads to. */
export async function labelCounts(
  { run }: Pick<Table, 'run'>,
  counts: readonly ValueCount[],
  { shape, path }: { readonly shape: Shape; readonly path: readonly string[] },
): Promise<(ValueCount & { readonly label: Scalar | null })[]> {
  const { selectValues, singleValues } = run.internals
  const ids = counts.map(({ value }) => value)
  const found = await selectValues({ run, shape }, ids, path)
  return counts.map((one, at) => ({ ...one, label: singleValues(found[at])[0] ?? null }))
}

/** The values that are asked for, and among which entries. */
export interface ValueQuestion {
  readonly path: readonly string[]
  readonly condition?: ConditionTree | undefined
  /** Words that were searched for. */
  readonly search?: string | undefined
}

/** Counts the entries of each value at a path under a condition; the most frequent first. */
export async function countValues(table: Table, asked: ValueQuestion): Promise<ValueCount[]> {
  const { run, count: all } = table
  const { compareScalars, followPath, isComputed, markRows, matchRows, selectValues, singleValues } = run.internals
  const { crossing, isSingle } = followPath(table.shape, asked.path)
  const { before, after, target = '', targets }: Crossing = crossing ?? { before: asked.path, after: [] }
  const index = crossing && (!isSingle || targets) ? undefined : table.index(before)
  if (!index && !crossing && isComputed(asked.path)) {
    const ofRows = await countTogether(table, { ...asked, paths: [asked.path] })
    return ofRows.flatMap(countOfValue)
  }
  const inCube = await countedInCube(table, asked, [asked.path])
  if (inCube) return inCube.flatMap(countOfValue).sort((a, b) => b.count - a.count || compareScalars(a.value, b.value))
  const isPart = (asked.condition ?? asked.search) !== undefined
  const [{ rows }] = await Promise.all([matchRows(table, asked), isPart && index?.all(run.read)])
  const counts = new Map<Scalar, number>()
  const add = (found: unknown, count: number): void => {
    if (count > 0) for (const value of new Set(singleValues(found))) counts.set(value, (counts.get(value) ?? 0) + count)
  }
  if (!index) {
    for (const found of await selectValues(table, await table.entries(rows), asked.path)) add(found, 1)
  } else {
    const marks = markRows(rows, all)
    const own =
      (rows.length === all ? await index.counts(run.read) : undefined) ??
      (await index.all(run.read)).map(({ value, rows: some }) => {
        let count = 0
        for (const row of some) count += marks[row] as number
        return [value, count] as const
      })
    // Counts of ids are those of what is found in their entries.
    const ids = own.map(([value]) => value)
    const found = await selectValues({ run, shape: { kind: 'ref', target } }, ids, after)
    for (const [at, [, count]] of own.entries()) add(found[at], count)
  }
  return [...counts]
    .map(([value, count]) => ({ value, count }))
    .sort((a, b) => b.count - a.count || compareScalars(a.value, b.value))
}

/** The count of the only value of a combination; none where the entries have no value. */
const countOfValue = ({ value: [value], count }: ValueCount<readonly (Scalar | null)[]>): readonly ValueCount[] =>
  value === null || value === undefined ? [] : [{ value, count }]

/** The same from the cube of the collection, where that answers. */
async function countedInCube(
  table: Table,
  { condition, search }: Pick<ValueQuestion, 'condition' | 'search'>,
  paths: readonly (readonly string[])[],
): Promise<ValueCount<readonly (Scalar | null)[]>[] | undefined> {
  // Of all rows the index of a path knows the counts.
  const isOfAll = condition === undefined && paths.length === 1
  if (!table.cube || search !== undefined || isOfAll) return undefined
  const { countValuesInCube, isInCube } = await import('./cube.ts')
  return isInCube(table, condition, paths) ? countValuesInCube(table, condition, paths) : undefined
}

/** Counts the entries of each combination of values at some paths under a condition; the most frequent first. */
export async function countTogether(
  table: Table,
  { paths, ...asked }: Omit<ValueQuestion, 'path'> & { readonly paths: readonly (readonly string[])[] },
): Promise<ValueCount<readonly (Scalar | null)[]>[]> {
  const { compareTogether, groupTogether } = await import('./row-values.ts')
  const { compareScalars, matchRows } = table.run.internals
  let counts = await countedInCube(table, asked, paths)
  if (!counts) {
    const { rows } = await matchRows(table, asked)
    const groups = await groupTogether(table, paths, rows)
    counts = groups.map(({ values, places }) => ({ value: values, count: places.length }))
  }
  return counts.sort((a, b) => b.count - a.count || compareTogether(a.value, b.value, compareScalars))
}

/** A condition without those of its parts that ask for nothing but a path, so that a facet shows what else there is. */
export function withoutPath(
  tree: ConditionTree | undefined,
  path: readonly string[],
  internals: Internals,
): ConditionTree | undefined {
  if (tree?.kind === 'and') {
    const parts = tree.parts.flatMap((part) => withoutPath(part, path, internals) ?? [])
    return parts.length > 0 ? { kind: 'and', parts } : undefined
  }
  const name = path.join('.')
  return tree && !internals.everyTest(tree, (tested) => tested.join('.') === name) ? tree : undefined
}

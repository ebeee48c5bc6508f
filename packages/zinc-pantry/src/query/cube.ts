import type { StoredCluster } from './catalogue.ts'
import type { ConditionTree, Scalar, SortKey } from './condition.ts'
import type { Cube } from './cube-format.ts'
import type { QueryRequest } from './query-request.ts'
import type { Table } from './run.ts'
import type { StoredValue } from './shape.ts'

/** A cell of a cube: an entry that stands for all in it, as far as their fields go, and how many there are. */
interface Cell {
  readonly entry: StoredValue
  readonly count: number
}

/** How many rows have some values together. */
interface CellCount {
  readonly value: readonly (Scalar | null)[]
  readonly count: number
}

/** True where the cube of a collection answers for a condition, and for some paths. */
export function isInCube(
  { cube, view, run }: Table,
  condition: ConditionTree | undefined,
  paths: readonly (readonly string[])[] = [],
): boolean {
  if (!cube || view(run.locale) !== undefined) return false
  const isKnown = (path: readonly string[]): boolean => cube.paths.includes(path.join('.'))
  return paths.every(isKnown) && (condition === undefined || run.internals.everyTest(condition, isKnown))
}

/** The cells in which a condition holds. */
async function cellsOf(table: Table, condition: ConditionTree | undefined): Promise<readonly Cell[]> {
  const { run, name } = table
  const cells = await table.keep('cube', async () => {
    const { paths, columns, counts } = (await table.load(table.cube?.chunk ?? '')) as Cube
    const steps = paths.map((path) => path.split('.'))
    return counts.map((count, cell) => {
      const entry: Record<string, unknown> = {}
      for (const [at, path] of steps.entries()) setAt(entry, path, columns[at]?.[cell] ?? null)
      return { entry, count }
    })
  })
  if (!condition) return cells
  const holds = await run.internals.compilePredicate(table, condition)
  const found = cells.filter(({ entry }) => holds(entry))
  run.steps.push({ part: condition, index: `${name}.cube`, rows: sumOf(found) })
  return found
}

function setAt(holder: Record<string, unknown>, [step = '', ...rest]: readonly string[], value: unknown): void {
  if (rest.length === 0) holder[step] = value
  else {
    holder[step] ??= {}
    setAt(holder[step] as Record<string, unknown>, rest, value)
  }
}

const sumOf = (cells: readonly Cell[]): number => cells.reduce((sum, { count }) => sum + count, 0)

/** How many rows pass a condition that {@link isInCube} is true for. */
const countInCube = async (table: Table, condition: ConditionTree | undefined): Promise<number> =>
  sumOf(await cellsOf(table, condition))

/** How many rows that pass a condition have each combination of values at some paths, in no order. */
export async function countValuesInCube(
  table: Table,
  condition: ConditionTree | undefined,
  paths: readonly (readonly string[])[],
): Promise<CellCount[]> {
  const { readPath } = table.run.internals
  const counts = new Map<string, { readonly value: CellCount['value']; count: number }>()
  for (const { entry, count } of await cellsOf(table, condition)) {
    const value = paths.map((path) => (readPath(entry, path) ?? null) as Scalar | null)
    const key = JSON.stringify(value)
    const known = counts.get(key)
    if (known) known.count += count
    else counts.set(key, { value, count })
  }
  return [...counts.values()]
}

/** Answers a query whose conditions are on fields of the cube: how many match, or a page that lies together in some order. */
export async function answerInCube(
  table: Table,
  { condition, sort = [], offset = 0, limit = 0 }: QueryRequest,
): Promise<{ readonly rows: readonly number[]; readonly total: number; readonly order?: string } | undefined> {
  if (!isInCube(table, condition)) return undefined
  if (limit === 0) return { rows: [], total: await countInCube(table, condition) }
  const found = await findStretch(table, condition, sort)
  if (!found) return undefined
  const { cluster, start, total } = found
  const { readPlaces } = await import('./cluster-rows.ts')
  const places = { start: start + Math.min(offset, total), end: start + Math.min(offset + limit, total) }
  const order = `${table.name}.${table.run.internals.nameOfSort(cluster.sort)}`
  return { rows: await readPlaces(table, cluster, places), total, order }
}

/** A stretch of an order in which rows are stored once more. */
interface CubeStretch {
  readonly cluster: StoredCluster
  readonly start: number
  readonly total: number
}

/**
 * The rows of a condition that gives single values for the first keys of an order in which rows are stored once more: they lie
 * together there, in the order of the other keys. Undefined where no such order is that which is asked for.
 */
async function findStretch(
  table: Table,
  condition: ConditionTree | undefined,
  sort: readonly SortKey[],
): Promise<CubeStretch | undefined> {
  const { compareEntries, nameOfSort, readPath } = table.run.internals
  const wanted = condition && valuesByPath(condition)
  if (!wanted || sort.some(({ absent }) => absent === 'first')) return undefined
  const isWanted = ({ path, collation }: SortKey): boolean => wanted.has(path.join('.')) && collation === undefined
  const cluster = table.clusters.find(
    (one) =>
      one.sort.slice(0, wanted.size).every(isWanted) && nameOfSort(one.sort.slice(wanted.size)) === nameOfSort(sort),
  )
  if (!cluster) return undefined
  const keys = cluster.sort.slice(0, wanted.size)
  const compare = compareEntries(keys)
  const own = keys.map(({ path }) => wanted.get(path.join('.')) as Scalar)
  let [start, total] = [0, 0]
  for (const { entry, count } of await cellsOf(table, undefined)) {
    const order = compare(
      keys.map(({ path }) => (readPath(entry, path) ?? null) as Scalar | null),
      own,
    )
    if (order < 0) start += count
    else if (order === 0) total += count
  }
  return { cluster, start, total }
}

/** The values by their paths of a condition that asks for single values of different fields; undefined for any other. */
function valuesByPath(condition: ConditionTree): ReadonlyMap<string, Scalar> | undefined {
  const tests = testsOf(condition)
  const values = new Map(tests.map(({ path, values: [value] }) => [path.join('.'), value as Scalar]))
  const isSingle = tests.length > 0 && tests.every(({ operator }) => operator === 'is') && values.size === tests.length
  return isSingle ? values : undefined
}

type Test = Extract<ConditionTree, { readonly kind: 'test' }>

/** The tests of which all must hold; none where the condition says anything else. */
function testsOf(condition: ConditionTree): readonly Test[] {
  if (condition.kind === 'test') return [condition]
  if (condition.kind !== 'and') return []
  const parts = condition.parts.map(testsOf)
  return parts.some(({ length }) => length === 0) ? [] : parts.flat()
}

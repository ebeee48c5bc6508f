import { isComputed } from '../values/computed-steps.ts'
import { KEYS_STEP } from '../values/steps.ts'
import type { ConditionTree, Scalar } from './condition.ts'
import { compileCondition, type Predicate } from './evaluate.ts'
import type { FieldIndex } from './field-index.ts'
import { type NormalForm, type OtherCollections, toNormalForm } from './negation-normal-form.ts'
import { allRows, keepMarked, markRows, type PostingList } from './posting-list.ts'
import type { Run, Table } from './run.ts'
import { followPath, type Shape } from './shape.ts'
import { compileTest, NEGATIVE, type ValueQuestion } from './test-value.ts'

/** The number of rows below which they are scanned rather than another index loaded. */
const FEW_ROWS = 32
/** Of so many rows an index is asked in any case. */
const MANY_ROWS = 500

/** The rows of a collection for which a condition holds, seen in the language of the query. */
export async function findRows(table: Table, condition?: ConditionTree): Promise<PostingList> {
  const { run } = table
  const local = condition && (await toNormalForm(condition, table.shape, othersOf(run)))
  const found = local ? await find(local, scopeOf(table)) : UNKNOWN
  const rows = seenRows(table, found.rows)
  if (!local || found.isExact) return rows
  const holds = compileCondition(local)
  run.examined += rows.length
  const entries = await table.entries(rows)
  return rows.filter((_, at) => holds(entries[at]))
}

/** Makes a function of a condition on values of one shape. */
export const compilePredicate = async (
  { run, shape }: { readonly run: Run; readonly shape: Shape },
  condition: ConditionTree,
): Promise<Predicate> => compileCondition(await toNormalForm(condition, shape, othersOf(run)))

/** What conditions ask of other collections in a run. */
const othersOf = (run: Run): OtherCollections => ({
  async findIds(target, asked) {
    const other = await run.open(target)
    return (await other.entries(await findRows(other, asked))).map(({ id }) => id as Scalar)
  },
  async findValues(target, path) {
    const other = await run.open(target)
    const entries = await other.entries(seenRows(other))
    const values = await run.internals.selectValues(other, entries, path)
    return new Map(entries.map(({ id }, at) => [id, values[at]]))
  },
})

/** The rows that are seen in the language of the query, of some or of all. */
export function seenRows({ run, view, count }: Table, rows?: PostingList): PostingList {
  const seen = view(run.locale)
  return rows && seen ? keepMarked(rows, seen.marks) : (rows ?? seen?.rows ?? allRows(count))
}

interface Scope {
  readonly table: Table
  readonly shape: Shape
  /** Names from the entry to the value at hand, lists entered. */
  readonly prefix: readonly string[]
}

/** Rows among which are all that match. */
interface FoundRows {
  /** Undefined where no index tells. */
  readonly rows?: PostingList
  /** True where they are just those that match. */
  readonly isExact?: boolean
}

const UNKNOWN: FoundRows = {}

async function find(tree: NormalForm, scope: Scope): Promise<FoundRows> {
  const { table, prefix } = scope
  const { name, count, run } = table
  if (tree.kind === 'compare') return UNKNOWN
  if (tree.kind === 'some') return find(tree.part, enterList(tree.path, scope))
  if (tree.kind === 'and') return findAll(tree.parts, scope)
  if ('parts' in tree) {
    const ways = await Promise.all(tree.parts.map((part) => find(part, scope)))
    const lists = ways.flatMap(({ rows }) => rows ?? [])
    return lists.length < ways.length
      ? UNKNOWN
      : { rows: table.mergeRows(lists), isExact: ways.every(({ isExact }) => isExact) }
  }
  if (tree.kind === 'not') {
    // Of an item of a list nothing can be told from the rows of the others.
    const { rows, isExact } = prefix.length === 0 ? await find(tree.part, scope) : UNKNOWN
    return rows && isExact ? { rows: keepMarked(allRows(count), markRows(rows, count), 0), isExact } : UNKNOWN
  }
  const path = [...prefix, ...tree.path]
  const rows = (await indexFor(tree.path, scope)?.find(tree, run.read)) ?? (await findComputed(path, tree, table))
  if (!rows) return findKey(tree.path, scope)
  const { operator, values } = tree
  const part: ConditionTree = { kind: 'test', path, operator, values }
  run.steps.push({ part, index: `${name}.${path.join('.')}`, rows: rows.length })
  return { rows, isExact: true }
}

/** The rows whose value that is computed of one with an index passes. */
async function findComputed(
  path: readonly string[],
  asked: ValueQuestion,
  table: Table,
): Promise<PostingList | undefined> {
  if (!isComputed(path)) return undefined
  const { groupComputed } = await import('./computed-rows.ts')
  const passes = compileTest(asked)
  const groups = await groupComputed(table, path)
  return groups && table.mergeRows(groups.flatMap(({ value, rows }) => (passes(value) ? [rows] : [])))
}

/** The rows with a key of a map, among which are all whose value of that key passes. */
async function findKey(path: readonly string[], { table, shape, prefix }: Scope): Promise<FoundRows> {
  const at = path.findIndex((_, position) => followPath(shape, path.slice(0, position)).end.kind === 'map')
  if (at === -1) return UNKNOWN
  // Few queries ask for keys.
  const { findKeyRows } = await import('./key-rows.ts')
  const rows = await findKeyRows(table, [...prefix, ...path.slice(0, at), KEYS_STEP], path[at] as string)
  return rows ? { rows } : UNKNOWN
}

function enterList(path: readonly string[], { table, shape, prefix }: Scope): Scope {
  const { end } = followPath(shape, path)
  return { table, shape: end.item ?? end, prefix: [...prefix, ...path] }
}

function indexFor(path: readonly string[], { table, shape, prefix }: Scope): FieldIndex | undefined {
  const { kind } = followPath(shape, path).end
  // The index of a list knows its items; whether there is a list it does not.
  return kind === 'list' || kind === 'group' || kind === 'map' ? undefined : table.index([...prefix, ...path])
}

/** The rows that all parts have; the rarest first, and the others only while it is worth it. */
async function findAll(parts: readonly NormalForm[], scope: Scope): Promise<FoundRows> {
  const sizes = new Map(parts.map((part) => [part, estimate(part, scope)]))
  const ordered = [...parts].sort((a, b) => (sizes.get(a) as number) - (sizes.get(b) as number))
  const ask = (part: NormalForm): Promise<FoundRows> => find(part, scope)
  // Where many rows are left anyway, all indexes are asked at once.
  const isMany = ordered.every((part) => (sizes.get(part) as number) > MANY_ROWS)
  const all = isMany ? await Promise.all(ordered.map(ask)) : []
  let rows: PostingList | undefined
  // Within a list the parts may hold for different items.
  let isExact = scope.prefix.length === 0 || parts.length === 1
  for (const [at, part] of ordered.entries()) {
    if (!isMany && rows && rows.length <= FEW_ROWS) return { rows, isExact: false }
    const found = all[at] ?? (await ask(part))
    isExact &&= found.isExact === true
    rows = rows && found.rows ? keepMarked(found.rows, markRows(rows, scope.table.count)) : (rows ?? found.rows)
  }
  return rows ? { rows, isExact } : UNKNOWN
}

/** How many rows of a collection indexes would give, as far as can be told without asking them. */
export const estimateRows = (table: Table, condition: ConditionTree): number => estimate(condition, scopeOf(table))

const scopeOf = (table: Table): Scope => ({ table, shape: table.shape, prefix: [] })

function estimate(tree: ConditionTree | NormalForm, scope: Scope): number {
  const { count } = scope.table
  if (tree.kind === 'test')
    return (NEGATIVE[tree.operator] ? undefined : indexFor(tree.path, scope)?.estimate(tree)) ?? count
  if (tree.kind === 'some') return estimate(tree.part, enterList(tree.path, scope))
  if (tree.kind === 'and') return tree.parts.reduce((least, part) => Math.min(least, estimate(part, scope)), count)
  if (tree.kind === 'or') return tree.parts.reduce((sum, part) => sum + estimate(part, scope), 0)
  return count
}

import type { Scalar } from './condition.ts'
import { compileCondition } from './evaluate.ts'
import type { OpenCollection } from './open-collection.ts'
import type { Positive } from './positive.ts'
import { allRows, intersectRows, otherRows, type RowSet, uniteRows } from './row-set.ts'
import { entriesAt, openFor, type Run, seenRows, shapeFor } from './run.ts'
import { followPath, type Shape } from './shape.ts'

/** So few rows are rather looked at than another index. */
const FEW_ROWS = 32
/** Of so many rows an index is asked in any case. */
const MANY_ROWS = 500

/** The rows of a collection for which a condition holds, seen in the language of the query. */
export async function findRows(run: Run, name: string, condition: Positive | undefined): Promise<RowSet> {
  const collection = await openFor(run, name)
  const everything = (): RowSet => collection.view(run.locale)?.rows ?? allRows(collection.count)
  if (!condition) return everything()
  const shape = shapeFor(run, name)
  const local = await followReferences(run, condition, shape)
  const found = await find(local, { run, collection, shape, prefix: [] })
  const rows = found.rows ? seenRows(run, collection, found.rows) : everything()
  if (found.isExact) return rows
  const holds = compileCondition(local)
  run.examined += rows.length
  await collection.loadRows(rows, run.read)
  return rows.filter((row) => holds(collection.row(row)))
}

/** Turns what is asked of referenced entries into a question for their ids. */
async function followReferences(run: Run, tree: Positive, shape: Shape): Promise<Positive> {
  if (tree.kind === 'not') return { kind: 'not', part: await followReferences(run, tree.part, shape) }
  if ('parts' in tree)
    return { kind: tree.kind, parts: await Promise.all(tree.parts.map((part) => followReferences(run, part, shape))) }
  const { crossing, end } = followPath(shape, tree.path)
  if (crossing) {
    const { before, target, after } = crossing
    return isOneOf(before, await findIds(run, target, { ...tree, path: after }))
  }
  if (tree.kind === 'test') {
    // Few queries look at words, so what takes them apart is loaded for those.
    if (tree.operator !== 'hasWords') return tree
    const { hasWords } = await import('./words.ts')
    return { ...tree, passes: hasWords(String(tree.values[0])) }
  }
  const item = end.item ?? end
  const part =
    item.kind === 'ref' && goesBeyond(tree.part)
      ? isOneOf([], await findIds(run, item.target ?? '', tree.part))
      : await followReferences(run, tree.part, item)
  return { ...tree, part }
}

const isOneOf = (path: readonly string[], values: readonly Scalar[]): Positive => ({
  kind: 'test',
  path,
  operator: 'isOneOf',
  values,
})

/** True where every test of a condition is on what lies behind the value at hand. */
function goesBeyond(tree: Positive): boolean {
  if ('parts' in tree) return tree.parts.every(goesBeyond)
  return tree.kind === 'not' ? goesBeyond(tree.part) : tree.path.length > 0
}

async function findIds(run: Run, target: string, condition: Positive): Promise<Scalar[]> {
  const rows = await findRows(run, target, condition)
  const entries = await entriesAt(run, await openFor(run, target), rows)
  return entries.map(({ id }) => id as Scalar)
}

interface Scope {
  readonly run: Run
  readonly collection: OpenCollection
  readonly shape: Shape
  /** Names from the entry to the value at hand, lists entered. */
  readonly prefix: readonly string[]
}

/** Rows among which are all that match. */
interface Found {
  /** Undefined where no index tells. */
  readonly rows: RowSet | undefined
  /** True where they are just those that match. */
  readonly isExact: boolean
}

const UNKNOWN: Found = { rows: undefined, isExact: false }

async function find(tree: Positive, scope: Scope): Promise<Found> {
  switch (tree.kind) {
    case 'test':
      return findTest(tree, scope)
    case 'some':
      return find(tree.part, enterList(tree.path, scope))
    case 'or': {
      const ways = await Promise.all(tree.parts.map((part) => find(part, scope)))
      if (ways.some(({ rows }) => !rows)) return UNKNOWN
      const rows = uniteRows(
        ways.map(({ rows: some }) => some as RowSet),
        scope.collection.count,
      )
      return { rows, isExact: ways.every(({ isExact }) => isExact) }
    }
    case 'and':
      return findAll(tree.parts, scope)
    case 'not': {
      // Of an item of a list nothing can be told from the rows of the others.
      const inner = scope.prefix.length === 0 ? await find(tree.part, scope) : UNKNOWN
      return inner.isExact && inner.rows
        ? { rows: otherRows(inner.rows, scope.collection.count), isExact: true }
        : UNKNOWN
    }
  }
}

function enterList(path: readonly string[], scope: Scope): Scope {
  const { end } = followPath(scope.shape, path)
  return { ...scope, shape: end.item ?? end, prefix: [...scope.prefix, ...path] }
}

async function findTest(tree: Extract<Positive, { kind: 'test' }>, scope: Scope): Promise<Found> {
  const { run, collection } = scope
  const index = indexFor(tree, scope)
  if (!index) return UNKNOWN
  const rows = await index.find(tree, collection.loader(run.read))
  const path = [...scope.prefix, ...tree.path]
  const { operator, values } = tree
  run.steps.push({
    part: { kind: 'test', path, operator, values },
    index: `${collection.name}.${path.join('.')}`,
    rows: rows.length,
  })
  return { rows, isExact: true }
}

function indexFor({ path }: { readonly path: readonly string[] }, { collection, shape, prefix }: Scope) {
  const { end } = followPath(shape, path)
  // The index of a list knows its items; whether there is a list it does not.
  return end.kind === 'list' || end.kind === 'group' ? undefined : collection.index([...prefix, ...path].join('.'))
}

/** The rows that all parts have; the rarest first, and the others only while it is worth it. */
async function findAll(parts: readonly Positive[], scope: Scope): Promise<Found> {
  const ordered = parts.map((part) => ({ part, size: estimate(part, scope) })).sort((a, b) => a.size - b.size)
  // Where many rows are left anyway, all indexes are asked at once.
  const isMany = (ordered[0]?.size ?? 0) > MANY_ROWS
  const all = isMany ? await Promise.all(ordered.map(({ part }) => find(part, scope))) : []
  let rows: RowSet | undefined
  // Within a list the parts may hold for different items.
  let isExact = scope.prefix.length === 0 || parts.length === 1
  for (const [at, { part }] of ordered.entries()) {
    if (!isMany && rows && rows.length <= FEW_ROWS) return { rows, isExact: false }
    const found = all[at] ?? (await find(part, scope))
    if (!found.isExact) isExact = false
    if (found.rows) rows = rows ? intersectRows(rows, found.rows) : found.rows
  }
  return { rows, isExact }
}

/** How many rows of a collection indexes would give, as far as can be told without asking them. */
export const estimateRows = (run: Run, collection: OpenCollection, condition: Positive): number =>
  estimate(condition, { run, collection, shape: shapeFor(run, collection.name), prefix: [] })

function estimate(tree: Positive, scope: Scope): number {
  const { count } = scope.collection
  switch (tree.kind) {
    case 'test':
      return indexFor(tree, scope)?.estimate(tree) ?? count
    case 'some':
      return estimate(tree.part, enterList(tree.path, scope))
    case 'and':
      return Math.min(count, ...tree.parts.map((part) => estimate(part, scope)))
    case 'or':
      return tree.parts.reduce((sum, part) => sum + estimate(part, scope), 0)
    case 'not':
      return count - 1
  }
}

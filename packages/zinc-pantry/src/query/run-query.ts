import type { ConditionTree, SortKey } from './condition.ts'
import { compileCondition, compileOrder, type StoredValue } from './evaluate.ts'
import type { CollectionIndex, FieldIndex } from './field-index.ts'
import { QueryError } from './handles.ts'
import type { Site } from './open-site.ts'
import { planAccess } from './plan.ts'
import { type Shape, targetsOnPath } from './shape.ts'

/** A query as plain data. */
export interface QueryRequest {
  readonly collection: string
  readonly condition?: ConditionTree | undefined
  readonly sort?: readonly SortKey[]
  readonly limit?: number | undefined
  readonly offset?: number
  /** The language of the entries; those that lack it stand in the first. Default: the first. */
  readonly locale?: string | undefined
}

/** How a query was answered. */
export interface QueryPlan {
  /** Indexes used to find entries, as `collection.path`; empty where all entries were looked at. */
  readonly indexes: readonly string[]
  /** The index that gave the order, where one did. */
  readonly order: string | undefined
  /** Entries on which the condition was tested. */
  readonly examined: number
}

/** What a query gave. */
export interface QueryResult {
  readonly entries: readonly StoredValue[]
  /** Entries that match, before limit and offset. */
  readonly total: number
  readonly plan: QueryPlan
}

/** Answers a query with the indexes that help. */
export async function runQuery(site: Site, request: QueryRequest): Promise<QueryResult> {
  const { collection, condition, sort = [], limit, offset = 0, locale } = request
  checkCount('limit', limit)
  checkCount('offset', offset)
  const shape = site.shapes.get(collection) as Shape
  const world = await site.world([...collectionsOf(site, shape, request)], locale)
  const entries = world.entriesOf(collection)
  const access = condition && planAccess(condition, { collection, shape, prefix: [] }, world)
  const candidates = access?.positions()
  const matches = condition ? compileCondition(condition, shape, world) : () => true
  const order = candidates ? undefined : orderFromIndex(world.indexOf(collection), sort, entries.length)
  const looked = candidates ?? order?.positions ?? entries.map((_, position) => position)
  const positions = world.positionsOf(collection)
  const found = looked.filter((position) => (!positions || positions.has(position)) && matches(entries[position]))
  if (sort.length > 0 && !order) {
    const compare = compileOrder(sort, shape, world)
    found.sort((a, b) => compare(entries[a], entries[b]) || a - b)
  }
  const slice = found.slice(offset, limit === undefined ? undefined : offset + limit)
  return {
    entries: slice.map((position) => freeze(entries[position] as StoredValue)),
    total: found.length,
    plan: {
      indexes: access?.uses ?? [],
      order: order && `${collection}.${order.name}`,
      examined: condition ? looked.length : 0,
    },
  }
}

function checkCount(name: string, value: number | undefined): void {
  if (value === undefined || (Number.isSafeInteger(value) && value >= 0)) return
  throw new QueryError(`${name} must be a whole number from 0, not ${value}`)
}

/** All positions in the order of an index, where one alone gives it: those without a value come last. */
function orderFromIndex(
  indexes: CollectionIndex,
  sort: readonly SortKey[],
  count: number,
): { name: string; positions: number[] } | undefined {
  const [key] = sort
  if (!key || sort.length > 1) return undefined
  const name = key.path.join('.')
  const index = Object.hasOwn(indexes, name) ? indexes[name] : undefined
  if (!index) return undefined
  const positions = key.direction === 'descending' ? descending(index) : [...index.entries]
  const seen = new Uint8Array(count)
  for (const position of positions) seen[position] = 1
  for (let position = 0; position < count; position++) if (!seen[position]) positions.push(position)
  return { name, positions }
}

function descending({ values, starts, entries }: FieldIndex): number[] {
  const positions: number[] = []
  for (let value = values.length - 1; value >= 0; value--)
    for (let at = starts[value] ?? 0; at < (starts[value + 1] ?? 0); at++) positions.push(entries[at] as number)
  return positions
}

/** The collections that a query reads: its own, and those its paths lead into. */
function collectionsOf(site: Site, shape: Shape, { collection, condition, sort = [] }: QueryRequest): Set<string> {
  const names = new Set([collection])
  const walk = (tree: ConditionTree, at: Shape): void => {
    if ('parts' in tree) {
      for (const part of tree.parts) walk(part, at)
      return
    }
    const { targets, end } = targetsOnPath(at, 'path' in tree ? tree.path : [], site.shapes)
    for (const target of targets) names.add(target)
    if ('part' in tree) walk(tree.part, end.item ?? end)
  }
  if (condition) walk(condition, shape)
  for (const key of sort) for (const target of targetsOnPath(shape, key.path, site.shapes).targets) names.add(target)
  return names
}

/** Makes an entry and all in it read-only, once, when it first leaves the store. */
function freeze<Value extends object>(value: Value): Value {
  if (Object.isFrozen(value)) return value
  for (const part of Object.values(value)) if (typeof part === 'object' && part !== null) freeze(part)
  return Object.freeze(value)
}

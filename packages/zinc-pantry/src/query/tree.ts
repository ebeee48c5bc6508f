import type { RefHandle } from './handle-types.ts'
import type { Query } from './query-types.ts'

/** An entry of a tree and those below it, in the order of the collection. */
export interface TreeNode<Entry> {
  readonly entry: Entry
  readonly children: readonly TreeNode<Entry>[]
  /** How many entries stand below it, at any depth. */
  readonly below: number
}

/** An entry of a tree with a count of what belongs to it. */
export interface CountedNode<Entry> extends TreeNode<Entry> {
  readonly children: readonly CountedNode<Entry>[]
  /** How many different values it and the entries below it have in a list. */
  readonly counted: number
}

/** What can be asked of a collection whose entries refer to the ones above them. */
export interface Tree<Entry, Id extends string, Fields = unknown> {
  /** The entries that stand below no other. */
  roots(): Promise<readonly Entry[]>
  /** The entries right below one. */
  children(id: Id): Promise<readonly Entry[]>
  /** The entries above one, from the root down: breadcrumbs. */
  ancestors(id: Id): Promise<readonly Entry[]>
  /** All entries below one, each followed by those below it. */
  descendants(id: Id): Promise<readonly Entry[]>
  /** The whole tree, or what is below an entry: a menu. */
  tree(id?: Id): Promise<readonly TreeNode<Entry>[]>
  /**
   * The same, with the number of different values that each entry and those below it have in a list together, such as the entries
   * that refer to them: `topics.tree(undefined, { count: (topic) => topic.notes })`.
   */
  tree(id: Id | undefined, options: CountOptions<Fields>): Promise<readonly CountedNode<Entry>[]>
}

/** What is counted in a tree. */
export interface CountOptions<Fields> {
  /** Gives a list, or a path through one. */
  count(fields: Fields): unknown
}

/** An entry of a tree. */
type Placed = Readonly<Record<string, unknown>> & { readonly id: string }

/** A collection that is a tree, and the name of its reference to the entry above. */
export interface TreeSource {
  readonly parent: string
  readonly query: Query<Placed, Readonly<Record<string, RefHandle<string>>>>
  byId(id: string): Promise<Placed | undefined>
}

/** Answers what is asked of a tree. What leads to no entry, or in a circle, is a root of it. */
export async function answerOf(
  name: keyof Tree<unknown, string>,
  source: TreeSource,
  ...[id, options]: readonly [id?: string, options?: CountOptions<unknown>]
): Promise<unknown> {
  const { query, parent } = source
  const above = (fields: Readonly<Record<string, RefHandle<string>>>) => fields[parent] as RefHandle<string>
  if (name === 'ancestors') return findAncestors(source, id ?? '')
  if (name === 'roots') return query.where((fields) => above(fields).isAbsent()).toArray()
  if (name === 'children') return query.where((fields) => above(fields).is(id ?? '')).toArray()
  const nodes = arrangeTree(await query.toArray(), parent, id)
  if (name !== 'tree') return flattenTree(nodes)
  return options ? countBelow(nodes, await listedValues(source, options)) : nodes
}

/** The values of each entry in a list, by its id. */
async function listedValues(
  { query }: TreeSource,
  { count }: CountOptions<unknown>,
): Promise<ReadonlyMap<string, readonly unknown[]>> {
  const picked = await query.pick((fields) => ({ id: fields.id, listed: count(fields) })).toArray()
  return new Map(
    picked.map(({ id, listed }) => {
      const values = [listed].flat(Number.POSITIVE_INFINITY).filter((value) => value !== null)
      return [String(id), values.map((value) => (typeof value === 'object' ? JSON.stringify(value) : value))]
    }),
  )
}

/** Counts the different values that nodes have together with those below them. */
function countBelow(
  nodes: readonly TreeNode<Placed>[],
  values: ReadonlyMap<string, readonly unknown[]>,
): CountedNode<Placed>[] {
  const countNode = (node: TreeNode<Placed>): readonly [node: CountedNode<Placed>, own: ReadonlySet<unknown>] => {
    const below = node.children.map(countNode)
    const own = new Set(values.get(node.entry.id))
    for (const [, some] of below) for (const value of some) own.add(value)
    return [{ ...node, children: below.map(([child]) => child), counted: own.size }, own]
  }
  return nodes.map((node) => countNode(node)[0])
}

/** The entries above one, from the root down. */
async function findAncestors({ parent, byId }: TreeSource, id: string): Promise<readonly Placed[]> {
  const found: Placed[] = []
  const seen = new Set([id])
  let above = (await byId(id))?.[parent]
  // A site may live with a circle.
  while (typeof above === 'string' && !seen.has(above)) {
    seen.add(above)
    const entry = await byId(above)
    if (!entry) break
    found.unshift(entry)
    above = entry[parent]
  }
  return found
}

/** Arranges entries as a tree by the ids of those above them. */
export function arrangeTree<Entry extends { readonly id: string }>(
  entries: readonly Entry[],
  parent: string,
  id?: string,
): readonly TreeNode<Entry>[] {
  const known = new Set(entries.map((entry) => entry.id))
  const below = new Map<string | undefined, Entry[]>()
  for (const entry of entries) {
    const above = (entry as Readonly<Record<string, unknown>>)[parent]
    const key = typeof above === 'string' && known.has(above) ? above : undefined
    const own = below.get(key)
    if (own) own.push(entry)
    else below.set(key, [entry])
  }
  const seen = new Set<Entry>()
  const nodesBelow = (key: string | undefined): TreeNode<Entry>[] =>
    (below.get(key) ?? []).flatMap((entry) => {
      if (seen.has(entry)) return []
      seen.add(entry)
      return [nodeOf(entry)]
    })
  const nodeOf = (entry: Entry): TreeNode<Entry> => {
    const children = nodesBelow(entry.id)
    return { entry, children, below: children.reduce((count, one) => count + 1 + one.below, 0) }
  }
  const nodes = nodesBelow(id)
  // Of a circle the first entry stands for its root.
  if (id === undefined)
    for (const entry of entries)
      if (!seen.has(entry)) {
        seen.add(entry)
        nodes.push(nodeOf(entry))
      }
  return nodes
}

/** The entries of a tree, each followed by those below it. */
const flattenTree = <Entry>(nodes: readonly TreeNode<Entry>[]): Entry[] =>
  nodes.flatMap(({ entry, children }) => [entry, ...flattenTree(children)])

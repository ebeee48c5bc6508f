import type { RefHandle } from './handle-types.ts'
import type { Query } from './query-types.ts'

/** An entry of a tree and those below it, in the order of the collection. */
export interface TreeNode<Entry> {
  readonly entry: Entry
  readonly children: readonly TreeNode<Entry>[]
  /** How many entries stand below it, at any depth. */
  readonly below: number
}

/** What can be asked of a collection whose entries refer to the ones above them. */
export interface Tree<Entry, Id extends string> {
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
  id: string | undefined,
): Promise<unknown> {
  const { query, parent } = source
  const above = (fields: Readonly<Record<string, RefHandle<string>>>) => fields[parent] as RefHandle<string>
  if (name === 'ancestors') return findAncestors(source, id ?? '')
  if (name === 'roots') return query.where((fields) => above(fields).isAbsent()).toArray()
  if (name === 'children') return query.where((fields) => above(fields).is(id ?? '')).toArray()
  const nodes = arrangeTree(await query.toArray(), parent, id)
  return name === 'tree' ? nodes : flattenTree(nodes)
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

import type { Table } from './run.ts'
import type { StoredValue } from './shape.ts'

/** A link to an entry, or a reference to it, as it is stored with the entry that it leads to. */
export interface StoredBacklink {
  readonly collection: string
  readonly id: string
  /** The dotted path of the field, or `body`. */
  readonly path: string
  /** The text around a link. */
  readonly before?: string
  readonly label?: string
  readonly after?: string
}

/** What leads to an entry: a link in a body or in a field of Markdown, or a reference. */
export interface Backlink {
  /** The name of the collection of the entry that it stands in. */
  readonly collection: string
  /** The entry that it stands in. */
  readonly entry: { readonly id: string; readonly [field: string]: unknown }
  /** The dotted path of the field that it stands in, or `body`. */
  readonly path: string
  /** The text of a link; empty for a reference. */
  readonly label: string
  /** The text in front of a link and behind it, cut at words, in the same paragraph, heading or cell. */
  readonly before: string
  readonly after: string
}

/** An entry that was looked for by its id. */
interface FoundEntry {
  readonly table: Table
  readonly rows: ArrayLike<number>
}

/** What leads to an entry, in the order of the collections and of their entries. */
export async function readBacklinks({ table, rows }: FoundEntry, id: string): Promise<readonly Backlink[]> {
  const { run, backlinks, name: own } = table
  const row = rows[0]
  if (row === undefined) throw new run.internals.QueryError(`There is no entry ${JSON.stringify(id)} in ${own}`)
  const lists = backlinks && (await table.loadChunkOf(backlinks, row))
  const stored = (lists as readonly (readonly StoredBacklink[])[] | undefined)?.[row % (backlinks?.size ?? 1)] ?? []
  const names = [...new Set(stored.map(({ collection }) => collection))]
  const found = await Promise.all(
    names.map(async (name) => {
      const ids = [...new Set(stored.flatMap(({ collection, id }) => (collection === name ? [id] : [])))]
      const holder = await run.open(name)
      const entries = await holder.entries(await run.internals.findById(holder, ids))
      return [name, new Map(entries.map((entry) => [entry.id, entry]))] as const
    }),
  )
  const entries = new Map<string, ReadonlyMap<unknown, StoredValue>>(found)
  return stored.flatMap(({ collection, id, path, label = '', before = '', after = '' }): Backlink[] => {
    const entry = entries.get(collection)?.get(id)
    return entry ? [{ collection, entry: entry as Backlink['entry'], path, label, before, after }] : []
  })
}

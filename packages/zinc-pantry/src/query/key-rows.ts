import type { PostingList } from './posting-list.ts'
import type { Table } from './run.ts'

/** The rows with a key of a map, by the index of its keys; undefined where it has none. */
export async function findKeyRows(
  table: Table,
  keys: readonly string[],
  key: string,
): Promise<PostingList | undefined> {
  const asked = { operator: 'is', values: [key] } as const
  const rows = await table.index(keys)?.find(asked, table.run.read)
  if (rows)
    table.run.steps.push({
      part: { kind: 'some', path: keys, part: { kind: 'test', path: [], ...asked } },
      index: `${table.name}.${keys.join('.')}`,
      rows: rows.length,
    })
  return rows
}

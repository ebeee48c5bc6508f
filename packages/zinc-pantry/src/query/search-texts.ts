import type { ChunkNames } from './catalogue.ts'
import type { Table } from './run.ts'
import type { SearchHead } from './search-format.ts'

/** The texts at some places that are searched: for each place those of some rows. */
export async function textsAt(
  table: Table,
  places: readonly string[],
  { rows, head }: { readonly rows: ArrayLike<number>; readonly head: SearchHead },
): Promise<readonly (readonly string[])[]> {
  const { selectValues, singleValues } = table.run.internals
  const entries = places.some((place) => place !== 'body') ? await table.entries(rows) : []
  return Promise.all(
    places.map(async (place) => {
      if (place === 'body') return Promise.all(Array.from(rows, (row) => bodyTextAt(row, head.texts, table)))
      const texts = await selectValues(table, entries, place.split('.'))
      return texts.map((value) => singleValues(value).join(' · '))
    }),
  )
}

async function bodyTextAt(row: number, texts: ChunkNames | undefined, table: Table): Promise<string> {
  if (!texts) return ''
  return ((await table.loadChunkOf(texts, row)) as readonly string[])[row % texts.size] ?? ''
}

import type { ChunkNames } from './catalogue.ts'
import type { ChunkLoader } from './field-index.ts'
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

async function bodyTextAt(row: number, texts: ChunkNames | undefined, { run, loadChunk }: Table): Promise<string> {
  const load: ChunkLoader = (chunk) => loadChunk(chunk, run.read)
  if (!texts) return ''
  const name = await run.internals.chunkNameOf(texts, row, load)
  return ((await load(name)) as readonly string[])[row % texts.size] ?? ''
}

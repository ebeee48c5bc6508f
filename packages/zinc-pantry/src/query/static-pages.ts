import type { LazyResult } from './lazy-results.ts'

/** How static pages are cut. */
export interface StaticPagesOptions {
  /** Entries a page, from 1. */
  readonly size: number
  /** Pages that are to be rendered at once; the others become parts. Default: 1. */
  readonly first?: number
  /** The address below which the parts will be served, such as `/more/`. Default: `./`. */
  readonly base?: string
}

/** A page of a list, rendered at build time or loaded by `loadPage`; the same template serves both. */
export interface StaticPage<Entry> {
  readonly entries: readonly Entry[]
  /** From 1. */
  readonly number: number
  /** Pages in all. */
  readonly pages: number
  /** Entries in all. */
  readonly total: number
  /** The address of the next page's data, for `loadPage`; null where there is none, or it is a rendered one. */
  readonly more: string | null
}

/** A file to write beside the pages. */
export interface StaticPart {
  /** Its name: a digest of its content, so that it can be cached for ever. */
  readonly path: string
  readonly text: string
}

/** The pages of a list. */
export interface StaticPages<Entry> {
  readonly pages: readonly StaticPage<Entry>[]
  readonly parts: readonly StaticPart[]
}

/** Cuts the entries into pages, the later ones as the texts of parts. */
export const pages: LazyResult<'pages'> = async (
  { site, settings },
  { size, first = 1, base = './' } = {} as never,
) => {
  const { checkCount, giveRows, runRows } = site.internals
  checkCount('size', size, 1)
  const { table, rows } = await runRows(site, settings)
  const entries = await giveRows(table, rows, settings.spec)
  const count = Math.max(1, Math.ceil(entries.length / size))
  const rendered: StaticPage<unknown>[] = []
  const parts: StaticPart[] = []
  let more: string | null = null
  // From the last to the first, since each names the one behind it.
  for (let number = count; number >= 1; number--) {
    const page: StaticPage<unknown> = {
      entries: entries.slice((number - 1) * size, number * size),
      number,
      pages: count,
      total: entries.length,
      more: number < first ? null : more,
    }
    if (number <= first) rendered.unshift(page)
    else {
      const text = JSON.stringify(page)
      const path = `${await digestOf(text)}.json`
      parts.unshift({ path, text })
      more = base + path
    }
  }
  return { pages: rendered, parts }
}

/** The start of the SHA-256 of a text. */
async function digestOf(text: string): Promise<string> {
  const bytes = new Uint8Array(await crypto.subtle.digest('SHA-256', new TextEncoder().encode(text)))
  return [...bytes.subarray(0, 8)].map((byte) => byte.toString(16).padStart(2, '0')).join('')
}

import type { StaticPage } from './static-pages.ts'

/**
 * Loads a page that was written as a part.
 *
 * @example
 * ```ts
 * import { loadPage } from 'zinc-pantry/query'
 *
 * const { entries, more } = await loadPage<{ title: string }>('/more/0f3a….json')
 * console.log(entries.length, more)
 * ```
 */
export async function loadPage<Entry>(address: string): Promise<StaticPage<Entry>> {
  const response = await fetch(address)
  if (!response.ok) throw new Error(`${address} answered ${response.status}`)
  return response.json() as Promise<StaticPage<Entry>>
}

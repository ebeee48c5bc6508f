import type { Site, StoredCollection } from '../query/open-site.ts'
import type { Entry, LinkedEntry } from '../validate/entry.ts'
import type { RenderedRows } from './graph/render-site.ts'
import type { CheckedSite } from './run-site.ts'
import type { SiteOptions, SiteReport } from './site-report.ts'

/** A {@link SiteReport} with the entries that passed, ready for queries. */
export interface OpenedSite extends SiteReport {
  readonly site: Site
  /**
   * Entries left out: those whose values do not pass, whose derived fields could not be computed, whose id is taken, or
   * that have none. Entries with other errors, such as a reference that leads nowhere, are in.
   */
  readonly invalidCount: number
  /** Files that could not be read, or not whole, so that entries may be missing. */
  readonly failedFileCount: number
}

/**
 * Checks a site and opens the entries that passed for queries, in memory. Nothing is written.
 *
 * @example
 * ```ts
 * import { createNodeHost, openContent } from 'zinc-pantry/engine'
 * import { runQuery } from 'zinc-pantry/query'
 *
 * const { site } = await openContent({ host: createNodeHost('.'), configurationFile: 'pantry.config.ts' })
 * const { entries } = await runQuery(site, { collection: 'huts', limit: 5 })
 * console.log(entries.map((entry) => entry.id))
 * ```
 */
export async function openContent(options: SiteOptions): Promise<OpenedSite> {
  // Loaded when it is needed: it is most of the code of the engine.
  const { examineSite } = await import('./run-site.ts')
  return openChecked(await examineSite(options))
}

/** How a site that was checked is opened. */
export interface OpeningOptions {
  /** Also entries that did not pass whole. Default: false. */
  readonly incomplete?: boolean
  /** Collections of an earlier opening, by name: one of which all is the very same is taken from there with its indexes. Default: none. */
  readonly kept?: Map<string, KeptCollection>
}

/** A collection that was opened, and what its indexes were made of. */
export interface KeptCollection {
  readonly sources: readonly unknown[]
  readonly opened: StoredCollection
}

/**
 * Opens the entries that passed of a site that was checked. With `incomplete` the others are there too, with those of their values
 * that passed.
 */
export async function openChecked(
  { report, checked, model, rendering }: CheckedSite,
  { incomplete = false, kept }: OpeningOptions = {},
): Promise<OpenedSite> {
  const [{ openSite }, { createEntryReaders }, { openInMemory }] = await Promise.all([
    import('../query/open-site.ts'),
    import('../emit/entry-readers.ts'),
    import('./open-in-memory.ts'),
  ])
  if (!model) return { ...report, site: openSite([]), invalidCount: 0, failedFileCount: 0 }
  const valid = checked.collections.map(({ collection, entries }) => {
    const seen = new Set<string>()
    const isFirst = (key: string): boolean => !seen.has(key) && seen.add(key) !== undefined
    return {
      collection,
      entries: (incomplete ? entries.map(withPart) : entries).filter(
        ({ id, locale, data, isUnsound }) =>
          data !== undefined && (incomplete || !isUnsound) && isFirst(`${locale ?? ''}\n${id}`),
      ),
    }
  })
  const { bodies } = checked
  const searched = valid.filter(({ collection }) => collection.search.some(({ path }) => path[0] === 'body'))
  await bodies?.prepare(searched.flatMap(({ entries }) => entries.flatMap(({ body }) => body ?? [])))
  const bodyText = ({ body }: Entry): string => (body && bodies?.textOf(body)) ?? ''
  const stored = valid.map((one) => rendering.storedRows(one))
  const readers = createEntryReaders(stored)
  const backlinks = rendering.backlinks(valid)
  const opened = stored.map((rows, at) => {
    const { name } = rows.collection
    const sources = kept ? sourcesOf(rows, stored, checked.collections[at]?.entries) : []
    const known = kept?.get(name)
    if (known && haveSameItems(known.sources, sources)) return known.opened
    const fresh = openInMemory(rows, { model, rendering, readers, bodyText, backlinks })
    kept?.set(name, { sources, opened: fresh })
    return fresh
  })
  const countOf = (collections: readonly { readonly entries: readonly Entry[] }[]): number =>
    collections.reduce((sum, { entries }) => sum + entries.length, 0)
  return {
    ...report,
    site: openSite(opened, model.locales),
    invalidCount: countOf(checked.collections) - countOf(valid) + checked.unnamedCount,
    failedFileCount: checked.failedFileCount,
  }
}

/** What the indexes of a collection are made of: its rows, and where words are searched the bodies and what references lead to. */
function sourcesOf(
  rows: RenderedRows,
  all: readonly RenderedRows[],
  entries: readonly Entry[] | undefined,
): readonly unknown[] {
  const { search, sortOrders, clustered, backlinks } = rows.collection
  const isOwn =
    search.length === 0 && !backlinks && [...sortOrders, ...clustered.flat()].every(({ path }) => path.length === 1)
  return isOwn ? [rows.rows()] : [entries, ...all.map((one) => one.rows())]
}

const haveSameItems = (one: readonly unknown[], other: readonly unknown[]): boolean =>
  one.length === other.length && one.every((item, at) => item === other[at])

/** An entry of which not all values passed, with those that did. */
const withPart = (entry: LinkedEntry): LinkedEntry => (entry.data ? entry : { ...entry, data: entry.part ?? {} })

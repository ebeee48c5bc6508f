import type { Backlink } from './backlinks.ts'
import { describe } from './condition.ts'
import type { FieldNotes, Site, StoredBody } from './open-site.ts'
import { createQuery } from './query.ts'
import { describeUnknown, QueryError } from './query-error.ts'
import type { Query } from './query-types.ts'
import { startRun } from './run.ts'
import { findById } from './select-values.ts'
import type { PageSource, Redirect, SitePage } from './site-pages.ts'
import type { Tree, TreeSource } from './tree.ts'

/** The result for an id: never undefined where TypeScript knows the id. */
type ForId<Known extends string, Id extends string, Found> = Known extends Id
  ? string extends Id
    ? Found | undefined
    : Found
  : Found | undefined

/**
 * A compiled collection. `Id` is the union of its ids where they are few enough to be listed, `Body` what there is of the
 * text of each entry, and `Everywhere` those of the ids that every language has, or falls back to.
 */
export interface Collection<
  Entry,
  Fields,
  Id extends string,
  Body extends StoredBody | undefined = StoredBody | undefined,
  Everywhere extends string = Id,
> extends Query<Entry, Fields> {
  readonly name: string
  /** The entry with an id. An id that TypeScript knows always has one. */
  byId<Known extends string>(id: Known): Promise<ForId<Known, Id, Entry>>
  bySlug(slug: string): Promise<Entry | undefined>
  /** The text below the front matter of an entry, ready to be shown, where the collection keeps bodies. */
  loadBody<Known extends string>(id: Known): Promise<ForId<Known, Id, Body>>
  /** Labels, help, sections, labels of choices and hints of the fields, by path: `water.source`; of the collection itself under `''`. */
  loadNotes(): Promise<{ readonly [path: string]: FieldNotes }>
  /** The same entries in a language (BCP 47); those that lack it stand in the site's first language. */
  inLocale(locale: string): Collection<Entry, Fields, Everywhere, Body>
}

/** A collection whose fields have hints that the site declares. */
export interface WithHints<Hints> {
  loadNotes(): Promise<{ readonly [path: string]: FieldNotes<Hints> }>
}

/** A collection that keeps what leads to its entries; of one of exactly one entry no id is said. */
export interface Backlinks<Of extends readonly unknown[]> {
  /** What leads to an entry: links in bodies and in fields of Markdown, with the text around them, and references. */
  backlinks(...of: Of): Promise<readonly Backlink[]>
}

/**
 * A collection of exactly one entry; `Everywhere` is undefined where a language may lack it and have nothing to fall
 * back to.
 */
export interface Single<Entry, Body extends StoredBody | undefined = StoredBody | undefined, Everywhere = Entry> {
  readonly name: string
  get(): Promise<Entry>
  /** The text below the front matter, where the collection keeps bodies. */
  loadBody(): Promise<Body>
  /** The entry in a language (BCP 47), or in the site's first where it lacks it. */
  inLocale(locale: string): Single<Everywhere, undefined extends Everywhere ? Body | undefined : Body>
}

/**
 * Opens one collection of a site.
 *
 * @example
 * ```ts
 * import { createNodeHost, openContent } from 'zinc-pantry/engine'
 * import { openCollection } from 'zinc-pantry/query'
 *
 * const { site } = await openContent({ host: createNodeHost('.'), configurationFile: 'pantry.config.ts' })
 * const huts = openCollection<{ id: string }, unknown, string>(site, 'huts')
 * console.log(await huts.byId('gable'))
 * ```
 */
export function openCollection<Entry, Fields, Id extends string>(
  site: Site,
  name: string,
  locale?: string,
): Collection<Entry, Fields, Id> {
  const stored = site.stored(name)
  const find = async (key: string, value: string) => {
    if (typeof value !== 'string') throw new QueryError(`${name} has texts as ${key}, not ${describe(value)}`)
    const table = await startRun(site, locale).open(name)
    return { table, rows: await findById(table, [value], key) }
  }
  const entryBy = async (key: string, value: string): Promise<Entry | undefined> => {
    const { table, rows } = await find(key, value)
    return (await table.entries(rows))[0] as Entry | undefined
  }
  const query = createQuery<Entry, Fields>(site, { collection: name, locale })
  const byId = ((id: string) => entryBy('id', id)) as Collection<Entry, Fields, Id>['byId']
  return Object.assign(
    query,
    stored.backlinks
      ? {
          backlinks: async (id: string) => (await import('./backlinks.ts')).readBacklinks(await find('id', id), id),
        }
      : {},
    stored.parent === undefined ? {} : createTree({ parent: stored.parent, byId, query } as never),
    {
      name,
      byId,
      bySlug: (slug: string) => entryBy('slug', slug),
      loadBody: (async (id: string) => {
        const { table, rows } = await find('id', id)
        return rows[0] === undefined ? undefined : table.loadBody(rows[0])
      }) as Collection<Entry, Fields, Id>['loadBody'],
      loadNotes: async () => (await stored.notes?.())?.default ?? {},
      inLocale: (wanted: string) => openCollection<Entry, Fields, Id>(site, name, knownLocale(site, wanted)),
    },
  )
}

const TREE: readonly (keyof Tree<unknown, string>)[] = ['roots', 'children', 'ancestors', 'descendants', 'tree']

/** What is asked of a collection that is a tree; few pages do. */
const createTree = (source: TreeSource): Tree<never, string> =>
  Object.fromEntries(
    TREE.map((name) => [name, async (...of: []) => (await import('./tree.ts')).answerOf(name, source, ...of)]),
  ) as never

/** All pages of a site. */
export interface SitePages {
  /** Every page with its address, for routing, prerendering, a sitemap or a feed, collection after collection. */
  pages(): Promise<readonly SitePage[]>
  /** Former addresses of pages, and where each leads now. */
  redirects(): Promise<readonly Redirect[]>
}

/**
 * Opens the pages of a site.
 *
 * @example
 * ```ts
 * import { createNodeHost, openContent } from 'zinc-pantry/engine'
 * import { openPages } from 'zinc-pantry/query'
 *
 * const { site } = await openContent({ host: createNodeHost('.'), configurationFile: 'pantry.config.ts' })
 * for (const { address, changed } of await openPages(site).pages()) console.log(address, changed)
 * ```
 */
export function openPages(site: Site): SitePages {
  const source = (): PageSource => ({
    collections: [...site.shapes.keys()].map(site.stored),
    locales: site.locales,
    open: (name, locale) => openCollection(site, name, locale),
  })
  return {
    pages: async () => (await import('./site-pages.ts')).listPages(source()),
    redirects: async () => (await import('./site-pages.ts')).listRedirects(source()),
  }
}

function knownLocale({ locales }: Site, locale: string): string {
  if (locales.includes(locale)) return locale
  throw describeUnknown(`language ${locale} in this site`, locales)
}

/**
 * Opens a collection of exactly one entry.
 *
 * @example
 * ```ts
 * import { createNodeHost, openContent } from 'zinc-pantry/engine'
 * import { openSingle } from 'zinc-pantry/query'
 *
 * const { site } = await openContent({ host: createNodeHost('.'), configurationFile: 'pantry.config.ts' })
 * const about = openSingle<{ title: string }>(site, 'about')
 * console.log((await about.get()).title)
 * ```
 */
export function openSingle<Entry>(site: Site, name: string, locale?: string): Single<Entry> {
  const collection = openCollection<Entry, unknown, string>(site, name, locale)
  const { backlinks } = collection as Partial<Backlinks<[id: string]>>
  return {
    name,
    ...(backlinks
      ? { backlinks: async () => backlinks(((await collection.first()) as { readonly id: string }).id) }
      : {}),
    get: () => collection.first() as Promise<Entry>,
    async loadBody() {
      const entry = (await collection.first()) as { readonly id: string } | undefined
      return entry && collection.loadBody(entry.id)
    },
    inLocale: (wanted: string) => openSingle(site, name, knownLocale(site, wanted)),
  }
}

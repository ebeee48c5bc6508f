import type { StoredCollection } from './open-site.ts'

/** A page of the site. */
export interface SitePage {
  readonly address: string
  readonly collection: string
  readonly id: string
  /** The language of the page (BCP 47), where its collection has several. */
  readonly locale: string | null
  /** When it changed last, a date or an instant, where the collection says so. */
  readonly changed: string | null
}

/** A former address, and the address of the page now. */
export interface Redirect {
  readonly from: string
  readonly to: string
}

/** Collections of a site, and how each is opened in a language. */
export interface PageSource {
  readonly collections: readonly StoredCollection[]
  readonly locales: readonly string[]
  open(name: string, locale: string | undefined): Pickable
}

/** A collection of which values can be picked. */
interface Pickable {
  pick(build: (fields: never) => unknown): { toArray(): Promise<readonly unknown[]> }
}

type Row = SitePage & { readonly former: readonly string[] | null }

/** All pages of a site with their former addresses, collection after collection, each in its order. */
async function listRows({ collections, locales, open }: PageSource): Promise<readonly Row[]> {
  const lists = collections.map(async ({ name, fields, pages }): Promise<readonly Row[]> => {
    if (!pages) return []
    const hasLocales = fields.locale !== undefined
    const inLocale = async (locale: string | undefined): Promise<readonly Row[]> => {
      const found = (await open(name, locale)
        .pick((one: Record<string, unknown>) => ({
          address: one[pages.address],
          id: one.id,
          ...(hasLocales ? { locale: one.locale } : {}),
          ...(pages.changed === undefined ? {} : { changed: one[pages.changed] }),
          ...(pages.former === undefined ? {} : { former: one[pages.former] }),
        }))
        .toArray()) as readonly Row[]
      const rows = found.map(({ address, id, locale: own = null, changed = null, former = null }) => {
        return { address, collection: name, id, locale: own, changed, former }
      })
      // What stands in another language there is a page of that.
      return rows.filter((row) => typeof row.address === 'string' && (!hasLocales || row.locale === locale))
    }
    return (await Promise.all((hasLocales ? locales : [undefined]).map(inLocale))).flat()
  })
  return (await Promise.all(lists)).flat()
}

/** Lists the pages of a site. */
export const listPages = async (source: PageSource): Promise<readonly SitePage[]> =>
  (await listRows(source)).map(({ address, collection, id, locale, changed }) => ({
    address,
    collection,
    id,
    locale,
    changed,
  }))

/** Lists the redirects of a site. */
export const listRedirects = async (source: PageSource): Promise<readonly Redirect[]> =>
  (await listRows(source)).flatMap(({ address, former }) => (former ?? []).map((from) => ({ from, to: address })))

import { notices, site } from '#pantry'
import { html } from './html.ts'
import { LOCALES, prefixOf } from './words.ts'

const ORIGIN = 'https://trails.fellmark.example'

/** The notices of the day as a feed (Atom, RFC 4287). */
export async function emitFeed(today: string): Promise<string> {
  const { name, contact } = await site.get()
  const current = await notices
    .where((notice) => notice.starts.atMost(today))
    .sort((notice) => notice.starts.descending())
    .limit(20)
    .toArray()
  const entries = current.map(
    ({ title, address, starts, body }) => html`
<entry><title>${title}</title><id>${ORIGIN}${address}</id><link href="${ORIGIN}${address}"/><updated>${starts}T00:00:00Z</updated><summary>${body.excerpt}</summary></entry>`,
  )
  const updated = current[0]?.starts ?? today
  return `<?xml version="1.0" encoding="utf-8"?>
${html`<feed xmlns="http://www.w3.org/2005/Atom"><title>${name}</title><id>${ORIGIN}/</id><link href="${ORIGIN}/"/><link rel="self" href="${ORIGIN}/feed.xml"/><updated>${updated}T00:00:00Z</updated><author><name>${name}</name><email>${contact}</email></author>${entries}
</feed>`}\n`
}

/** All pages, for those that read them one by one. */
export function emitSitemap(paths: readonly string[]): string {
  const isOriginal = (path: string): boolean =>
    LOCALES.slice(1).every((locale) => !path.startsWith(`${prefixOf(locale)}/`))
  const urls = paths.filter(isOriginal).map(
    (path) => html`
<url><loc>${ORIGIN}${path}</loc>${LOCALES.map((locale) => html`<xhtml:link rel="alternate" hreflang="${locale}" href="${ORIGIN}${prefixOf(locale)}${path}"/>`)}</url>`,
  )
  return `<?xml version="1.0" encoding="utf-8"?>
${html`<urlset xmlns="http://www.sitemaps.org/schemas/sitemap/0.9" xmlns:xhtml="http://www.w3.org/1999/xhtml">${urls}
</urlset>`}\n`
}

/** A page in the place of one that moved, for servers that know no redirects. */
export const emitRedirect = (to: string): string =>
  `<!doctype html>\n${html`<html lang="en"><head><meta charset="utf-8"/><title>Moved</title><meta http-equiv="refresh" content="0; url=${to}"/><link rel="canonical" href="${ORIGIN}${to}"/></head><body><p><a href="${to}">${to}</a></p></body></html>`}\n`

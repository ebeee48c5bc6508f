import { site } from '#pantry'
import { Html, html } from './html.ts'
import type { Making, Page } from './page.ts'
import { LOCALES, prefixOf, type WordKey, word } from './words.ts'

/** Addresses of what every page loads. */
export interface Links {
  readonly style: string
  readonly script: string
}

interface Framing {
  readonly making: Making
  /** Without the start of the language. */
  readonly path: string
  readonly links: Links
}

const MENU: readonly (readonly [path: string, key: WordKey])[] = [
  ['/trails/', 'trails'],
  ['/huts/', 'huts'],
  ['/notices/', 'notices'],
  ['/gear/', 'gear'],
  ['/handbook/', 'handbook'],
  ['/words/', 'words'],
]

/** A whole page: what surrounds all of them, in the language of the page. */
export async function frame(page: Page, { making, path, links }: Framing): Promise<string> {
  const { locale, say } = making
  const { name, contact, officeHours } = await site.get()
  const prefix = prefixOf(locale)
  const isHere = (start: string): boolean => path.startsWith(start)
  const isHome = path === '/'
  const head = html`<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<meta name="color-scheme" content="light dark">
<title>${isHome ? name : `${page.title} · ${name}`}</title>
<meta name="description" content="${page.description}">
<link rel="stylesheet" href="${links.style}">
<link rel="icon" href="data:image/svg+xml,%3Csvg xmlns='http://www.w3.org/2000/svg' viewBox='0 0 32 32'%3E%3Cpath d='M2 28 12 8l6 10 4-6 8 16z' fill='%233a6b35'/%3E%3C/svg%3E">
<link rel="alternate" type="application/atom+xml" title="${say('notices')}" href="/feed.xml">
${LOCALES.map((other) => html`<link rel="alternate" hreflang="${other}" href="${prefixOf(other)}${path}">`)}
<script type="module" src="${links.script}"></script>
</head>`
  const body = html`<body>
<a class="skip" href="#content">${say('skip')}</a>
<header class="top"><a class="brand" href="/"><svg viewBox="0 0 64 32" aria-hidden="true"><path d="M2 30 20 6l10 14 8-9 24 19z"/></svg>${name}</a>
<nav aria-label="${say('menu')}"><ul>${MENU.map(
    ([start, key]) =>
      html`<li><a href="${start}"${isHere(start) && html` aria-current="${path === start ? 'page' : 'true'}"`}>${say(key)}</a></li>`,
  )}</ul></nav>
<p class="languages">${LOCALES.map((other) =>
    other === locale
      ? html`<span aria-current="true">${word(other, 'language')}</span>`
      : html`<a hreflang="${other}" lang="${other}" data-keep href="${prefixOf(other)}${path}">${word(other, 'language')}</a>`,
  )}</p></header>
<main id="content" tabindex="-1">${page.main}</main>
<footer><p>${name} · <a href="mailto:${contact}">${contact}</a> · ${officeHours.opens}–${officeHours.closes}</p>
<p><a href="/feed.xml" data-keep>Atom</a> · <a href="/sitemap.xml" data-keep>Sitemap</a></p></footer>
</body>`
  return `<!doctype html>\n<html lang="${locale}">\n${head}\n${inLanguage(body, prefix)}\n</html>\n`
}

/** Pages of the site in the language of the page that leads to them; files are the same in all. */
export const inLanguage = (part: Html, prefix: string): Html =>
  new Html(
    part.text.replace(/<a [^>]*>/g, (tag) =>
      tag.includes(' data-keep')
        ? tag.replace(' data-keep', '')
        : tag.replace(/href="(\/(?!files\/|assets\/|@fs\/)[^"]*)"/, `href="${prefix}$1"`),
    ),
  )

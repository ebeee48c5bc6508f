import pages from '#pantry'
import { emitFeed, emitRedirect, emitSitemap } from './feeds.ts'
import { frame, type Links } from './frame.ts'
import { createMaking, type Making, type Page, type Section } from './page.ts'
import { front } from './pages/front.ts'
import { gearPages } from './pages/gear.ts'
import { handbookPages } from './pages/handbook.ts'
import { hutPages } from './pages/huts.ts'
import { notFound } from './pages/not-found.ts'
import { noticePages } from './pages/notices.ts'
import { taxonomyPages } from './pages/taxonomies.ts'
import { trailList } from './pages/trail-list.ts'
import { trailPages } from './pages/trails.ts'
import { wordPages } from './pages/words.ts'
import { LOCALES, type Locale, prefixOf } from './words.ts'

const SECTIONS: readonly Section[] = [
  front,
  trailList,
  trailPages,
  hutPages,
  noticePages,
  gearPages,
  handbookPages,
  taxonomyPages,
  wordPages,
]

/** A file of the site. */
export interface GuideFile {
  readonly status: 200 | 404
  readonly type: string
  readonly text: string
}

/** The whole guide: which files it has, and each of them. */
export interface Guide {
  paths(): Promise<readonly string[]>
  file(path: string, links: Links): Promise<GuideFile>
  /** A page for a browser that draws it again. */
  page(path: string): Promise<Page | undefined>
}

/** Makes the guide as it is on a day. */
export function createGuide({ today }: { readonly today: string }): Guide {
  const read = (path: string): { making: Making; inner: string } => {
    const locale: Locale = LOCALES.find((one) => prefixOf(one) !== '' && path.startsWith(`${prefixOf(one)}/`)) ?? 'en'
    return { making: createMaking(locale, today), inner: path.slice(prefixOf(locale).length) }
  }
  const findPage = async (inner: string, making: Making): Promise<Page | undefined> => {
    for (const section of SECTIONS) {
      const page = await section.page(inner, making)
      if (page) return page
    }
    return undefined
  }
  const filesOf = async (making: Making): Promise<Map<string, string>> => {
    const files = await Promise.all(SECTIONS.map((section) => section.files?.(making) ?? new Map<string, string>()))
    return new Map(files.flatMap((own) => [...own]))
  }
  const pagePaths = async (): Promise<string[]> => {
    const all = LOCALES.map(async (locale) => {
      const making = createMaking(locale, today)
      const paths = await Promise.all(SECTIONS.map((section) => section.paths(making)))
      return paths.flat().map((path) => prefixOf(locale) + path)
    })
    return (await Promise.all(all)).flat()
  }
  const xml = (text: string): GuideFile => ({ status: 200, type: 'application/xml', text })
  return {
    async paths() {
      const files = await filesOf(createMaking('en', today))
      const moved = (await pages.redirects()).map(({ from }) => from)
      return [...(await pagePaths()), ...files.keys(), ...moved, '/404.html', '/feed.xml', '/sitemap.xml']
    },
    async file(path, links) {
      if (path === '/feed.xml') return xml(await emitFeed(today))
      if (path === '/sitemap.xml') return xml(emitSitemap(await pagePaths()))
      const moved = (await pages.redirects()).find(({ from }) => from === path)
      if (moved) return { status: 200, type: 'text/html; charset=utf-8', text: emitRedirect(moved.to) }
      const { making, inner } = read(path)
      const part = (await filesOf(making)).get(path)
      if (part !== undefined) return { status: 200, type: 'application/json', text: part }
      const page = await findPage(inner, making)
      const text = await frame(page ?? notFound(making), { making, path: inner, links })
      return { status: page ? 200 : 404, type: 'text/html; charset=utf-8', text }
    },
    page(path) {
      const { making, inner } = read(path)
      return findPage(inner, making)
    },
  }
}

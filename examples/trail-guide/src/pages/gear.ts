import type { Gear } from '#pantry'
import { gear, trails } from '#pantry'
import { renderBody } from '../components.ts'
import { type Html, html } from '../html.ts'
import { itemCards } from '../more.ts'
import type { Making, Section } from '../page.ts'
import { day } from '../parts.ts'
import { prefixOf } from '../words.ts'

const PER_PAGE = 5

/** The list in pages; the first is drawn whole, the others come as parts too, for the button. */
const listPages = (first: number) =>
  gear
    .sort((item) => item.title.ascending({ collation: 'en' }))
    .pick((item) => ({ address: item.address, title: item.title, summary: item.summary, kind: item.kind }))
    .pages({ size: PER_PAGE, first, base: '/more/' })

const pathOf = (page: number): string => (page === 1 ? '/gear/' : `/gear/page-${page}/`)

/** Advice on what to carry, in Markdown and MDX with the guide's own components. */
export const gearPages: Section = {
  async paths() {
    const { pages } = await listPages(Number.MAX_SAFE_INTEGER)
    return [...pages.map(({ number }) => pathOf(number)), ...(await gear.toArray()).map(({ address }) => address)]
  },
  async page(path, making) {
    const found = /^\/gear\/(?:page-(\d+)\/)?$/.exec(path)
    if (found) return drawList(Number(found[1] ?? 1), making)
    const item = await gear.where((one) => one.address.is(path)).first()
    return item && { title: item.title, description: item.summary, main: await drawItem(item, making) }
  },
  async files() {
    const { parts } = await listPages(1)
    return new Map(parts.map(({ path, text }) => [`/more/${path}`, text]))
  },
}

async function drawList(number: number, making: Making) {
  const { say, locale } = making
  const page = (await listPages(Number.MAX_SAFE_INTEGER)).pages[number - 1]
  if (!page) return undefined
  const first = (await listPages(1)).pages[0]
  const links = Array.from({ length: page.pages }, (_, at) => at + 1)
  // Without a script the pages are turned; with one, more comes to the same page.
  const more =
    number === 1 && first?.more
      ? html`<button type="button" class="button" hidden data-more="${first.more}" data-prefix="${prefixOf(locale)}">${say('more')}</button>`
      : undefined
  const main = html`<div class="wrap"><h1>${say('gear')}</h1><ul class="cards" aria-live="polite" data-list>${itemCards(page.entries)}</ul>${more}
<nav class="pages" aria-label="${say('page')}"><ul>${links.map((one) => html`<li><a href="${pathOf(one)}"${one === number && html` aria-current="page"`}><span class="hidden">${say('page')} </span>${one}</a></li>`)}</ul></nav></div>`
  return { title: number === 1 ? say('gear') : `${say('gear')}, ${number}`, description: say('gear'), main }
}

async function drawItem(item: Gear, making: Making): Promise<Html> {
  const { say } = making
  const { title, summary, kind, weight, testedOn } = item
  const tested = testedOn && (await trails.byId(testedOn.trail))
  return html`<article class="wrap narrow"><h1>${title}</h1><p class="lead">${summary}</p><p class="facts">${kind}${weight !== null && ` · ${weight} ${say('weight')}`}${tested && testedOn && html` · ${say('tested')} <a href="${tested.address}">${tested.title}</a>, ${day(making, testedOn.on)}`}</p>
<div class="prose">${await renderBody(await gear.loadBody(item.id), making)}</div></article>`
}

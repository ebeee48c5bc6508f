import type { HandbookPage } from '#pantry'
import { handbook, wardens } from '#pantry'
import { renderBody } from '../components.ts'
import { type Html, html } from '../html.ts'
import type { Making, Section } from '../page.ts'
import { outlineList } from '../parts.ts'

/** The handbook: chapters, and chapters in them. */
export const handbookPages: Section = {
  paths: async () => ['/handbook/', ...(await handbook.toArray()).map(({ url }) => url)],
  async page(path, making) {
    const { say } = making
    const pages = await handbook.toArray()
    if (path === '/handbook/')
      return {
        title: say('handbook'),
        description: say('handbook'),
        main: html`<div class="wrap narrow"><h1>${say('handbook')}</h1>${drawTree(pages, null)}</div>`,
      }
    const page = pages.find(({ url }) => url === path)
    return page && { title: page.title, description: page.body.excerpt, main: await drawPage(page, pages, making) }
  },
}

/** The pages below a chapter, as a list of lists. */
function drawTree(pages: readonly HandbookPage[], chapter: string | null): Html | false {
  const own = pages.filter((page) => page.chapter === chapter)
  return (
    own.length > 0 &&
    html`<ul class="tree">${own.map(({ id, url, title }) => html`<li><a href="${url}">${title}</a>${drawTree(pages, id)}</li>`)}</ul>`
  )
}

async function drawPage(page: HandbookPage, pages: readonly HandbookPage[], making: Making): Promise<Html> {
  const { id, title, body, chapter } = page
  const above = pages.find((one) => one.id === chapter)
  const editor = await wardens.bySlug(page.editor)
  return html`<article class="wrap"><nav aria-label="${making.say('handbook')}"><p class="facts"><a href="/handbook/">${making.say('handbook')}</a>${above && html` › <a href="${above.url}">${above.title}</a>`}</p></nav>
<h1>${title}</h1><div class="columns"><div class="prose">${await renderBody(await handbook.loadBody(id), making)}${drawTree(pages, id)}</div><aside class="side" aria-label="${title}">${outlineList(body.outline, making)}${editor && html`<p class="facts">${editor.name}</p>`}</aside></div></article>`
}

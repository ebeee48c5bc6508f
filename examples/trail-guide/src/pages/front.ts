import { front as frontPage, site } from '#pantry'
import { type Html, Html as HtmlText, html } from '../html.ts'
import type { Making, Section } from '../page.ts'
import { currentNotices, noticeList, trailCards, trailsById } from '../parts.ts'
import { addressOf } from '../pictures.ts'

/** The front page, made of blocks. */
export const front: Section = {
  paths: async () => ['/'],
  async page(path, making) {
    if (path !== '/') return undefined
    const { name } = await site.get()
    const { panels } = await frontPage.get()
    const drawn = await Promise.all(panels.map((panel) => drawPanel(panel, making)))
    const notices = await currentNotices(making).limit(4).toArray()
    const news = html`<section class="wrap"><h2>${making.say('notices')}</h2>${noticeList(notices, making)}</section>`
    return { title: name, description: name, main: html`${drawn[0]}${news}${drawn.slice(1)}` }
  },
}

type Panel = Awaited<ReturnType<typeof frontPage.get>>['panels'][number]

async function drawPanel(panel: Panel, making: Making): Promise<Html> {
  switch (panel.block) {
    case 'hero': {
      const { heading, text, photo } = panel
      return html`<section class="hero"><img src="${addressOf(photo.file)}" alt="${photo.alt}" width="${photo.width}" height="${photo.height}"><div class="wrap"><h1>${heading}</h1><div class="lead">${new HtmlText(text.html)}</div><p><a class="button" href="/trails/">${making.say('trails')}</a></p></div></section>`
    }
    case 'gallery':
      return html`<section class="wrap"><h2>${panel.title}</h2><div class="gallery">${panel.photos.map(
        ({ file, alt }) =>
          html`<figure><img src="${addressOf(file)}" alt="${alt}" loading="lazy"><figcaption>${alt}</figcaption></figure>`,
      )}</div></section>`
    default:
      return html`<section class="wrap"><h2>${panel.title}</h2>${await trailCards(await trailsById(panel.trails), making)}</section>`
  }
}

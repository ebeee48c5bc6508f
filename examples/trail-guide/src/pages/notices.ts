import type { Backlink } from 'zinc-pantry/query'
import type { Notice } from '#pantry'
import { huts, notices, trails, wardens } from '#pantry'
import { renderBody } from '../components.ts'
import { type Html, html } from '../html.ts'
import type { Making, Section } from '../page.ts'
import { currentNotices, day, linkList, noticeList } from '../parts.ts'

/** What is to be known on the day, what is to come and what was; and a page for each. */
export const noticePages: Section = {
  paths: async () => ['/notices/', ...(await notices.toArray()).map(({ address }) => address)],
  async page(path, making) {
    if (path === '/notices/') return drawList(making)
    const notice = await notices.where((one) => one.address.is(path)).first()
    return notice && { title: notice.title, description: notice.body.excerpt, main: await drawNotice(notice, making) }
  },
}

async function drawList(making: Making) {
  const { say, today } = making
  const lists = [
    ['current', await currentNotices(making).toArray()],
    [
      'coming',
      await notices
        .where((notice) => notice.starts.above(today))
        .sort((notice) => notice.starts)
        .toArray(),
    ],
    ['past', await notices.where((notice) => notice.expires.below(today)).toArray()],
  ] as const
  const main = html`<div class="wrap"><h1>${say('notices')}</h1>${lists.map(
    ([key, list]) =>
      html`<section><h2>${say(key)}</h2>${list.length > 0 ? noticeList(list, making) : html`<p>${say('none')}</p>`}</section>`,
  )}</div>`
  return { title: say('notices'), description: say('notices'), main }
}

async function drawNotice(notice: Notice, making: Making): Promise<Html> {
  const { title, severity, starts, expires, tags } = notice
  const author = await wardens.byId(notice.author)
  const mentions = (await notices.backlinks(notice.id)).filter(({ path }) => path === 'body')
  const about = [
    ...(await Promise.all(notice.trails.map((id) => trails.byId(id)))),
    ...(await Promise.all(notice.huts.map((id) => huts.byId(id)))).map(({ address, name }) => ({
      address,
      title: name,
    })),
  ]
  return html`<article class="wrap narrow"><h1>${title}</h1><p class="notice ${severity}"><span class="facts">${making.say('since')} ${day(making, starts)}${expires && html`, ${making.say('until')} ${day(making, expires)}`} · ${author.name}</span></p>
<div class="prose">${await renderBody(await notices.loadBody(notice.id), making)}</div>${about.length > 0 && linkList(about)}
${tags.length > 0 && html`<p class="facts">${tags.map((tag) => html`<a class="tag" href="/tags/${tag}/">${tag}</a> `)}</p>`}
${mentions.length > 0 && html`<section><h2>${making.say('mentions')}</h2><ul>${mentions.map(drawMention)}</ul></section>`}</article>`
}

/** A page that links here, with the words around the link. */
const drawMention = ({ entry: { title, address }, before, label, after }: Backlink): Html =>
  html`<li><a href="${String(address)}">${String(title)}</a>: ${before}<strong>${label}</strong>${after}</li>`

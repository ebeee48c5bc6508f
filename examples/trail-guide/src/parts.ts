import type { OutlineItem } from 'zinc-pantry/query'
import type { Notice, Trail } from '#pantry'
import { notices, regions, trails } from '#pantry'
import { type Html, html } from './html.ts'
import type { Making } from './page.ts'

/** A number as the language writes it. */
export const number = ({ locale }: Making, value: number): string =>
  value.toLocaleString(locale === 'no' ? 'nb' : 'en-GB')

/** A day as the language writes it. */
export const day = ({ locale }: Making, date: string): Html =>
  html`<time datetime="${date}">${new Date(`${date}T12:00:00Z`).toLocaleDateString(locale === 'no' ? 'nb' : 'en-GB', { day: 'numeric', month: 'long', year: 'numeric', timeZone: 'UTC' })}</time>`

/** What a list of trails shows of each. */
export async function trailCards(list: readonly Trail[], making: Making): Promise<Html> {
  const names = new Map((await regions.toArray()).map(({ id, name }) => [id, name]))
  return html`<ul class="cards">${list.map(
    ({
      address,
      title,
      summary,
      region,
      grade,
      distance,
      ascent,
    }) => html`<li class="card"><h3><a href="${address}">${title}</a></h3>
<p class="facts"><span class="grade ${grade}">${making.say(grade)}</span> ${names.get(region)} · ${number(making, distance)} ${making.say('kilometres')} · ${number(making, ascent)} ${making.say('metresUp')}</p><p>${summary}</p></li>`,
  )}</ul>`
}

/** Trails by their ids, in their own order. */
export const trailsById = (ids: readonly string[]): Promise<readonly Trail[]> =>
  trails.where((trail) => trail.id.isOneOf(ids as never)).toArray()

/** Notices that are to be seen on the day. */
export const currentNotices = ({ today }: Making) =>
  notices.where((notice) =>
    notice.starts.atMost(today).and(notice.expires.isAbsent().or(notice.expires.atLeast(today))),
  )

/** A short list of notices. */
export const noticeList = (list: readonly Notice[], making: Making): Html =>
  html`<ul class="notices">${list.map(
    ({ address, title, severity, starts, expires }) =>
      html`<li class="notice ${severity}"><a href="${address}">${title}</a> <span class="facts">${making.say('since')} ${day(making, starts)}${expires && html`, ${making.say('until')} ${day(making, expires)}`}</span></li>`,
  )}</ul>`

/** The headings of a body as links. */
export const outlineList = (outline: readonly OutlineItem[], making: Making): Html | false => {
  const items = outline.flatMap((item) => (item.depth === 1 ? item.children : [item]))
  return (
    items.length > 1 &&
    html`<nav class="outline" aria-label="${making.say('outline')}"><h2>${making.say('outline')}</h2><ul>${items.map(({ id, text }) => html`<li><a href="#${id}">${text}</a></li>`)}</ul></nav>`
  )
}

/** Links one after the other. */
export const linkList = (list: readonly { readonly address: string; readonly title: string }[]): Html =>
  html`<ul class="plain">${list.map(({ address, title }) => html`<li><a href="${address}">${title}</a></li>`)}</ul>`

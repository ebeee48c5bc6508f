import type { Trail } from '#pantry'
import { huts, regions, seasons, terrains, trails } from '#pantry'
import { renderBody } from '../components.ts'
import { type Html, html } from '../html.ts'
import { drawMap } from '../map.ts'
import type { Making, Section } from '../page.ts'
import { currentNotices, day, linkList, noticeList, number, outlineList } from '../parts.ts'
import { addressOf } from '../pictures.ts'

/** A page for every trail. */
export const trailPages: Section = {
  paths: async () => (await trails.toArray()).map(({ address }) => address),
  async page(path, making) {
    const trail = await trails.where((one) => one.address.is(path)).first()
    return trail && { title: trail.title, description: trail.summary, main: await drawTrail(trail, making) }
  },
}

async function drawTrail(trail: Trail, making: Making): Promise<Html> {
  const { say } = making
  const { id, title, summary, body, grade, distance, ascent, legs, opened, track } = trail
  const region = await regions.byId(trail.region)
  const stops = await Promise.all(legs.map(async (leg) => ({ ...leg, hut: await huts.byId(leg.hut) })))
  const linked = (collection: string, list: readonly { readonly id: string; readonly name: string }[]): Html =>
    html`${list.map((one, at) => html`${at > 0 && ', '}<a href="/${collection}/${one.id}/">${one.name}</a>`)}`
  const times = await Promise.all(trail.seasons.map((one) => seasons.byId(one)))
  const ground = await Promise.all(trail.terrains.map((one) => terrains.byId(one)))
  const notices = await currentNotices(making)
    .where((notice) => notice.trails.includes(id))
    .toArray()
  const { previous, next } = await trails.sort((one) => one.title.ascending({ collation: 'en' })).neighbours(id)
  const related = (await trails.related(id, { limit: 3 })).map(({ entry }) => entry)
  const photos = [
    ...new Map(stops.flatMap(({ hut }) => (hut.photo ? [[hut.photo.file, hut.photo] as const] : []))).values(),
  ]
  const facts = [
    [say('region'), html`<a href="/trails/in/${region.id}/">${region.name}</a>`],
    [say('grade'), html`<span class="grade ${grade}">${say(grade)}</span>`],
    [say('length'), `${number(making, distance)} ${say('kilometres')}`],
    [say('climb'), `${number(making, ascent)} ${say('metresUp')}`],
    [say('walking'), `${number(making, trail.hours)} ${say('hours')}`],
    [say('seasons'), linked('seasons', times)],
    [say('terrains'), linked('terrains', ground)],
    ...(opened ? [[say('opening'), day(making, opened)] as const] : []),
    ...(track ? [[say('track'), html`<a href="${addressOf(track.file)}" data-keep download>GPX</a>`] as const] : []),
  ] as const
  return html`<article class="wrap"><h1>${title}</h1><p class="lead">${summary}</p>
${notices.length > 0 && html`<section class="panel"><h2>${say('notices')}</h2>${noticeList(notices, making)}</section>`}
<div class="columns"><div class="prose">${await renderBody(await trails.loadBody(id), making)}
<h2 id="legs">${say('legs')}</h2><div class="wide" role="region" tabindex="0" aria-label="${say('legs')}"><table><thead><tr><th scope="col">${say('hut')}</th><th scope="col">${say('from')}</th><th scope="col">${say('note')}</th></tr></thead><tbody>${stops.map(
    ({ hut, hours, note }) =>
      html`<tr><th scope="row"><a href="${hut.address}">${hut.name}</a></th><td class="number">${hours === 0 ? '–' : `${number(making, hours)} ${say('hours')}`}</td><td>${note}</td></tr>`,
  )}</tbody></table></div></div>
<aside class="side" aria-label="${title}"><dl class="sheet">${facts.map(([name, value]) => html`<dt>${name}</dt><dd>${value}</dd>`)}</dl>${outlineList(body.outline, making)}
<section class="panel"><h2>${say('map')}</h2>${drawMap(
    stops.map(({ hut }) => hut),
    `${say('map')}: ${title}`,
  )}</section></aside></div>
${photos.length > 0 && html`<section><h2>${say('gallery')}</h2><div class="gallery">${photos.map(({ file, alt }) => html`<figure><img src="${addressOf(file)}" alt="${alt}" loading="lazy"><figcaption>${alt}</figcaption></figure>`)}</div></section>`}
${related.length > 0 && html`<section><h2>${say('related')}</h2>${linkList(related)}</section>`}
<nav class="turn" aria-label="${say('trails')}">${previous && html`<a rel="prev" href="${previous.address}"><span>${say('previous')}</span>${previous.title}</a>`}${next && html`<a rel="next" href="${next.address}"><span>${say('next')}</span>${next.title}</a>`}</nav></article>`
}

import type { Hut } from '#pantry'
import { bookings, huts, regions, wardens } from '#pantry'
import { type Html, Html as HtmlText, html } from '../html.ts'
import { drawMap } from '../map.ts'
import type { Making, Section } from '../page.ts'
import { currentNotices, day, noticeList, number, trailCards, trailsById } from '../parts.ts'
import { pictureOf } from '../pictures.ts'

/** A list of all huts, and a page for each: the trails that pass, the wardens, the stays. */
export const hutPages: Section = {
  paths: async () => ['/huts/', ...(await huts.toArray()).map(({ address }) => address)],
  async page(path, making) {
    if (path === '/huts/') return drawList(making)
    const hut = await huts.where((one) => one.address.is(path)).first()
    const description = hut && `${hut.name}: ${hut.beds} ${making.say('beds')}, ${hut.elevation} ${making.say('above')}`
    return hut && description ? { title: hut.name, description, main: await drawHut(hut, making) } : undefined
  },
}

async function drawList(making: Making) {
  const { say } = making
  const groups = await huts.sort((hut) => hut.name).groupBy((hut) => hut.region)
  const all = await huts.toArray()
  const sections = groups.map(async ({ value, entries }) => {
    // Huts all have a region; of another field, those without one would be a group of their own.
    if (value === null) return ''
    const { id, name } = await regions.byId(value)
    return html`<section><h2><a href="/regions/${id}/">${name}</a></h2><ul class="cards">${entries.map(
      ({ name: hut, address, beds, elevation, facilities }) =>
        html`<li class="card"><h3><a href="${address}">${hut}</a></h3><p class="facts">${beds} ${say('beds')} · ${number(making, elevation)} ${say('above')}</p><p>${facilities.join(', ')}</p></li>`,
    )}</ul></section>`
  })
  const main = html`<div class="wrap"><h1>${say('huts')}</h1><div class="panel">${drawMap(all, say('map'), { width: 1000, height: 420, isWay: false })}</div>${await Promise.all(sections)}</div>`
  return { title: say('huts'), description: say('huts'), main }
}

async function drawHut(hut: Hut, making: Making): Promise<Html> {
  const { say, today } = making
  const region = await regions.byId(hut.region)
  const keepers = await Promise.all(hut.wardens.map((id) => wardens.byId(id)))
  const passing = await trailsById(hut.trails)
  const notices = await currentNotices(making)
    .where((notice) => notice.huts.includes(hut.id))
    .toArray()
  const stays = await bookings
    .where((booking) => booking.hut.is(hut.id).and(booking.until.atLeast(today)))
    .sort((booking) => booking.from)
    .toArray()
  const own = making.locale === 'en' ? undefined : hut.names?.[making.locale]
  return html`<article class="wrap"><h1>${own ?? hut.name}</h1>${own !== undefined && html`<p class="lead">${hut.name}</p>`}
${notices.length > 0 && html`<section class="panel"><h2>${say('notices')}</h2>${noticeList(notices, making)}</section>`}
<div class="columns"><div class="prose">${hut.photo && html`<figure>${pictureOf(hut.photo, '(min-width: 60rem) 46rem, 100vw')}</figure>`}
${hut.directions && html`<h2>${say('directions')}</h2>${new HtmlText(hut.directions.html)}`}
<h2>${say('passing')}</h2>${passing.length > 0 ? await trailCards(passing, making) : html`<p>${say('none')}</p>`}
${stays.length > 0 && html`<h2>${say('stays')}</h2><ul>${stays.map(({ from, until, beds }) => html`<li>${day(making, from)} – ${day(making, until)}: ${beds} ${say('beds')}</li>`)}</ul>`}</div>
<aside class="side" aria-label="${hut.name}"><dl class="sheet"><dt>${say('region')}</dt><dd><a href="/regions/${region.id}/">${region.name}</a></dd>
<dt>${say('beds')}</dt><dd>${hut.beds}</dd><dt>${say('above')}</dt><dd>${number(making, hut.elevation)}</dd>
<dt>${say('facilities')}</dt><dd>${hut.facilities.length > 0 ? hut.facilities.join(', ') : '–'}</dd><dt>${say('water')}</dt><dd>${hut.water.source}</dd>
<dt>${say('wardens')}</dt><dd><ul class="plain">${keepers.map(({ name, languages }) => html`<li>${name} <span class="facts">(${languages.join(', ')})</span></li>`)}</ul></dd></dl>
<section class="panel"><h2>${say('map')}</h2>${drawMap([hut], `${say('map')}: ${hut.name}`)}</section></aside></div></article>`
}

import { notices, regions, seasons, tags, terrains, trails } from '#pantry'
import { type Html, html } from '../html.ts'
import type { Making, Page, Section } from '../page.ts'
import { linkList, noticeList, trailCards, trailsById } from '../parts.ts'

/** A page for every region, season, kind of ground and tag: what belongs to it. */
export const taxonomyPages: Section = {
  async paths() {
    const lists = await Promise.all(
      [regions, seasons, terrains, tags].map(async (one) =>
        (await one.toArray()).map(({ id }) => `/${one.name}/${id}/`),
      ),
    )
    return lists.flat()
  },
  async page(path, making) {
    const [, collection, id = ''] = /^\/(regions|seasons|terrains|tags)\/([^/]+)\/$/.exec(path) ?? []
    const found = collection === undefined ? undefined : await DRAW[collection]?.(id, making)
    return found && draw(found)
  },
}

interface Found {
  readonly title: string
  readonly text: string
  readonly list: Html
}

const draw = ({ title, text, list }: Found): Page => ({
  title,
  description: text || title,
  main: html`<div class="wrap"><h1>${title}</h1>${text !== '' && html`<p class="lead">${text}</p>`}${list}</div>`,
})

const DRAW: Readonly<Record<string, (id: string, making: Making) => Promise<Found | undefined>>> = {
  async regions(id, making) {
    const region = await regions.byId(id as string)
    if (!region) return undefined
    const near = await Promise.all(region.neighbours.map((one) => regions.byId(one)))
    const links = linkList(near.map(({ id: other, name }) => ({ address: `/regions/${other}/`, title: name })))
    const list = html`${await trailCards(await trailsById(region.trails), making)}<h2>${making.say('neighbours')}</h2>${links}`
    return { title: region.name, text: region.summary, list }
  },
  async seasons(id, making) {
    const season = await seasons.byId(id as string)
    if (!season) return undefined
    const walked = await trails.where((trail) => trail.seasons.includes(season.id)).toArray()
    return { title: season.name, text: '', list: await trailCards(walked, making) }
  },
  async terrains(id, making) {
    const terrain = await terrains.byId(id as string)
    if (!terrain) return undefined
    const walked = await trails.where((trail) => trail.terrains.includes(terrain.id)).toArray()
    return { title: terrain.name, text: terrain.advice, list: await trailCards(walked, making) }
  },
  async tags(id, making) {
    const tag = await tags.byId(id as string)
    if (!tag) return undefined
    const list = noticeList(await notices.where((notice) => notice.tags.includes(tag.id)).toArray(), making)
    return { title: `${making.say('tag')}: ${tag.name}`, text: tag.note ?? '', list }
  },
}

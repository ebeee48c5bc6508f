import { regions, trails } from '#pantry'
import { html } from '../html.ts'
import type { Making, Section } from '../page.ts'
import { trailCards } from '../parts.ts'

const ORDERS = ['title', 'distance', 'ascent', 'opened'] as const
type Order = (typeof ORDERS)[number]

/** The path of a list: `/trails/`, `/trails/in/saltedge/`, `/trails/in/saltedge/by-ascent/`. */
const pathOf = (region: string | undefined, order: Order): string =>
  `/trails/${region === undefined ? '' : `in/${region}/`}${order === 'title' ? '' : `by-${order}/`}`

/** Lists of trails: of all regions or one, in four orders. Each is a page, so that none of it takes a script. */
export const trailList: Section = {
  async paths() {
    const ids = (await regions.toArray()).map(({ id }) => id)
    return [undefined, ...ids].flatMap((region) => ORDERS.map((order) => pathOf(region, order)))
  },
  async page(path, making) {
    const { region, order = 'title' } =
      /^\/trails\/(?:in\/(?<region>[^/]+)\/)?(?:by-(?<order>\w+)\/)?$/.exec(path)?.groups ?? {}
    if (!/^\/trails\/(?:in\/[^/]+\/)?(?:by-\w+\/)?$/.test(path) || !isOrder(order)) return undefined
    const all = await regions.toArray()
    const found = all.find(({ id }) => id === region)
    if (region !== undefined && !found) return undefined
    const chosen = found ? trails.where((trail) => trail.region.is(found.id)) : trails
    const list = await sortBy(chosen, order).toArray()
    // Conditions on the region are left aside for its own counts, so that the other choices keep theirs.
    const { region: counts } = await chosen.facets((trail) => ({ region: trail.region }))
    const { say } = making
    const title = found ? `${say('trails')}: ${found.name}` : say('trails')
    const main = html`<div class="wrap"><h1>${title}</h1>${found && html`<p class="lead">${found.summary}</p>`}
<div class="choices"><nav aria-label="${say('region')}"><h2>${say('region')}</h2><ul>
${choice(pathOf(undefined, order), say('any'), await trails.count(), region === undefined)}
${all.map(({ id, name }) => choice(pathOf(id, order), name, counts.find(({ value }) => value === id)?.count ?? 0, id === region))}</ul></nav>
<nav aria-label="${say('order')}"><h2>${say('order')}</h2><ul>${ORDERS.map((one) => choice(pathOf(region, one), say(one), undefined, one === order))}</ul></nav></div>
${await trailCards(list, making)}</div>`
    return { title, description: found?.summary ?? title, main }
  },
}

const isOrder = (order: string): order is Order => (ORDERS as readonly string[]).includes(order)

function sortBy(query: Pick<typeof trails, 'sort'>, order: Order) {
  if (order === 'title') return query.sort((trail) => trail.title.ascending({ collation: 'en' }))
  return query.sort((trail) => [trail[order].descending(), trail.title.ascending()])
}

const choice = (path: string, name: string, count: Making['today'] | number | undefined, isChosen: boolean) =>
  html`<li><a href="${path}"${isChosen && html` aria-current="page"`}>${name}${count !== undefined && html` <span class="count">${count}</span>`}</a></li>`

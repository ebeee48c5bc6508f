// @ts-check
/** What the generated module is for: typed queries over the compiled content. */
import { events, huts, notices, site, trails, words } from '#pantry'

const today = '2026-11-25'

const walks = await trails
  .where((trail) => trail.seasons.includes('winter').and(trail.grade.isNot('hard')))
  .sort((trail) => [trail.region.name.ascending(), trail.hours.descending()])
  .toArray()

console.log(`${(await site.get()).name}: winter weekends without ropes`)
for (const trail of walks) {
  const beds = await Promise.all(trail.legs.map(async (leg) => (await huts.byId(leg.hut)).name))
  console.log(`  ${trail.title.padEnd(18)} ${trail.hours.toFixed(2).padStart(5)} h  ${beds.join(' → ')}`)
}

const current = notices.where((notice) =>
  notice.starts.atMost(today).and(notice.expires.isAbsent().or(notice.expires.atLeast(today))),
)
const closed = await current.where((notice) => notice.severity.is('closed')).toArray()

console.log(`\n${await current.count()} notices today, ${closed.length} paths closed`)
for (const notice of closed) console.log(`  ${notice.title} (${notice.trails.join(', ')})`)

for (const event of await events.sort((one) => one.starts).toArray()) {
  const where = event.kind === 'walk' ? `${event.places} places` : (await huts.byId(event.hut)).name
  console.log(`\n${event.starts.slice(0, 10)}  ${event.title}, ${where}`)
}

const norwegian = await words.inLocale('no').toArray()
console.log(
  `\nPå norsk: ${norwegian.map(({ word, locale }) => (locale === 'no' ? word : `${word} (${locale})`)).join(', ')}`,
)

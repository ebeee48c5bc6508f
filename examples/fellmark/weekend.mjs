// @ts-check
/** What the generated module is for: typed queries over the compiled content. */
import { huts, notices, trails } from '#pantry'

const today = '2026-11-25'

const walks = await trails
  .where((trail) => trail.seasons.includes('winter').and(trail.grade.isNot('hard')))
  .sort((trail) => [trail.region.name.ascending(), trail.distance.descending()])
  .toArray()

console.log('Winter weekends without ropes')
for (const trail of walks) {
  const beds = await Promise.all(trail.legs.map(async (leg) => (await huts.byId(leg.hut)).name))
  console.log(`  ${trail.title.padEnd(18)} ${trail.distance.toFixed(1).padStart(5)} km  ${beds.join(' → ')}`)
}

const current = notices.where((notice) =>
  notice.starts.atMost(today).and(notice.expires.isAbsent().or(notice.expires.atLeast(today))),
)
const closed = await current.where((notice) => notice.severity.is('closed')).toArray()

console.log(`\n${await current.count()} notices today, ${closed.length} paths closed`)
for (const notice of closed) console.log(`  ${notice.title} (${notice.trails.join(', ')})`)

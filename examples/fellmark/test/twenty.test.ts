import { fileURLToPath } from 'node:url'
import { beforeAll, expect, test } from 'vitest'
import { answerQuestion, buildSite, createNodeHost, openContent, type Question } from 'zinc-pantry/engine'
import { byScore, distance, type Site, within } from 'zinc-pantry/query'

const ROOT = fileURLToPath(new URL('..', import.meta.url))
const options = { host: createNodeHost(ROOT), configurationFile: 'pantry.config.ts' }

/** The compiled content, typed as a site's own code sees it. */
const load = () => import('#pantry')
type Content = Awaited<ReturnType<typeof load>>

let site: Site
let content: Content
beforeAll(async () => {
  expect((await buildSite(options)).output).toBeDefined()
  site = (await openContent(options)).site
  content = await load()
})

/** Rows of the text form, which the command prints. */
const rowsOf = (some: readonly object[]): readonly unknown[][] => some.map((one) => Object.values(one))

const POINT = { latitude: 54.7, longitude: -3.02 }
const BOX = { south: 54.65, west: -3.1, north: 54.8, east: -2.9 }

/** Questions of a site: what is asked, in TypeScript and as text, and the answer, looked up by hand. */
const QUESTIONS: readonly (readonly [
  asked: string,
  typed: (all: Content) => Promise<readonly object[]>,
  written: Question,
  answer: readonly (readonly unknown[])[],
])[] = [
  [
    'the trails of most legs',
    ({ trails }) =>
      trails
        .where((trail) => trail.legs.count().atLeast(3))
        .sort((trail) => [trail.legs.count().descending(), trail.title])
        .pick((trail) => ({ title: trail.title, legs: trail.legs.count() }))
        .toArray(),
    { collection: 'trails', where: 'legs.count() >= 3', sort: '-legs.count(),title', fields: 'title,legs.count()' },
    [
      ['Forty-One Tarns', 4],
      ['Over the Scarps', 3],
      ['The High Traverse', 3],
    ],
  ],
  [
    'the longest days',
    ({ trails }) =>
      trails
        .where((trail) => trail.legs.sum((leg) => leg.hours).above(8))
        .sort((trail) => trail.legs.sum((leg) => leg.hours).descending())
        .pick((trail) => ({ title: trail.title, hours: trail.legs.sum((leg) => leg.hours) }))
        .toArray(),
    {
      collection: 'trails',
      where: 'legs.sum(hours) > 8',
      sort: '-legs.sum(hours)',
      fields: 'title,legs.sum(hours)',
    },
    [
      ['Forty-One Tarns', 21.5],
      ['The High Traverse', 10.5],
    ],
  ],
  [
    'how far the hard trails are together',
    async ({ trails }) => {
      const { count, sum, mean, minimum, maximum } = await trails
        .where((trail) => trail.grade.is('hard'))
        .statistics((trail) => trail.distance)
      return [{ field: 'distance', count, sum, mean, minimum, maximum }]
    },
    { collection: 'trails', where: 'grade = hard', statistics: 'distance' },
    [['distance', 4, 108.5, 27.125, 9.1, 52.6]],
  ],
  [
    'the months of the notices',
    async ({ notices }) => byCount(await notices.facets((notice) => ({ month: notice.starts.month() })), 'month'),
    { collection: 'notices', groups: 'starts.month()', limit: 2 },
    [
      ['2026-11', 4],
      ['2026-03', 1],
    ],
  ],
  [
    'huts by their first letters',
    async ({ huts }) => byCount(await huts.facets((hut) => ({ letter: hut.name.initial() })), 'letter'),
    { collection: 'huts', groups: 'name.initial()', limit: 3 },
    [
      ['B', 2],
      ['R', 2],
      ['S', 2],
    ],
  ],
  [
    'small and large huts',
    async ({ huts }) => byCount(await huts.facets((hut) => ({ beds: hut.beds.band(0, 10, 20) })), 'beds'),
    { collection: 'huts', groups: 'beds.band(0, 10, 20)' },
    [
      [10, 7],
      [20, 5],
      [0, 2],
    ],
  ],
  [
    'trails by region and grade',
    async ({ trails }) => {
      const { cells } = await trails.facets((trail) => ({ cells: [trail.region.name, trail.grade] }))
      return cells.slice(0, 2).map(({ value: [region, grade], count }) => ({ region, grade, count }))
    },
    { collection: 'trails', groups: 'region.name,grade', limit: 2 },
    [
      ['Lowmark', 'easy', 2],
      ['North Fell', 'moderate', 2],
    ],
  ],
  [
    'the longest trail of each region',
    async ({ trails }) => {
      const groups = await trails
        .sort((trail) => trail.distance.descending())
        .pick((trail) => ({ title: trail.title }))
        .groupBy((trail) => trail.region.name, { limit: 1 })
      const ordered = groups.toSorted((a, b) => b.count - a.count)
      return ordered
        .slice(0, 2)
        .flatMap(({ value, count, entries }) => entries.map(({ title }) => ({ value, count, title })))
    },
    { collection: 'trails', groups: 'region.name', each: 1, sort: '-distance', fields: 'title', limit: 2 },
    [
      ['North Fell', 4, 'The High Traverse'],
      ['Tarnside', 4, 'Forty-One Tarns'],
    ],
  ],
  [
    'chapters with the number of their pages',
    async ({ handbook }) =>
      (await handbook.tree()).flatMap((chapter) =>
        [chapter, ...chapter.children].map(({ entry, below }) => ({ title: entry.title, below })),
      ),
    { collection: 'handbook', fields: 'title', tree: true },
    [
      ['Huts', 2],
      ['The stove', 0],
      ['Water', 0],
      ['Paths', 1],
      ['Signs', 0],
      ['Weather', 0],
    ],
  ],
  [
    'notices that end on the day on which they begin, or before',
    ({ notices }) =>
      notices
        .where((notice) => notice.expires.atMost(notice.starts))
        .pick((notice) => ({ title: notice.title }))
        .toArray(),
    { collection: 'notices', where: 'expires <= @.starts', fields: 'title' },
    [],
  ],
  [
    'a hut in any writing of its name',
    ({ huts }) =>
      huts
        .where((hut) => hut.name.folded().includes('GÁBLE'))
        .pick((hut) => ({ name: hut.name }))
        .toArray(),
    { collection: 'huts', where: 'name.folded() includes "GÁBLE"', fields: 'name' },
    [['Gable Hut']],
  ],
  [
    'titles of a pattern',
    ({ trails }) =>
      trails
        .where((trail) => trail.title.matches('^The .*e$'))
        .pick((trail) => ({ title: trail.title }))
        .toArray(),
    { collection: 'trails', where: 'title matches "^The .*e$"', fields: 'title' },
    [['The High Traverse'], ['The Marsh Line']],
  ],
  [
    'regions with their hardest trails',
    ({ regions }) =>
      regions
        .pick((region) => ({
          name: region.name,
          trails: region.trails.each((trail) => trail.title, {
            where: (trail) => trail.grade.is('hard'),
            sort: (trail) => trail.distance.descending(),
            limit: 3,
          }),
        }))
        .limit(3)
        .toArray(),
    {
      collection: 'regions',
      fields: 'name,trails.each(title; where grade = hard; sort -distance; limit 3)',
      limit: 3,
    },
    [
      ['North Fell', ['The High Traverse']],
      ['Tarnside', ['Forty-One Tarns']],
      ['Lowmark', []],
    ],
  ],
  [
    'wardens with the trails that pass their huts',
    ({ wardens }) =>
      wardens
        .where((warden) => warden.huts.some((hut) => hut.trails.some((trail) => trail.grade.is('hard'))))
        .sort((warden) => warden.name)
        .limit(1)
        .pick((warden) => ({ name: warden.name, huts: warden.huts.each((hut) => hut.name) }))
        .toArray(),
    {
      collection: 'wardens',
      where: 'huts.trails.grade = hard',
      sort: 'name',
      limit: 1,
      fields: 'name,huts.each(name)',
    },
    [['Ines Calloway', ['Raven Shelf', 'Windgate']]],
  ],
  [
    'what speaks of a region, and of which',
    ({ notices }) =>
      notices
        .where((notice) => notice.about.collection.is('regions'))
        .pick((notice) => ({ title: notice.title, about: notice.about.id }))
        .toArray(),
    { collection: 'notices', where: 'about.collection = regions', fields: 'title,about.id' },
    [
      ['Keep to the marked line while terns nest', 'saltedge'],
      ['Lambing in Lowmark', 'lowmark'],
    ],
  ],
  [
    'huts with a name in Norwegian',
    ({ huts }) =>
      huts
        .where((hut) => hut.names.keys().includes('no'))
        .pick((hut) => ({ name: hut.name, no: hut.names.at('no') }))
        .toArray(),
    { collection: 'huts', where: 'names.keys() includes no', fields: 'name,names.no' },
    [
      ['Gable Hut', 'Gavlhytta'],
      ['Samphire', 'Strandhytta'],
    ],
  ],
  [
    'what says most of stone, then by title',
    ({ trails }) =>
      trails
        .search('stone')
        .sort((trail) => [byScore, trail.title])
        .pick((trail) => ({ title: trail.title }))
        .limit(2)
        .toArray(),
    { collection: 'trails', search: 'stone', sort: 'score(),title', fields: 'title', limit: 2 },
    [['The High Traverse'], ['The Shingle Walk']],
  ],
  [
    'trails by grade, the easy ones first',
    ({ trails }) =>
      trails
        .sort((trail) => [trail.grade.ordinal().descending(), trail.title])
        .pick((trail) => ({ grade: trail.grade, title: trail.title }))
        .limit(2)
        .toArray(),
    { collection: 'trails', sort: '-grade.ordinal(),title', fields: 'grade,title', limit: 2 },
    [
      ['hard', 'Forty-One Tarns'],
      ['hard', 'Over the Scarps'],
    ],
  ],
  [
    'three trails by chance, the same each time',
    ({ trails }) =>
      trails
        .sort((trail) => trail.id.shuffled(7))
        .pick((trail) => ({ title: trail.title }))
        .limit(3)
        .toArray(),
    { collection: 'trails', sort: 'id.shuffled(7)', fields: 'title', limit: 3 },
    [['Forty-One Tarns'], ['Over the Scarps'], ['Stony Door']],
  ],
  [
    'the nearest huts on a map',
    ({ huts }) =>
      huts
        .where((hut) => within(hut.position, BOX))
        .sort((hut) => distance(hut.position, POINT))
        .pick((hut) => ({ name: hut.name }))
        .toArray(),
    {
      collection: 'huts',
      where: 'position.within(54.65, -3.1, 54.8, -2.9)',
      sort: 'position.distance(54.7, -3.02)',
      fields: 'name',
    },
    [['Cairnfoot'], ['Gable Hut'], ['Skerry Stone']],
  ],
]

/** The first counts of a facet. */
const byCount = <Name extends string>(
  facets: Readonly<Record<Name, readonly { readonly value: unknown; readonly count: number }[]>>,
  name: Name,
): readonly object[] => facets[name].slice(0, 3).map(({ value, count }) => ({ value, count }))

test.each(QUESTIONS)('%s', async (_, typed, written, answer) => {
  const found = rowsOf(await typed(content))
  const text = await answerQuestion(site, written)
  if ('problem' in text) throw new Error(text.problem.message)
  const { rows, members } = text
  const flat = members ? rows.flatMap((row, at) => (members.rows[at] ?? []).map((own) => [...row, ...own])) : rows
  expect(flat).toEqual(answer)
  expect(found.slice(0, flat.length)).toEqual(answer)
})

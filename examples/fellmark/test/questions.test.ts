import { fileURLToPath } from 'node:url'
import { beforeAll, describe, expect, expectTypeOf, test } from 'vitest'
import { buildSite, createNodeHost, hasErrors } from 'zinc-pantry/engine'

const ROOT = fileURLToPath(new URL('..', import.meta.url))

beforeAll(async () => {
  const report = await buildSite({ host: createNodeHost(ROOT), configurationFile: 'pantry.config.ts' })
  expect(hasErrors(report.diagnostics)).toBe(false)
})

/** The compiled content, typed as a site's own code sees it. */
const load = () => import('#pantry')

/** All entries of a collection by their ids, for answers that are worked out by hand. */
async function table<Entry extends { readonly id: string }>(collection: {
  toArray(): Promise<readonly Entry[]>
}): Promise<Map<string, Entry>> {
  return new Map((await collection.toArray()).map((entry) => [entry.id, entry]))
}

const idsOf = (entries: readonly { readonly id: string }[]): string[] => entries.map(({ id }) => id).sort()

describe('All fields and one more', () => {
  test('of an entry, and of a group in it', async () => {
    const { trails, huts } = await load()
    const picked = await trails.pick((trail) => ({ ...trail, regionName: trail.region.name })).toArray()
    const [first] = picked
    expectTypeOf(first?.regionName).toEqualTypeOf<string | undefined>()
    expectTypeOf(first?.grade).toEqualTypeOf<'easy' | 'moderate' | 'hard' | undefined>()
    const entries = await table(trails)
    const { regions } = await load()
    const names = new Map((await regions.toArray()).map(({ id, name }) => [id, name]))
    for (const { regionName, ...rest } of picked) {
      const {
        collection: _,
        source: __,
        ...entry
      } = entries.get(rest.id) as NonNullable<ReturnType<typeof entries.get>>
      expect(rest).toEqual(entry)
      expect(regionName).toBe(names.get(entry.region))
    }
    const [hut] = await huts.pick((one) => ({ ...one.water, name: one.name })).toArray()
    expect(Object.keys(hut ?? {}).sort()).toEqual(['drinkable', 'name', 'seasons', 'source'])
  })
})

describe('What may be missing is null, in types and in answers', () => {
  test('a field that not every variant has', async () => {
    const { events } = await load()
    const picked = await events
      .pick((event) => ({ kind: event.kind, slides: event.slides, trail: event.trail.title }))
      .toArray()
    expectTypeOf(picked).toEqualTypeOf<
      readonly { readonly kind: 'walk' | 'talk'; readonly slides: boolean | null; readonly trail: string | null }[]
    >()
    expect(new Set(picked.map(({ kind }) => kind))).toEqual(new Set(['walk', 'talk']))
    for (const { kind, slides, trail } of picked) {
      expect(slides === null).toBe(kind === 'walk')
      expect(trail === null).toBe(kind === 'talk')
    }
    expect(await events.where((event) => event.slides.isAbsent()).count()).toBe(
      picked.filter(({ kind }) => kind === 'walk').length,
    )
  })

  test('a field that not every block has', async () => {
    const { front } = await load()
    const { panels } = await front.get()
    const blocks = panels.map(({ block }) => block)
    expect(new Set(blocks).size).toBeGreaterThan(1)
    for (const panel of panels) if (panel.block === 'hero') expectTypeOf(panel.block).toEqualTypeOf<'hero'>()
  })

  test('what lies behind an optional reference, also into its own collection', async () => {
    const { handbook } = await load()
    const pages = await table(handbook)
    const picked = await handbook
      .sort((page) => page.chapter.title.ascending({ absent: 'first' }))
      .pick((page) => ({ id: page.id, chapter: page.chapter.title, above: page.chapter.chapter.title }))
      .toArray()
    expectTypeOf(picked).toEqualTypeOf<
      readonly { readonly id: string; readonly chapter: string | null; readonly above: string | null }[]
    >()
    const titleOf = (id: string | null | undefined): string | null => pages.get(id ?? '')?.title ?? null
    for (const { id, chapter, above } of picked) {
      const parent = pages.get(id)?.chapter
      expect([chapter, above]).toEqual([titleOf(parent), titleOf(pages.get(parent ?? '')?.chapter)])
    }
    const below = await handbook
      .where((page) => page.chapter.chapter.isAbsent().and(page.chapter.isPresent()))
      .toArray()
    expect(idsOf(below)).toEqual(
      idsOf([...pages.values()].filter(({ chapter }) => chapter && !pages.get(chapter)?.chapter)),
    )
  })

  test('what is in an optional group, and in lists of one', async () => {
    const { gear, huts, trails } = await load()
    const all = await table(trails)
    const tested = await gear
      .pick((one) => ({ id: one.id, trail: one.testedOn.trail.title, weight: one.weight }))
      .toArray()
    expectTypeOf(tested).toEqualTypeOf<
      readonly { readonly id: string; readonly trail: string | null; readonly weight: number | null }[]
    >()
    const advice = await table(gear)
    for (const { id, trail } of tested)
      expect(trail).toBe(all.get(advice.get(id)?.testedOn?.trail ?? '')?.title ?? null)
    const water = await huts
      .pick((hut) => ({ id: hut.id, seasons: hut.water.seasons.each((season) => season.name) }))
      .toArray()
    expectTypeOf(water[0]?.seasons).toEqualTypeOf<readonly string[] | null | undefined>()
    const known = await table(huts)
    for (const { id, seasons } of water)
      expect(seasons?.length ?? null).toBe(known.get(id)?.water.seasons?.length ?? null)
  })
})

describe('References are followed in both directions', () => {
  test('from trails to the wardens of the huts on their legs, and from wardens to their trails', async () => {
    const { huts, trails, wardens } = await load()
    const [hutTable, wardenTable] = [await table(huts), await table(wardens)]
    for (const warden of wardenTable.values()) {
      const found = await trails
        .where((trail) => trail.legs.some((leg) => leg.hut.wardens.some((one) => one.name.is(warden.name))))
        .toArray()
      const expected = (await trails.toArray()).filter(({ legs }) =>
        legs.some(({ hut }) => hutTable.get(hut)?.wardens.some((id) => wardenTable.get(id)?.name === warden.name)),
      )
      expect(idsOf(found)).toEqual(idsOf(expected))
    }
  })

  test('through what refers to an entry, and on from there', async () => {
    const { huts, regions, trails } = await load()
    const hard = await regions.where((region) => region.trails.some((trail) => trail.grade.is('hard'))).toArray()
    const graded = (await trails.toArray()).filter(({ grade }) => grade === 'hard')
    expect(idsOf(hard)).toEqual([...new Set(graded.map(({ region }) => region))].sort())
    const quiet = await huts.where((hut) => hut.trails.none((trail) => trail.grade.is('hard'))).toArray()
    const busy = new Set(graded.flatMap(({ legs }) => legs.map(({ hut }) => hut)))
    expect(idsOf(quiet)).toEqual(idsOf((await huts.toArray()).filter(({ id }) => !busy.has(id))))
  })

  test('in facets and groups', async () => {
    const { huts, trails, regions } = await load()
    const names = await table(regions)
    const facets = await trails.facets((trail) => ({
      region: trail.region.name,
      huts: trail.legs.each((leg) => leg.hut),
    }))
    const counts = new Map<string, number>()
    for (const { region } of await trails.toArray()) {
      const name = names.get(region)?.name ?? ''
      counts.set(name, (counts.get(name) ?? 0) + 1)
    }
    expect(new Map(facets.region.map(({ value, count }) => [value, count]))).toEqual(counts)
    for (const { value, count } of facets.huts)
      expect(count).toBe((await trails.toArray()).filter(({ legs }) => legs.some(({ hut }) => hut === value)).length)
    const groups = await huts.groupBy((hut) => hut.region.name)
    expect(groups.map(({ value }) => value)).toEqual(groups.map(({ value }) => value).toSorted())
    expect(groups.flatMap(({ entries }) => idsOf(entries)).sort()).toEqual(idsOf(await huts.toArray()))
  })
})

describe('What is computed of values can be asked for as if it were written', () => {
  test('numbers of lists and of relations: in conditions, orders and picks', async () => {
    const { regions, trails } = await load()
    const sumOf = (legs: readonly { readonly hours: number }[]): number =>
      legs.reduce((sum, { hours }) => sum + hours, 0)
    const long = await trails
      .where((trail) => trail.legs.sum((leg) => leg.hours).above(8))
      .sort((trail) => trail.legs.sum((leg) => leg.hours).descending())
      .pick((trail) => ({
        id: trail.id,
        hours: trail.legs.sum((leg) => leg.hours),
        longest: trail.legs.maximum((leg) => leg.hours),
      }))
      .toArray()
    expectTypeOf(long).toEqualTypeOf<
      readonly { readonly id: string; readonly hours: number; readonly longest: number | null }[]
    >()
    const expected = (await trails.toArray()).filter(({ legs }) => sumOf(legs) > 8)
    expect(long.map(({ hours }) => hours)).toEqual(expected.map(({ legs }) => sumOf(legs)).sort((a, b) => b - a))
    const busy = await regions.where((region) => region.trails.count().atLeast(4)).toArray()
    const all = await trails.toArray()
    for (const { id } of busy) expect(all.filter(({ region }) => region === id).length).toBeGreaterThanOrEqual(4)
    const { sum, mean } = await trails.where((trail) => trail.grade.is('hard')).statistics((trail) => trail.distance)
    const distances = all.filter(({ grade }) => grade === 'hard').map(({ distance }) => distance)
    expect(sum).toBeCloseTo(distances.reduce((total, one) => total + one, 0))
    expect(mean).toBeCloseTo(sum / distances.length)
  })

  test('groups by parts of values, of two fields, and of the first few', async () => {
    const { huts, notices, trails } = await load()
    const months = await notices.groupBy((notice) => notice.starts.month())
    expectTypeOf(months[0]?.value).toEqualTypeOf<string | null | undefined>()
    for (const { value, entries } of months) for (const { starts } of entries) expect(starts.slice(0, 7)).toBe(value)
    const cells = await trails.groupBy((trail) => [trail.region, trail.grade], { limit: 1 })
    for (const { value, count, entries } of cells) {
      const [region, grade] = value
      if (region === null || grade === null) throw new Error('Both are always there')
      expectTypeOf(grade).toEqualTypeOf<'easy' | 'moderate' | 'hard'>()
      expect(await trails.where((trail) => trail.region.is(region).and(trail.grade.is(grade))).count()).toBe(count)
      expect(entries).toHaveLength(1)
    }
    const { region, beds, letters } = await huts.facets((hut) => ({
      region: { by: hut.region, label: hut.region.name },
      beds: hut.beds.band(0, 20),
      letters: hut.name.initial(),
    }))
    expectTypeOf(region[0]?.label).toEqualTypeOf<string | null | undefined>()
    expect(region).toContainEqual({ value: 'north-fell', label: 'North Fell', count: 3 })
    const known = await huts.toArray()
    expect(beds.find(({ value }) => value === 20)?.count).toBe(known.filter(({ beds: own }) => own >= 20).length)
    for (const { value, count } of letters)
      expect(count).toBe(known.filter(({ name }) => name.startsWith(value)).length)
  })

  test('a field beside another, texts in any writing, positions, and orders of their own', async () => {
    const { byScore, distance, within } = await import('zinc-pantry/query')
    const { huts, notices, regions, trails } = await load()
    const ending = await notices.where((notice) => notice.starts.below(notice.expires)).toArray()
    expect(idsOf(ending)).toEqual(
      idsOf((await notices.toArray()).filter(({ starts, expires }) => expires !== null && starts < expires)),
    )
    // @ts-expect-error A day is not compared with a number.
    await expect(async () => trails.where((trail) => trail.opened.below(trail.ascent))).rejects.toThrow(
      'not compared with',
    )
    expect(idsOf(await huts.where((hut) => hut.name.folded().includes('GABLE')).toArray())).toEqual(['gable'])
    const point = { latitude: 54.7, longitude: -3.02 }
    const nearest = await huts
      .sort((hut) => distance(hut.position, point))
      .limit(2)
      .pick((hut) => ({ id: hut.id, km: distance(hut.position, point) }))
      .toArray()
    expect(nearest.map(({ id, km }) => [id, Math.round(km)])).toEqual([
      ['cairnfoot', 1],
      ['gable', 3],
    ])
    const box = { south: 54.65, west: -3.1, north: 54.8, east: -2.9 }
    expect(idsOf(await huts.where((hut) => within(hut.position, box)).toArray())).toEqual([
      'cairnfoot',
      'gable',
      'skerry-stone',
    ])
    const grades = await trails
      .sort((trail) => [trail.grade.ordinal(), trail.title])
      .pick((trail) => trail.grade)
      .toArray()
    expect([...new Set(grades)]).toEqual(['easy', 'moderate', 'hard'])
    const chance = (seed: number) =>
      trails
        .sort((trail) => trail.id.shuffled(seed))
        .limit(5)
        .pick((trail) => trail.id)
        .toArray()
    expect(await chance(1)).toEqual(await chance(1))
    expect(await chance(1)).not.toEqual(await chance(2))
    const found = await trails
      .search('stone')
      .sort((trail) => [byScore, trail.title])
      .toArray()
    expect(idsOf(found)).toEqual(idsOf(await trails.search('stone').toArray()))
    const picked = await regions
      .pick((region) => ({
        name: region.name,
        longest: region.trails.each((trail) => trail.title, {
          where: (trail) => trail.grade.isNot('easy'),
          sort: (trail) => trail.distance.descending(),
          limit: 1,
        }),
      }))
      .toArray()
    const all = await trails.toArray()
    const names = await table(regions)
    for (const { name, longest } of picked) {
      const own = all.filter(({ region, grade }) => names.get(region)?.name === name && grade !== 'easy')
      expect(longest).toEqual(
        own
          .sort((a, b) => b.distance - a.distance)
          .slice(0, 1)
          .map(({ title }) => title),
      )
    }
  })
})

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

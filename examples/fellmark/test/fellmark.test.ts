import { execFileSync } from 'node:child_process'
import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { beforeAll, describe, expect, test } from 'vitest'
import { buildSite, createNodeHost, hasErrors } from 'zinc-pantry/engine'

const ROOT = fileURLToPath(new URL('..', import.meta.url))

beforeAll(async () => {
  const report = await buildSite({ host: createNodeHost(ROOT), configurationFile: 'pantry.config.ts' })
  expect(hasErrors(report.diagnostics)).toBe(false)
})

/** The compiled content, typed as a site's own code sees it. */
const load = () => import('#pantry')

describe('The Fellmark demo', () => {
  test('has as many entries as its files say', async () => {
    const { huts, wardens, gear, handbook, stages, logbook, trails } = await load()
    const files = (folder: string, ending: RegExp) =>
      readdirSync(join(ROOT, 'content', folder), { recursive: true, encoding: 'utf8' }).filter((path) =>
        ending.test(path),
      ).length
    const lines = (file: string) =>
      readFileSync(join(ROOT, 'content', file), 'utf8')
        .trim()
        .split('\n').length
    expect(await huts.count()).toBe(files('huts', /\.yaml$/))
    expect(await wardens.count()).toBe(files('wardens', /\.json$/))
    expect(await gear.count()).toBe(files('gear', /\.mdx?$/))
    expect(await handbook.count()).toBe(files('handbook', /\.md$/))
    expect(await stages.count()).toBe(lines('stages.csv') - 1)
    expect(await logbook.count()).toBe(lines('logbook.jsonl'))
    // One trail is a draft.
    expect(await trails.count()).toBe(files('trails', /\.md$/) - 1)
  })

  test('connects both ways', async () => {
    const { huts, trails, regions, tags, notices } = await load()
    for (const hut of await huts.toArray()) {
      const passing = await trails.where((trail) => trail.legs.some((leg) => leg.hut.is(hut.id))).toArray()
      expect(hut.trails).toEqual(passing.map(({ id }) => id))
      expect(hut.address).toBe(`/huts/${hut.slug}/`)
    }
    for (const region of await regions.toArray())
      expect(region.trails).toEqual(
        (await trails.where((trail) => trail.region.is(region.id)).toArray()).map(({ id }) => id),
      )
    expect((await tags.byId('dogs')).name).toBe('Dogs')
    expect(await notices.where((notice) => notice.tags.includes('dogs')).count()).toBe(2)
  })

  test('keeps what is private and what is a draft to itself', async () => {
    const folder = join(ROOT, 'generated/pantry')
    const all = readdirSync(folder, { recursive: true, encoding: 'utf8' })
      .filter((path) => /\.(?:js|ts|json)$/.test(path))
      .map((path) => readFileSync(join(folder, path), 'utf8'))
    // Parts of the generation before may still be there; heads name the present ones.
    const head = all.find((text) => text.startsWith('// Generated') && text.includes('$.openSite')) ?? ''
    const parts = [...head.matchAll(/import\('\.\/([^']+)'\)/g)].map(([, part]) =>
      readFileSync(join(folder, part ?? ''), 'utf8'),
    )
    for (const text of [head, ...parts])
      expect(text).not.toMatch(/0550 0104|Family Orrell|R\. and the dog|long-lowmark|telephone|"guest"/)
  })

  test('has a front page, words in two languages, and instants in UTC', async () => {
    const { front, site, words, events } = await load()
    const { panels } = await front.get()
    expect(panels.map(({ block }) => block)).toEqual(['hero', 'picks', 'gallery'])
    const [hero] = panels
    if (hero?.block === 'hero')
      expect([hero.photo.width, hero.photo.height, hero.photo.kind]).toEqual([320, 200, 'png'])
    expect((await site.get()).accent).toBe('#3a6b35')
    expect((await words.inLocale('no').byId('tarn')).word).toBe('tjern')
    expect((await words.inLocale('no').byId('bield')).locale).toBe('en')
    expect((await events.byId('night-walk')).starts).toBe('2026-12-12T16:00:00.000Z')
  })

  test('bodies become pages, with the components of the site', () => {
    execFileSync(process.execPath, ['pages.mjs'], { cwd: ROOT, encoding: 'utf8' })
    const page = (path: string) => readFileSync(join(ROOT, 'generated/pages', path, 'index.html'), 'utf8')
    const traverse = page('trails/north-fell/high-traverse')
    expect(traverse).toContain('<aside class="care"><strong>Cloud on the ridge</strong>')
    expect(traverse).toContain('<img src="/files/pictures/ridge.png"')
    expect(traverse).toContain('href="/handbook/weather/#the-sky"')
    expect(page('gear/layers')).toContain('<dt>A thin fleece</dt><dd>260 g</dd>')
    expect(page('gear/crampons')).toContain('3 × <a href="/gear/layers/">Three thin layers</a>, 2340 g')
    expect(page('handbook/weather')).toMatch(/<figcaption>forecast\.json<\/figcaption>.*code-marked/s)
  })

  test('is searched with mistakes, and answers with marked words and facets', async () => {
    const { trails } = await load()
    const [hit] = await trails.search('rigde').hits()
    const marked = hit?.matches.flatMap(({ pieces }) => pieces.flatMap((one) => (one.isMatch ? [one.text] : [])))
    expect(marked).toContain('ridge')
    const { region } = await trails.facets((trail) => ({ region: trail.region.name }))
    expect(region.reduce((sum, { count }) => sum + count, 0)).toBe(await trails.count())
    const [first] = await trails.pick((trail) => ({ huts: trail.legs.each((leg) => leg.hut.name) })).toArray()
    expect(first?.huts.every((name) => /^[A-Z]/.test(name))).toBe(true)
    expect(await trails.related('north-fell/high-traverse', { limit: 2 })).toHaveLength(2)
  })

  test('the sample program runs', () => {
    const output = execFileSync(process.execPath, ['weekend.mjs'], { cwd: ROOT, encoding: 'utf8' })
    expect(output).toContain('winter weekends without ropes')
    expect(output).toContain('På norsk: bekk, bield (en), tjern')
  })
})

import { readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { gzipSync } from 'node:zlib'
import type { Browser } from 'playwright-core'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { REPOSITORY } from '../../zinc-pantry/test/helpers.ts'
import { launchBrowser } from '../../zinc-pantry/test/launch-browser.ts'
import { audit, type InspectedFolder, openFolder } from './open-inspector.ts'

let browser: Browser
let site: InspectedFolder
beforeAll(async () => {
  browser = await launchBrowser()
  site = await openFolder()
})
afterAll(async () => {
  await browser?.close()
  await site?.inspector.close()
})

/** All views, each with something in it. */
const VIEWS = [
  '/',
  '/collection?name=trails&f.grade=hard&sort=-distance',
  '/entry?name=huts/three-tarns',
  '/entry?name=trails/north-fell/high-traverse',
  '/entry?name=front/front',
  '/new?name=notices',
  '/model',
  '/model?name=events',
  '/model?block=callout',
  '/pages?address=/huts/gable/',
  '/problems',
  '/question?collection=huts&where=beds >= 10&facets=region&asked=yes',
]

describe('Every view', () => {
  for (const [width, colorScheme, audited] of [
    [1280, 'light', VIEWS.filter((path) => !/high-traverse|front|events|problems/.test(path))],
    // What differs by the width is the layout, by the scheme the colours: those are looked at where most of them are.
    [390, 'dark', VIEWS.slice(2, 3)],
  ] as const)
    test(`is accessible and says nothing in the console, ${width} wide and ${colorScheme}`, async () => {
      const { page, problems, go } = await site.open(browser, '/', { viewport: { width, height: 900 }, colorScheme })
      for (const path of VIEWS) {
        await go(path)
        if ((audited as readonly string[]).includes(path)) {
          await page.waitForTimeout(300)
          // The menu is the same everywhere.
          expect(await audit(page, path === '/' ? 'body' : 'main'), path).toEqual([])
        }
        const overflow = await page.evaluate('document.documentElement.scrollWidth - window.innerWidth')
        expect(overflow, path).toBeLessThanOrEqual(0)
      }
      expect(problems).toEqual([])
      await page.close()
    })

  test('The first load is at most 300 KB, gzipped', () => {
    const folder = join(REPOSITORY, 'packages/zinc-pantry/dist/inspect/page')
    const html = readFileSync(join(folder, 'index.html'), 'utf8')
    const named = [...html.matchAll(/(?:src|href)="\/(assets\/[^"]+)"/g)].map(([, path]) => path ?? '')
    const size = named.reduce((sum, path) => sum + gzipSync(readFileSync(join(folder, path))).length, 0)
    expect(named.length).toBeGreaterThan(1)
    expect(size).toBeLessThan(300_000)
    // What is written at each other start of the page comes with what is looked at.
    expect(readdirSync(join(folder, 'assets')).length).toBeGreaterThan(8)
  })
})

describe('Somebody looks around', () => {
  test('from the overview to a collection: sorts, filters, searches, and the address holds it all', async () => {
    const { page, problems } = await site.open(browser)
    await page.click('nav >> text=trails')
    await page.waitForSelector('[role=table]')
    const titles = () =>
      page.$$eval('.table [role=row] [role=cell]:nth-child(2)', (cells) => cells.map((cell) => cell.textContent))
    expect((await titles()).length).toBe(18)
    await page.click('[role=columnheader] >> text=distance')
    await page.click('[role=columnheader] >> text=distance')
    await expect.poll(titles).toEqual(expect.arrayContaining(['The High Traverse']))
    await page.click('.filter-list label >> text=hard')
    await expect.poll(async () => (await titles()).length).toBe(4)
    await page.fill('input[aria-label=Condition]', 'legs some (hut.beds >= 30)')
    await expect.poll(async () => (await titles()).length).toBeLessThan(4)
    const address = new URL(page.url())
    expect(address.pathname).toBe('/collection')
    expect(Object.fromEntries(address.searchParams)).toEqual({
      name: 'trails',
      sort: '-distance',
      'f.grade': 'hard',
      where: 'legs some (hut.beds >= 30)',
    })
    const seen = await titles()
    await page.reload()
    await expect.poll(titles).toEqual(seen)
    await page.click('text=Clear all')
    await expect.poll(async () => (await titles()).length).toBe(18)
    await page.fill('input[type=search]', 'ridge')
    await expect.poll(async () => (await titles()).length).toBeLessThan(18)
    await page.fill('input[type=search]', '')
    await page.fill('input[aria-label=Condition]', 'beds > 3')
    await page.waitForSelector('.notice.error >> text=Unknown field "beds"')
    expect(problems).toEqual([])
    await page.close()
  })

  test('chooses columns, also behind references, and takes the rows away as CSV and JSON', async () => {
    const { page } = await site.open(browser, '/collection?name=huts')
    await page.click('button >> text=Columns')
    await page
      .locator('.column-list li')
      .filter({ hasText: /^areanumber/ })
      .locator('input')
      .click()
    await page.keyboard.press('Escape')
    await page.waitForSelector('[role=columnheader] >> text=region.area')
    const download = async (words: string) => {
      await page.click('button >> text=Export')
      const [file] = await Promise.all([page.waitForEvent('download'), page.click(`text=${words}`)])
      return readFileSync(await file.path(), 'utf8')
    }
    const csv = await download('As CSV')
    expect(csv.split('\r\n')[0]).toBe('id,name,region,elevation,beds,photo,booked,region.area')
    expect(csv.split('\r\n').length).toBe(16)
    expect(JSON.parse(await download('As JSON'))).toHaveLength(14)
    await page.close()
  })

  test('sees the same answer as a calendar and as a map', async () => {
    const { page, problems } = await site.open(browser, '/collection?name=notices&f.severity=closed&month=2026-11')
    await page.locator('.tools select').selectOption('calendar')
    await page.waitForSelector('.calendar >> text=November 2026')
    const rockfall = page.locator('.calendar td', { has: page.locator('time[datetime="2026-11-09"]') })
    await expect.poll(() => rockfall.textContent()).toContain('Rockfall below the Ledge')
    await page.click('[aria-label="The month before"]')
    await page.waitForSelector('.calendar >> text=October 2026')
    expect(new URL(page.url()).searchParams.get('month')).toBe('2026-10')
    await page.goto(`${site.base}/collection?name=huts&f.region=tarnside&as=map`)
    await page.waitForSelector('.map a')
    expect(await page.$$eval('.map a text', (all) => all.map((one) => one.textContent))).toEqual([
      'Otter Bield',
      'Reedholm',
      'Three Tarns',
    ])
    expect(await audit(page, 'main')).toEqual([])
    await page.click('.map a >> text=Reedholm')
    await page.waitForSelector('h1 >> text=Reedholm')
    expect(problems).toEqual([])
    await page.close()
  })

  test('walks from an entry to what it is connected with, by the list and by the drawing', async () => {
    const { page } = await site.open(browser, '/entry?name=huts/gable')
    await page.click('.graph a >> nth=0')
    await page.waitForFunction("document.querySelector('h1')?.textContent !== 'Gable Hut'")
    await page.click('aside .rows a >> text=Gable Hut >> nth=0')
    await page.waitForSelector('h1 >> text=Gable Hut')
    await page.click('[role=tab] >> text=Source')
    expect(await page.textContent('.source')).toContain('elevation: 612')
    await page.goto(`${site.base}/entry?name=gear/boots-or-shoes`)
    await page.click('[role=tab] >> text=Preview')
    const frame = page.frameLocator('iframe[title="Its body"]')
    expect(await frame.locator('body').textContent()).toMatch(/\w{20,}|\w+ \w+ \w+/)
    expect(await page.getAttribute('iframe[title="Its body"]', 'sandbox')).toBe('')
    await page.close()
  })

  test('sees the model, what stands where in the configuration, and what a block is used for', async () => {
    const { page } = await site.open(browser, '/model')
    await page.click('.diagram a >> text=huts')
    await page.waitForSelector('h1 >> text=huts')
    await page.click('.model-table button >> text=elevation')
    await page.waitForSelector('.part >> text=pantry.config.ts:')
    await page.goto(`${site.base}/model?block=kit`)
    await page.waitForSelector('.part a')
    await page.close()
  })

  test('asks a question, with completion, and gets the code of it', async () => {
    const { page } = await site.open(browser, '/question')
    await page.selectOption('select', 'huts')
    await page.click('input[aria-label=Condition]')
    await page.keyboard.type('region.na')
    await page.waitForSelector('[role=option] >> text=region.name')
    await page.keyboard.press('Enter')
    await page.keyboard.type(' = Tarnside')
    await page.keyboard.press('Escape')
    await page.keyboard.press('Enter')
    await page.waitForSelector('.tabs table tbody tr')
    expect(await page.locator('.tabs table tbody tr').count()).toBe(3)
    await page.click('[role=tab] >> text=As code')
    expect(await page.textContent('.copied-code >> nth=0')).toContain(
      ".where((entry) => entry.region.name.is('Tarnside'))",
    )
    await page.click('[role=tab] >> text=Plan')
    expect(await page.textContent('.plan')).toContain('by the index')
    await page.close()
  })

  test('is not offered what comes too late: neither behind what was typed meanwhile, nor when it was taken back', async () => {
    const { page } = await site.open(browser, '/question')
    await page.selectOption('select', 'huts')
    // The answer to what was typed first comes last.
    await page.route('**/call/complete', async (route) => {
      const { text } = JSON.parse(route.request().postData() ?? '{}') as { readonly text: string }
      await new Promise((resolve) => setTimeout(resolve, text === 'be' ? 900 : 50))
      await route.continue()
    })
    await page.click('input[aria-label=Condition]')
    const late = page.waitForResponse(
      (one) => one.url().endsWith('/call/complete') && one.request().postData()?.includes('"be"') === true,
    )
    await page.keyboard.type('beds >= 40')
    await page.keyboard.press('Escape')
    await late
    await page.waitForTimeout(300)
    expect(await page.locator('[role=option]').count()).toBe(0)
    await page.keyboard.press('Enter')
    await page.waitForSelector('.tabs table tbody tr')
    expect(await page.inputValue('input[aria-label=Condition]')).toBe('beds >= 40')
    await page.close()
  })

  test('sees at once what another program saves, and problems with their mends', async () => {
    const { page, problems } = await site.open(browser, '/entry?name=huts/ledge')
    const path = join(site.root, 'content/huts/ledge.yaml')
    const before = readFileSync(path, 'utf8')
    writeFileSync(path, before.replace(/^name: .*$/m, 'name: The Ledge'))
    await page.waitForSelector('h1 >> text=The Ledge')
    writeFileSync(path, before.replace(/^elevation:/m, 'elevaton:'))
    await page.waitForSelector('.sidebar .count.error')
    await page.click('nav >> text=Problems')
    await page.waitForSelector('.problem >> text=Unknown field "elevaton"')
    await page.click('text=What is field-unknown?')
    await page.waitForSelector('.explanation pre')
    await page.click('button >> text=Mend it')
    await page.waitForSelector('.dialog .diff .added >> text=+elevation')
    await page.click('.dialog button >> text=Change 1 file')
    await page.waitForSelector('.notice.good >> text=Done')
    expect(readFileSync(path, 'utf8')).toBe(before)
    await page.click('.dialog button >> text=Undo it')
    await expect.poll(() => readFileSync(path, 'utf8')).toContain('elevaton')
    writeFileSync(path, before)
    await page.waitForSelector('text=There is no problem.')
    expect(problems).toEqual([])
    await page.close()
  })

  test('is told that the configuration is broken, and sees the site as it was', async () => {
    const { page } = await site.open(browser, '/collection?name=huts')
    const path = join(site.root, 'pantry.config.ts')
    const before = readFileSync(path, 'utf8')
    writeFileSync(path, before.replace('collections: {', 'collections: {{'))
    await page.waitForSelector('text=The configuration has errors.')
    expect(await page.locator('.table [role=row]').count()).toBe(15)
    writeFileSync(path, before)
    await page.waitForSelector('text=The configuration has errors.', { state: 'detached' })
    await page.close()
  })
})

import { readdirSync, readFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import { dirname, join } from 'node:path'
import { fileURLToPath } from 'node:url'
import type { Browser, Page } from 'playwright-core'
import { build, type PreviewServer, preview } from 'vite'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { launchBrowser } from '../../../packages/zinc-pantry/test/launch-browser.ts'

const root = join(dirname(fileURLToPath(import.meta.url)), '..')

interface Note {
  readonly id: string
  readonly hut: string
  readonly on: string
  readonly weather: string
  readonly stars: number
  readonly party: number
  readonly text: string
}

let browser: Browser
let server: PreviewServer
let address: string
let notes: readonly Note[]
const problems: string[] = []

beforeAll(async () => {
  await import('../generate.mjs')
  await build({ root, logLevel: 'silent' })
  server = await preview({ root, logLevel: 'silent', preview: { port: 0, host: '127.0.0.1' } })
  address = server.resolvedUrls?.local[0] ?? ''
  const folder = join(root, 'content/notes')
  notes = readdirSync(folder)
    .sort()
    .flatMap((file) => JSON.parse(readFileSync(join(folder, file), 'utf8')) as Note[])
  browser = await launchBrowser()
}, 120_000)
afterAll(async () => {
  await browser?.close()
  await server?.close()
})

async function open(search = '', settings = {}): Promise<Page> {
  const page = await browser.newPage(settings)
  page.on('pageerror', (error) => problems.push(error.message))
  page.on('console', (message) => message.type() === 'error' && problems.push(message.text()))
  await page.goto(address + search)
  await page.waitForSelector('form[data-shown]')
  return page
}
const ids = (page: Page): Promise<(string | undefined)[]> =>
  page.$$eval('.notes li', (all) => all.map((one) => (one as HTMLElement).dataset.id))
const total = async (page: Page): Promise<number> => Number((await page.textContent('.total'))?.replace(/\D/g, ''))
const counts = (page: Page, facet: string): Promise<Record<string, number>> =>
  page.$$eval(`[data-facet="${facet}"] label`, (all) =>
    Object.fromEntries(
      all.map((one) => [
        one.querySelector('input')?.value,
        Number(one.querySelector('output')?.textContent?.replace(/\D/g, '')),
      ]),
    ),
  )
/** How often each value comes, as an array tells it. */
function countBy(list: readonly Note[], value: (note: Note) => string | number): Record<string, number> {
  const found: Record<string, number> = {}
  for (const note of list) found[value(note)] = (found[value(note)] ?? 0) + 1
  return found
}
const newest = (a: Note, b: Note): number => (a.on < b.on ? 1 : a.on > b.on ? -1 : 0)

test('conditions, ranges, orders and counts are those of a filter over an array', async () => {
  const page = await open('?hut=gable&hut=beacon&weather=fog&from=2001-05-01&until=2015-12-31&party=4&sort=newest')
  const within = notes.filter((note) => note.on >= '2001-05-01' && note.on <= '2015-12-31' && note.party >= 4)
  const huts = ['gable', 'beacon']
  const wanted = within.filter((note) => huts.includes(note.hut) && note.weather === 'fog')
  expect(await total(page)).toBe(wanted.length)
  const dates = await page.$$eval('.notes time', (all) => all.map((one) => one.textContent))
  expect(dates).toEqual(
    wanted
      .toSorted(newest)
      .slice(0, 10)
      .map(({ on }) => on),
  )
  // Each facet leaves its own condition aside.
  expect(await counts(page, 'hut')).toEqual(
    countBy(
      within.filter((note) => note.weather === 'fog'),
      ({ hut }) => hut,
    ),
  )
  expect(await counts(page, 'weather')).toEqual(
    countBy(
      within.filter((note) => huts.includes(note.hut)),
      ({ weather }) => weather,
    ),
  )
  expect(await counts(page, 'stars')).toEqual(countBy(wanted, ({ stars }) => stars))
  await page.selectOption('#sort', 'stars')
  await expect
    .poll(() => page.$$eval('.notes .stars', (all) => all.map((one) => one.textContent?.length)))
    .toEqual(Array(10).fill(5))
  expect(await page.textContent('.plan')).toMatch(/notes\.weather[\s\S]*KB in \d+ requests/)
  await page.close()
})

test('words are found as they are typed, marked, and with others in the order that was asked for', async () => {
  const page = await open()
  expect(await total(page)).toBe(notes.length)
  await page.type('#words', 'ouzel')
  const wanted = notes.filter(({ text }) => text.includes('ouzel'))
  await expect.poll(() => total(page)).toBe(wanted.length)
  expect(new Set(await page.$$eval('.notes mark', (all) => all.map((one) => one.textContent)))).toEqual(
    new Set(['ouzel']),
  )
  await page.selectOption('#sort', 'oldest')
  await expect.poll(() => page.textContent('.notes time')).toBe(wanted.toSorted(newest).at(-1)?.on)
  await page.fill('#words', 'ouzle')
  await expect.poll(() => total(page)).toBe(wanted.length)
  await page.fill('#words', 'xyzzyx')
  await expect.poll(() => page.textContent('.total')).toBe('0 notes')
  await page.close()
})

test('a link brings back what was asked, and so do the buttons of the browser', async () => {
  const page = await open()
  await page.fill('#words', 'gutter')
  await page.check('[name="weather"][value="snow"]')
  await page.click('[data-step="1"]')
  await expect.poll(() => page.textContent('.pages span')).toMatch(/^Page 2 of/)
  expect(new URL(page.url()).search).toBe('?words=gutter&weather=snow&page=2')
  const shown = await ids(page)
  const other = await open(new URL(page.url()).search)
  expect(await ids(other)).toEqual(shown)
  expect(await other.inputValue('#words')).toBe('gutter')
  expect(await other.isChecked('[name="weather"][value="snow"]')).toBe(true)
  await page.goBack()
  await expect.poll(() => page.textContent('.pages span')).toMatch(/^Page 1 of/)
  await page.click('text=Start again')
  await expect.poll(() => total(page)).toBe(notes.length)
  expect(new URL(page.url()).search).toBe('')
  await Promise.all([page.close(), other.close()])
})

test('little is loaded, nothing goes wrong, and an audit finds nothing', async () => {
  const sizes: number[] = []
  const page = await browser.newPage()
  page.on('response', async (response) => sizes.push(Number((await response.allHeaders())['content-length'] ?? 0)))
  await page.goto(`${address}?weather=fog&sort=newest`)
  await page.waitForSelector('form[data-shown]')
  // The server does not compress; a whole collection would be 10 MB.
  expect(sizes.reduce((sum, size) => sum + size, 0)).toBeLessThan(1_500_000)
  const axe = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8')
  for (const settings of [{ colorScheme: 'light' }, { colorScheme: 'dark', viewport: { width: 390, height: 844 } }]) {
    const audited = await open('?words=otter', settings)
    await audited.evaluate(axe)
    const { violations } = (await audited.evaluate('axe.run()')) as {
      violations: { id: string; nodes: { html: string }[] }[]
    }
    expect(violations.map(({ id, nodes }) => `${id}: ${nodes[0]?.html}`)).toEqual([])
    expect(await audited.evaluate('document.documentElement.scrollWidth <= innerWidth')).toBe(true)
    await audited.close()
  }
  expect(problems).toEqual([])
})

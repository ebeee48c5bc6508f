import { execFileSync } from 'node:child_process'
import { cpSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import { dirname, join } from 'node:path'
import { fileURLToPath } from 'node:url'
import type { Browser, Page } from 'playwright-core'
import { createServer, type PreviewServer, preview } from 'vite'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { launchBrowser } from '../../../packages/zinc-pantry/test/launch-browser.ts'

const root = join(dirname(fileURLToPath(import.meta.url)), '..')
const axe = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8')

let browser: Browser
beforeAll(async () => {
  browser = await launchBrowser()
})
afterAll(() => browser?.close())

/** Opens pages and notes what goes wrong in them. */
async function openPage(settings = {}): Promise<{ page: Page; problems: string[] }> {
  const page = await browser.newPage(settings)
  const problems: string[] = []
  page.on('pageerror', (error) => problems.push(error.message))
  page.on('console', (message) => message.type() === 'error' && problems.push(message.text()))
  return { page, problems }
}

/** What an audit of accessibility finds on a page. */
async function audit(page: Page): Promise<string[]> {
  await page.evaluate(axe)
  const { violations } = (await page.evaluate('axe.run()')) as {
    violations: { id: string; nodes: { html: string }[] }[]
  }
  return violations.map(({ id, nodes }) => `${id}: ${nodes[0]?.html}`)
}

describe('The built guide', () => {
  let server: PreviewServer
  let address: string
  beforeAll(async () => {
    execFileSync(process.execPath, ['build.mjs'], {
      cwd: root,
      stdio: 'ignore',
      env: { ...process.env, GUIDE_TODAY: '2026-11-25' },
    })
    server = await preview({ root, logLevel: 'silent', preview: { port: 0, host: '127.0.0.1' } })
    address = server.resolvedUrls?.local[0]?.replace(/\/$/, '') ?? ''
  })
  afterAll(() => server?.close())

  test('a visitor finds the way from the front page to a hut and back, in two languages', async () => {
    const { page, problems } = await openPage()
    await page.goto(`${address}/`)
    expect(await page.textContent('h1')).toBe('Walk from hut to hut')
    await page.click('.hero .button')
    await page.click('nav[aria-label="Region"] >> text=Saltedge')
    expect(await page.$$eval('.card h3', (all) => all.map((one) => one.textContent))).toEqual([
      'Beacon and Back',
      'The Marsh Line',
      'The Shingle Walk',
    ])
    await page.click('text=longest first')
    expect(await page.textContent('.card h3')).toBe('The Marsh Line')
    expect(await page.textContent('nav[aria-label="Region"] [aria-current]')).toBe('Saltedge 3')
    await page.goto(`${address}/trails/north-fell/high-traverse/`)
    expect(await page.textContent('.outline')).toContain('Down to Gable')
    await page.click('a[rel="next"]')
    expect(await page.textContent('h1')).toBe('The Marsh Line')
    await page.goBack()
    await page.click('tbody >> text=Gable Hut')
    expect(await page.textContent('main')).toMatch(/The High Traverse[\s\S]*The Winter Way[\s\S]*Tobias Wrenfield/)
    await page.click('.languages >> text=Norsk')
    expect(new URL(page.url()).pathname).toBe('/no/huts/gable/')
    expect([await page.getAttribute('html', 'lang'), await page.textContent('h1')]).toEqual(['no', 'Gavlhytta'])
    await page.click('text=The Winter Way')
    expect(new URL(page.url()).pathname).toBe('/no/trails/north-fell/winter-way/')
    await page.click('nav >> text=Ord')
    expect(await page.textContent('.words')).toContain('Ikke på norsk ennå')
    expect(problems).toEqual([])
  })

  test('more of a long list comes as a part; without a script its pages are turned', async () => {
    const { page, problems } = await openPage()
    await page.goto(`${address}/no/gear/`)
    const titles = () => page.$$eval('.card h2', (all) => all.map((one) => one.textContent))
    expect(await titles()).toHaveLength(5)
    await page.click('text=Mer')
    await expect.poll(async () => (await titles()).length).toBe(10)
    await page.click('text=Mer')
    await expect.poll(async () => (await titles()).length).toBe(12)
    expect(await page.isVisible('text=Mer')).toBe(false)
    const all = await titles()
    expect(await page.getAttribute('.card:last-child a', 'href')).toMatch(/^\/no\/gear\//)
    const { page: plain } = await openPage({ javaScriptEnabled: false })
    await plain.goto(`${address}/gear/`)
    const turned: (string | null)[] = []
    for (const number of [1, 2, 3]) {
      await plain.click(`.pages >> text="${number}"`)
      turned.push(...(await plain.$$eval('.card h2', (cards) => cards.map((one) => one.textContent))))
    }
    expect(turned).toEqual(all)
    expect(problems).toEqual([])
  })

  test('every link leads somewhere, and every picture is there', async () => {
    const wanted = new Set(['/', '/sitemap.xml', '/feed.xml'])
    const seen = new Map<string, string>()
    const broken: string[] = []
    for (const path of wanted) {
      const response = await fetch(address + path)
      const text = await response.text()
      if (response.status !== 200) broken.push(path)
      if (!response.headers.get('content-type')?.startsWith('text/html')) continue
      seen.set(path, text)
      for (const [, href = ''] of text.matchAll(/(?:href|src)="(\/[^"]*)"/g))
        wanted.add(href.replaceAll('&amp;', '&').replace(/#.*$/, ''))
      for (const [, candidates = ''] of text.matchAll(/srcset="([^"]*)"/g))
        for (const candidate of candidates.split(', ')) wanted.add(candidate.replace(/ \d+w$/, ''))
    }
    expect(broken).toEqual([])
    expect(seen.size).toBeGreaterThan(200)
    expect([...wanted].filter((path) => path.startsWith('/files/images/'))).toHaveLength(4)
    const fragments = [...seen].flatMap(([path, text]) =>
      [...text.matchAll(/href="([^"#]*)#([^"]+)"/g)]
        .filter(([, target = '', id]) => !(seen.get(target || path) ?? '').includes(`id="${id}"`))
        .map(([href]) => `${path} ${href}`),
    )
    expect(fragments).toEqual([])
    expect((await fetch(`${address}/404.html`)).status).toBe(200)
    expect(await (await fetch(`${address}/shelters/gable/`)).text()).toContain('url=/huts/gable/')
  })

  test.each([
    ['/', { colorScheme: 'light' }],
    ['/trails/in/saltedge/by-ascent/', { colorScheme: 'dark' }],
    ['/trails/north-fell/high-traverse/', { colorScheme: 'light', viewport: { width: 390, height: 844 } }],
    ['/huts/gable/', { colorScheme: 'dark' }],
    ['/gear/layers/', { colorScheme: 'light' }],
    ['/handbook/weather/', { colorScheme: 'dark' }],
    ['/no/notices/', { colorScheme: 'light' }],
    ['/words/', { colorScheme: 'dark' }],
  ])('an audit finds nothing at %s', async (path, settings) => {
    const { page, problems } = await openPage(settings)
    await page.goto(address + path)
    expect(await audit(page)).toEqual([])
    const widths = (await page.evaluate('[document.documentElement.scrollWidth, innerWidth]')) as [number, number]
    expect(widths[0]).toBeLessThanOrEqual(widths[1])
    expect(problems).toEqual([])
  })

  test('the keyboard reaches the content first', async () => {
    const { page } = await openPage()
    await page.goto(`${address}/huts/`)
    await page.keyboard.press('Tab')
    expect(await page.evaluate('document.activeElement.textContent')).toBe('Skip to the content')
    await page.keyboard.press('Enter')
    expect(await page.evaluate('document.activeElement.id')).toBe('content')
  })
})

test('While it is worked on, an edited entry is drawn again without loading the page, and a problem stands over it', async () => {
  // A copy, since others read the demo at the same time.
  const site = join(root, 'generated/site')
  const isSource = (path: string): boolean => !/\/(?:generated|\.pantry)$/.test(path) || path === site
  rmSync(site, { recursive: true, force: true })
  cpSync(join(root, '../fellmark'), site, { recursive: true, filter: isSource })
  process.env.GUIDE_SITE = site
  const server = await createServer({ root, logLevel: 'silent', server: { port: 0, host: '127.0.0.1' } })
  await server.listen()
  const trail = join(site, 'content/trails/north-fell/stony-door.md')
  const text = readFileSync(trail, 'utf8')
  const { page, problems } = await openPage()
  try {
    await page.goto(`${server.resolvedUrls?.local[0]}trails/north-fell/stony-door/`)
    await page.waitForFunction(
      'window.performance.getEntriesByType("resource").some(({ name }) => name.endsWith("redraw.ts"))',
    )
    await page.waitForLoadState('networkidle')
    await page.evaluate('window.isKept = true')
    writeFileSync(trail, text.replace('The name is a joke', 'The name is an old joke'))
    await expect.poll(() => page.textContent('main')).toContain('The name is an old joke')
    expect(await page.evaluate('window.isKept')).toBe(true)
    writeFileSync(trail, text.replace('distance: 9.8', 'distance: far'))
    const overlay = () =>
      page.evaluate("document.querySelector('vite-error-overlay')?.shadowRoot.querySelector('.window').innerText ?? ''")
    await expect.poll(overlay).toMatch(/Found "far", expected a number[\s\S]*stony-door\.md:6:11/)
    writeFileSync(trail, text)
    await expect.poll(overlay).toBe('')
    await expect.poll(() => page.textContent('main')).toContain('The name is a joke')
    expect(await page.evaluate('window.isKept')).toBe(true)
    expect(problems).toEqual([])
  } finally {
    await page.close()
    await server.close()
  }
})

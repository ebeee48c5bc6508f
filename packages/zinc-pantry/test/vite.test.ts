import { readdirSync, readFileSync, renameSync, symlinkSync, writeFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import { join } from 'node:path'
import { pathToFileURL } from 'node:url'
import type { Browser, Page } from 'playwright-core'
import { build, createLogger, createServer, type InlineConfig, preview, type ViteDevServer } from 'vite'
import { afterAll, beforeAll, beforeEach, describe, expect, test } from 'vitest'
import { zincPantry } from 'zinc-pantry/vite'
import { makeFolder, REPOSITORY } from './helpers.ts'
import { launchBrowser } from './launch-browser.ts'

const MANY = 3_000
const picture = readFileSync(join(REPOSITORY, 'examples/fellmark/content/pictures/shingle.png'))

/** A page that shows an entry, its body, a field with a picture, and entries of a collection of many parts. */
const SITE = {
  'package.json': '{ "type": "module" }',
  'pantry.config.ts': `import { image, int, list, markdown, pantry, ref, text } from 'zinc-pantry'
export default pantry({ assetBase: '/files/', collections: {
  huts: { files: 'huts/*.yaml', address: 'url', fields: { name: text(), beds: int(), photo: image({ optional: true, alternative: 'none' }), note: markdown({ optional: true }) },
    derive: { url: { field: text(), from: (hut) => '/huts/' + hut.slug + '/' } } },
  trails: { files: 'trails/*.{md,mdx}', body: true, fields: { title: text(), huts: list(ref('huts'), { default: [] }) } },
  many: { files: 'many.json', fields: { number: int(), name: text() } },
} })
`,
  'content/shingle.png': picture,
  'content/huts/gable.yaml': "name: Gable\nbeds: 3\nphoto: /shingle.png\nnote: 'See [the picture](/shingle.png)'\n",
  'content/trails/one.md':
    '---\ntitle: One\nhuts: [gable]\n---\n# Head\n\n![Shingle](../shingle.png)\n\n[Gable](../huts/gable.yaml)\n',
  'content/trails/two.md': '---\ntitle: Two\n---\n# Other\n',
  'content/trails/three.mdx':
    "---\ntitle: Three\n---\nimport { loud } from '../../parts/loud.js'\n\n# {loud('three')}\n\n{props.given.of.nothing}\n",
  'parts/loud.js': 'export const loud = (text) => text.toUpperCase()\n',
  'content/many.json': JSON.stringify(
    Array.from({ length: MANY }, (_, at) => ({ id: `m${at}`, number: at, name: `Name ${at}` })),
  ),
  'index.html':
    '<!doctype html><link rel="icon" href="data:,"><main></main><script type="module" src="/main.js"></script>',
  'main.js': `import { answer } from './answer.js'
const show = async () => { const { title, html, note, names } = await answer(); document.querySelector('main').innerHTML = '<h2>' + title + '</h2>' + html + note + '<p>' + names }
window.loads = (window.loads ?? 0) + 1
window.changes = []
addEventListener('zinc-pantry:change', (event) => { if (location.hash !== '#soft') return; event.preventDefault(); window.changes.push(event.detail.collections); show() })
show()
`,
  'answer.js': `import { huts, many, trails } from '#pantry'
export const answer = async () => ({ title: (await trails.byId('one')).title, html: (await trails.loadBody('one')).html, note: (await huts.byId('gable')).note.html,
  names: (await many.where((one) => one.number.between(2995, 2997)).toArray()).map(({ name }) => name).join() })
export const three = async (runtime, given) => (await (await trails.loadBody('three')).compiled(runtime)).default({ given })
`,
}

let browser: Browser
beforeAll(async () => {
  browser = await launchBrowser()
})
afterAll(() => browser?.close())

function makeSite(): { root: string; config: InlineConfig; edit(file: string, from: string, to: string): void } {
  const root = makeFolder(SITE)
  symlinkSync(join(REPOSITORY, 'node_modules'), join(root, 'node_modules'), 'dir')
  const config = { root, configFile: false as const, logLevel: 'silent' as const, plugins: [zincPantry()] }
  const edit = (file: string, from: string, to: string): void => {
    const path = join(root, file)
    const text = readFileSync(path, 'utf8')
    if (!text.includes(from)) throw new Error(`${file} does not hold ${from}`)
    // At once: a file that is written bit by bit can be seen in between.
    writeFileSync(`${root}.edit`, text.replace(from, to))
    renameSync(`${root}.edit`, path)
  }
  return { root, config, edit }
}

/** Opens a page and notes what goes wrong in it. */
async function openPage(address: string): Promise<{ page: Page; problems: string[] }> {
  const page = await browser.newPage()
  const problems: string[] = []
  page.on('pageerror', (error) => problems.push(error.message))
  page.on('response', (response) => response.status() >= 400 && problems.push(`${response.status()} ${response.url()}`))
  await page.goto(address)
  await page.waitForSelector('h2')
  return { page, problems }
}

/** A logger that keeps what it is told, but for how far Vite's own scan of dependencies is: on a busy machine that comes late. */
function loggedTo(told: string[]): Pick<InlineConfig, 'customLogger'> {
  const keep = (level: string) => (text: string) => void told.push(`${level} ${text}`)
  const info = (text: string): void => (text.startsWith('[optimizer]') ? undefined : keep('info')(text))
  const customLogger = { ...createLogger('silent'), info, warn: keep('warn'), error: keep('error') }
  return { customLogger }
}

describe('A first start', () => {
  const start = async (files: Readonly<Record<string, string | Uint8Array>>) => {
    const root = makeFolder(files)
    symlinkSync(join(REPOSITORY, 'node_modules'), join(root, 'node_modules'), 'dir')
    const told: string[] = []
    const server = await createServer({
      root,
      configFile: false,
      plugins: [zincPantry()],
      ...loggedTo(told),
      server: { port: 0, host: '127.0.0.1' },
    })
    await server.listen()
    const page = await browser.newPage()
    const problems: string[] = []
    page.on('pageerror', (error) => problems.push(error.message))
    const overlay = (): Promise<string> =>
      page.evaluate("document.querySelector('vite-error-overlay')?.shadowRoot.querySelector('.window').innerText ?? ''")
    await page.goto(`http://127.0.0.1:${(server.httpServer?.address() as { port: number } | undefined)?.port}/`)
    return { root, server, page, problems, overlay, told: () => told.join('\n').replaceAll(root, '') }
  }

  test('with errors in the content shows them, and the page once they are mended', async () => {
    const broken = { ...SITE, 'content/huts/gable.yaml': 'name: Gable\nbeds: many\n' }
    const { root, server, page, problems, overlay, told } = await start(broken)
    await expect.poll(overlay).toContain('Found "many", expected a whole number (value-type)')
    expect(told()).toMatch(/gable\.yaml:2:7 error value-type/)
    expect(told()).not.toMatch(/Failed to resolve|Internal server error/)
    writeFileSync(join(root, 'content/huts/gable.yaml'), String(SITE['content/huts/gable.yaml']))
    await expect.poll(() => page.textContent('main')).toContain('Head')
    expect(problems).toEqual([])
    await server.close()
  })

  test('without a configuration says what the command says, once', async () => {
    const { 'pantry.config.ts': _, ...files } = SITE
    const { root, server, overlay, told } = await start(files)
    await expect.poll(overlay).toContain('No pantry.config file in')
    const said = told().match(
      /^error pantry\.config\.ts:1:1 error config-not-found\n {2}No pantry\.config file in ""\n {2}help: Create/gm,
    )
    expect(said).toHaveLength(1)
    expect(told()).not.toMatch(/\n {4}at |Failed to resolve/)
    await server.close()
    const failed = await build({ root, configFile: false, logLevel: 'silent', plugins: [zincPantry()] }).catch(
      (error: Error) => error,
    )
    expect(String((failed as Error).message)).toContain('No pantry.config file in')
    expect(String((failed as Error).message).split('No pantry.config file')).toHaveLength(2)
  })
})

describe('While serving', () => {
  let site: ReturnType<typeof makeSite>
  let server: ViteDevServer
  let address: string
  let told: string[]
  beforeEach(async () => {
    site = makeSite()
    told = []
    server = await createServer({ ...site.config, ...loggedTo(told), server: { port: 0, host: '127.0.0.1' } })
    await server.listen()
    address = `http://127.0.0.1:${(server.httpServer?.address() as { port: number } | undefined)?.port}/`
    return () => server.close()
  })

  test('a page is told of what it has used, and of nothing else', async () => {
    const { page, problems } = await openPage(`${address}#soft`)
    const head = () => page.textContent('h1')
    // A picture is there a moment after what shows it.
    await expect.poll(() => page.$eval('img', (img: HTMLImageElement) => img.naturalWidth)).toBe(240)
    expect(await page.textContent('main > p:last-child')).toBe('Name 2995,Name 2996,Name 2997')
    expect((await page.request.get(`${address}files/shingle.png`)).headers()['content-type']).toBe('image/png')
    site.edit('content/trails/one.md', '# Head', '# Changed')
    await expect.poll(head).toBe('Changed')
    site.edit('content/trails/two.md', '# Other', '# Something else')
    site.edit('content/trails/two.md', 'title: Two', 'title: Second')
    site.edit('content/trails/one.md', 'title: One', 'title: First')
    await expect.poll(() => page.textContent('h2')).toBe('First')
    site.edit('content/huts/gable.yaml', 'beds: 3', 'beds: 4')
    await expect.poll(() => page.evaluate('window.changes.at(-1)[0]')).toBe('huts')
    expect(await page.evaluate('[window.loads, window.changes]')).toEqual([1, [['trails'], ['trails'], ['huts']]])
    await page.goto(`${address}#hard`)
    await page.reload()
    await page.waitForSelector('h2')
    site.edit('content/trails/one.md', '# Changed', '# Loaded')
    await expect.poll(head).toBe('Loaded')
    expect(problems).toEqual([])
  })

  test('problems stand over the page with their place, also of one opened later, until they are mended', async () => {
    const { page } = await openPage(`${address}#soft`)
    const overlay = (of: Page): Promise<string> =>
      of.evaluate("document.querySelector('vite-error-overlay')?.shadowRoot.querySelector('.window').innerText ?? ''")
    site.edit('content/huts/gable.yaml', 'beds: 3', 'beds: many')
    await expect.poll(() => overlay(page)).toContain('Found "many", expected a whole number (value-type)')
    expect(await overlay(page)).toMatch(/content\/huts\/gable\.yaml:2:7[\s\S]*beds: many/)
    const later = await browser.newPage()
    await later.goto(address)
    await expect.poll(() => overlay(later)).toContain('value-type')
    site.edit('content/huts/gable.yaml', 'beds: many', 'beds: 5')
    await expect.poll(() => overlay(page)).toBe('')
    expect(await page.textContent('h2')).toBe('One')
    // What is mended stands over no page that is opened from then on.
    const latest = await browser.newPage()
    await latest.goto(address)
    await latest.waitForSelector('h2')
    expect(await overlay(latest)).toBe('')
  })

  test('a page may still ask for the bodies of the output before', async () => {
    await openPage(`${address}#soft`)
    const bodies = (): string[] =>
      [...server.moduleGraph.idToModuleMap.keys()].filter((id) => id.includes('zinc-pantry/body/'))
    const before = bodies()
    expect(before.length).toBeGreaterThan(0)
    site.edit('content/trails/one.md', '# Head', '# Changed')
    await expect.poll(() => bodies().length).toBeGreaterThan(before.length)
    for (const id of before) expect((await server.pluginContainer.load(id)) !== null, id).toBe(true)
  })

  test('each save is told in a line that names the content file, and so is what is mended', async () => {
    const lines = (): string[] =>
      told.splice(0).map((line) => line.replaceAll(site.root, '').replace(/\(\d+ ms\)/, '(1 ms)'))
    // The content is built once the server listens, and before it gives a page.
    await openPage(address)
    lines()
    site.edit('content/trails/one.md', '# Head', '# Changed')
    await expect.poll(() => told.length).toBe(1)
    expect(lines()).toEqual(['info zinc-pantry content/trails/one.md (1 ms)'])
    site.edit('content/huts/gable.yaml', 'beds: 3', 'beds: many')
    await expect.poll(() => told.length).toBe(2)
    const [line, problem] = lines()
    expect(line).toBe('info zinc-pantry content/huts/gable.yaml: 1 problem now (1 ms)')
    expect(problem).toMatch(/^error content\/huts\/gable\.yaml:2:7 error value-type/)
    // What is known is not told again.
    site.edit('content/trails/one.md', '# Changed', '# Again')
    await expect.poll(() => told.length).toBe(1)
    expect(lines()).toEqual(['info zinc-pantry content/trails/one.md: 1 problem now (1 ms)'])
    site.edit('content/huts/gable.yaml', 'beds: many', 'beds: 4')
    await expect.poll(() => told.length).toBe(1)
    expect(lines()).toEqual(['info zinc-pantry content/huts/gable.yaml: 1 problem mended, none left (1 ms)'])
  })

  test('an inspector stands beside it at an address that the terminal names, with the page of an entry in the site', async () => {
    expect(told.join()).not.toContain('Content:')
    server.printUrls()
    await expect.poll(() => told.join()).toContain('Content: http://127.0.0.1:')
    const inspector = /Content: (\S+)/.exec(told.join('\n'))?.[1] ?? ''
    expect(new URL(inspector).port).not.toBe(new URL(address).port)
    const page = await browser.newPage()
    await page.goto(inspector)
    await page.waitForSelector('main h1')
    await page.goto(new URL('/entry?name=huts/gable', inspector).href)
    await page.click('[role=tab] >> text=Preview')
    const site = page.frameLocator('iframe[title="Its page in the site"]')
    await expect.poll(() => site.locator('h2').textContent()).toBe('One')
    expect(await page.getAttribute('iframe[title="Its page in the site"]', 'src')).toBe(`${address}huts/gable/`)
    await page.close()
    await server.close()
    await expect(fetch(inspector)).rejects.toThrow()
  })

  test('server-side rendering sees the content of the moment', async () => {
    const ask = async () => (await server.ssrLoadModule('/answer.js')).answer()
    expect(await ask()).toMatchObject({ title: 'One', names: 'Name 2995,Name 2996,Name 2997' })
    site.edit('content/trails/one.md', 'title: One', 'title: Now')
    await expect.poll(async () => (await ask()).title).toBe('Now')
  })
})

describe('A build', () => {
  test('serves pages from static files, with bodies, files and parts of their own', async () => {
    const { root, config } = makeSite()
    await build({ ...config, build: { assetsInlineLimit: 0, sourcemap: true } })
    const server = await preview({ ...config, preview: { port: 0, host: '127.0.0.1' } })
    const { page, problems } = await openPage(server.resolvedUrls?.local[0] ?? '')
    const picture = () => page.$eval('img', (img: HTMLImageElement) => [new URL(img.src).pathname, img.naturalWidth])
    await expect.poll(picture).toEqual([expect.stringMatching(/^\/assets\/shingle-[\w-]+\.png$/), 240])
    expect(await page.textContent('main > p:last-child')).toBe('Name 2995,Name 2996,Name 2997')
    expect((await page.request.get(new URL('/files/shingle.png', page.url()).href)).headers()['content-type']).toBe(
      'image/png',
    )
    expect(problems).toEqual([])
    await server.close()
    const scripts = readdirSync(join(root, 'dist/assets')).filter((name) => name.endsWith('.js'))
    const holding = scripts.filter((name) =>
      /Head<\/h1>|Other<\/h1>/.test(readFileSync(join(root, 'dist/assets', name), 'utf8')),
    )
    expect(holding).toHaveLength(2)
  })

  test('code of a body says where it comes from', async () => {
    const { root, config } = makeSite()
    await build({ ...config, build: { ssr: 'answer.js', sourcemap: true, minify: false } })
    const { three, answer } = await import(pathToFileURL(join(root, 'dist/answer.js')).href)
    expect((await answer()).names).toBe('Name 2995,Name 2996,Name 2997')
    const jsx = (type: unknown, { children }: { children?: unknown }) => `<${type}>${[children].flat().join('')}</>`
    const runtime = { Fragment: 'f', jsx, jsxs: jsx }
    expect(await three(runtime, { of: {} })).toContain('THREE')
    const assets = join(root, 'dist/assets')
    const file =
      readdirSync(assets).find((name) => /given\.of\.nothing/.test(readFileSync(join(assets, name), 'utf8'))) ?? ''
    const lines = readFileSync(join(assets, file), 'utf8').split('\n')
    const line = lines.findIndex((text) => text.includes('given.of.nothing'))
    const { SourceMapConsumer } = createRequire(import.meta.url)('source-map')
    const consumer = await new SourceMapConsumer(readFileSync(join(assets, `${file}.map`), 'utf8'))
    const place = consumer.originalPositionFor({ line: line + 1, column: lines[line]?.indexOf('of.nothing') })
    expect([place.source, place.line]).toEqual([expect.stringMatching(/content\/trails\/three\.mdx$/), 8])
  })

  test('fails where the content has errors, and says all of them', async () => {
    const { config, edit } = makeSite()
    edit('content/huts/gable.yaml', 'beds: 3', 'beds: many')
    edit('content/trails/one.md', '[gable]', '[gabel]')
    const failed: unknown = await build(config).catch((error: unknown) => error)
    expect(String(failed)).toMatch(/gable\.yaml:2:7 error value-type[\s\S]*one\.md:3:8 error ref-dangling/)
  })
})

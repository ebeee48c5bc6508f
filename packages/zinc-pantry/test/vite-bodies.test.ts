import { readFileSync, symlinkSync } from 'node:fs'
import { join } from 'node:path'
import type { Browser } from 'playwright-core'
import { build, createServer, type InlineConfig, preview } from 'vite'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { zincPantry } from 'zinc-pantry/vite'
import { makeFolder, REPOSITORY } from './helpers.ts'
import { launchBrowser } from './launch-browser.ts'

const picture = readFileSync(join(REPOSITORY, 'examples/fellmark/content/pictures/shingle.png'))

/** Every way in which a body can name a file, with and without quotes. */
const HTML = [
  '![x](a.png)',
  '![x](a%20b.png "title") [to](c.svg#part)',
  '<img alt src=a.png>',
  "<img alt='' src='c.svg?x=1&amp;y=2'>",
  '<img alt="" SRC="a.png" srcset="a.png 1x, c.svg 2x,a%20b.png 3x">',
  "<img alt='' srcset='a.png 1x, c.svg 2x'>",
  '<img alt srcset=c.svg>',
  "<video poster='c.svg' src=a.png></video>",
  '<picture><source srcset="c.svg 100w"><img alt="" src="a.png"></picture>',
  '<object data="c.svg"></object> <a href=a.png>raw</a> in `src="a.png"`',
  '::card{note="![x](only.png)" photo="a.png"}',
]
const MDX = [
  '![x](a.png)',
  '<img alt="" src="a.png" srcSet="a.png 1x, c.svg 2x,a%20b.png 3x" />',
  '<img alt="" srcSet="c.svg" />',
  '<video poster="c.svg" src="a.png" />',
  '<Card note="![x](only.png)" photo="a.png" />',
]

/** The content stands beside what Vite serves. */
const FILES = {
  'app/package.json': '{ "type": "module" }',
  'site/package.json': '{ "type": "module" }',
  'site/pantry.config.js': `import { image, markdown, pantry, text } from 'zinc-pantry'
export default pantry({
  assetBase: '/files/',
  blocks: { card: { fields: { note: markdown(), photo: image({ alternative: 'none', sources: { widths: [99] } }) } } },
  collections: { trails: { files: 'trails/*.{md,mdx}', body: { sources: { widths: [80, 160], kinds: ['webp', 'png'], sizes: '50vw' } }, fields: { title: text() } } },
})
`,
  'site/content/trails/html.md': `---\ntitle: Html\n---\n${HTML.join('\n\n')}\n`,
  'site/content/trails/tree.mdx': `---\ntitle: Tree\n---\n${MDX.join('\n\n')}\n`,
  'site/content/trails/thrown.mdx': "---\ntitle: Thrown\n---\nimport { a } from '../../parts/thrown.js'\n\n{a}\n",
  'site/content/trails/lacking.mdx':
    "---\ntitle: Lacking\n---\nimport { none } from '../../parts/fine.js'\n\n{none()}\n",
  'site/content/trails/a.png': picture,
  'site/content/trails/a b.png': picture,
  'site/content/trails/only.png': picture,
  'site/content/trails/c.svg':
    '<svg xmlns="http://www.w3.org/2000/svg" viewBox=\'0 0 9 9\'><path id="part" d="M0 0h9"/></svg>',
  'site/parts/thrown.js': "throw new Error('thrown')\nexport const a = 1\n",
  'site/parts/fine.js': 'export const fine = 1\n',
  'app/index.html': '<!doctype html><main></main><script type="module" src="/main.js"></script>',
  'app/main.js': `import { trails } from '#pantry'
const write = (type, { children, ...properties }) => {
  if (typeof type === 'function') return type({ children, ...properties })
  const element = document.createElement(type)
  for (const [name, value] of Object.entries(properties)) element.setAttribute(name, value)
  element.append(...[children ?? []].flat(9))
  return element
}
const show = (html) => Object.assign(document.createElement('div'), { innerHTML: html })
const Card = ({ note, photo }) => show(note.html + '<img src="/files/' + photo.file + '" srcset="' + photo.sources[0].srcset + '">')
const jsx = (type, properties) => write(type, properties)
const runtime = { Fragment: ({ children }) => write('div', { children }), jsx, jsxs: jsx }
const failed = []
const shown = []
for (const entry of await trails.toArray()) {
  for (const { src } of entry.body.images) shown.push(src)
  try {
    const body = await trails.loadBody(entry.id)
    if (body.format === 'markdown') document.querySelector('main').append(show(body.html))
    else document.querySelector('main').append((await body.compiled(runtime)).default({ components: { Card } }))
  } catch { failed.push(entry.id) }
}
for (const block of document.querySelectorAll('[data-properties]')) block.append(Card(JSON.parse(block.dataset.properties)))
const ADDRESS = /(?:data:[^,]+,)?[^\\s,]+/g
for (const element of document.querySelectorAll('main *'))
  for (const name of ['src', 'href', 'poster', 'data', 'srcset'])
    if (element.hasAttribute(name)) shown.push(...element.getAttribute(name).match(ADDRESS).filter((one) => !/^\\d+[xw]$/.test(one)))
const lost = []
for (const address of new Set(shown)) {
  const response = await fetch(address).catch(() => ({ ok: false }))
  if (!response.ok || !response.headers.get('content-type').startsWith('image/')) lost.push(address)
}
window.result = { failed, lost, count: shown.length }
`,
}

let browser: Browser
beforeAll(async () => {
  browser = await launchBrowser()
})
afterAll(() => browser?.close())

describe('What bodies name is there', () => {
  const folder = makeFolder(FILES)
  symlinkSync(join(REPOSITORY, 'node_modules'), join(folder, 'node_modules'), 'dir')
  const plugins = [zincPantry({ root: '../site' })]
  const config = { root: join(folder, 'app'), configFile: false as const, logLevel: 'silent' as const, plugins }
  const atHome = { port: 0, host: '127.0.0.1' }
  const serve = async () => {
    const server = await createServer({ ...config, server: atHome })
    await server.listen()
    return server
  }
  const built = (settings: InlineConfig['build']) => async () => {
    await build({ ...config, build: settings })
    return preview({ ...config, preview: atHome })
  }

  test.each([
    ['while it is worked on', serve],
    ['built', built({ assetsInlineLimit: 0 })],
    ['built, small files within the page', built({})],
  ])('%s, and a body that fails takes no other with it', async (_, start) => {
    const server = await start()
    const page = await browser.newPage()
    const problems: string[] = []
    page.on('pageerror', (error) => problems.push(error.message))
    const address = server.resolvedUrls?.local[0] ?? ''
    await page.goto(address)
    await expect.poll(async () => [await page.evaluate('window.result !== undefined'), problems]).toEqual([true, []])
    expect(await page.evaluate('window.result')).toEqual({ failed: ['lacking', 'thrown'], lost: [], count: 60 })
    await server.close()
  })
})

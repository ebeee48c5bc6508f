#!/usr/bin/env node
// What a visitor's browser loads for pages of a large collection, each in a browser that has nothing yet: requests and
// bytes, gzipped, as a server counts them, without the page and its scripts.
//
//   node bench/requests.mjs [count=100000]
//
// The last line printed is a JSON record.
import { existsSync, readFileSync, rmSync } from 'node:fs'
import { createServer } from 'node:http'
import { join, resolve } from 'node:path'
import { gzipSync } from 'node:zlib'
import { chromium } from 'playwright-core'
import { rolldown } from 'rolldown'
import { buildSite, createNodeHost } from '../packages/zinc-pantry/dist/bundle/engine.js'
import { provideChromium } from '../scripts/chromium.mjs'
import { writeQuerySite } from './query-corpus.mjs'

const count = Number(process.argv[2] ?? 100_000)
const root = resolve('node_modules/.cache/bench', `requests-${count}`)
const output = join(root, 'generated/pantry')
if (!existsSync(join(output, 'index.js')) || process.argv.includes('--fresh')) {
  writeQuerySite(root, count, { isClustered: true })
  rmSync(join(root, 'generated'), { recursive: true, force: true })
  const report = await buildSite({ host: createNodeHost(root), configurationFile: 'pantry.config.mjs' })
  if (!report.output) throw new Error('Nothing was written')
}
const bundler = await rolldown({ input: { index: 'packages/zinc-pantry/dist/query/index.js' } })
const bundle = await bundler.generate({ format: 'esm', minify: true, entryFileNames: '[name].js' })
const scripts = new Map(bundle.output.map(({ fileName, code }) => [`/runtime/${fileName}`, Buffer.from(code)]))

/** What is asked; limits of requests and kilobytes, where there are some. */
const QUESTIONS = {
  'first 20 by date': ['notes.sort((note) => note.on.descending()).limit(20).toArray()', 4, 30],
  'the same as a page with a cursor': ['notes.sort((note) => note.on.descending()).page({ size: 20 })', 4, 30],
  'the same with three facets': [
    `Promise.all([
      notes.sort((note) => note.on.descending()).limit(20).toArray(),
      notes.facets((note) => ({ grade: note.grade, region: note.region, stars: note.stars })),
    ])`,
    8,
    60,
  ],
  '20 by date from 50,000': [
    `notes.sort((note) => note.on.descending()).offset(${count / 2}).limit(20).toArray()`,
    4,
    30,
  ],
  'neighbours by date': ["notes.sort((note) => note.on.descending()).neighbours('note-777')", 6, 0],
  'first 20 of two filters by date, with three facets': [
    `(() => {
      const query = notes.where((note) => note.grade.is('hard').and(note.region.is('region-3')))
      return Promise.all([
        query.sort((note) => note.on.descending()).limit(20).toArray(),
        query.facets((note) => ({ grade: note.grade, region: note.region, stars: note.stars })),
      ])
    })()`,
    8,
    60,
  ],
  'a facet of 120 ids': ['notes.facets((note) => ({ hut: note.hut }))', 0, 50],
  "title.includes('cam')": ["notes.where((note) => note.title.includes('cam')).limit(20).toArray()", 0, 200],
  'one entry': ["notes.byId('note-777')", 0, 0],
}
const page = `<!doctype html><title>Notes</title>
<script type="importmap">{ "imports": { "zinc-pantry/query": "/runtime/index.js" } }</script>
<script type="module">
import { notes } from '/pantry/index.js'
window.ask = { ${Object.entries(QUESTIONS).map(([name, [code]]) => `${JSON.stringify(name)}: () => ${code}`)} }
</script>`
let counted = []
const server = createServer((request, response) => {
  const url = request.url ?? '/'
  try {
    const content = url === '/' ? page : (scripts.get(url) ?? readFileSync(join(output, url.replace('/pantry/', ''))))
    const sent = gzipSync(content)
    if (url.startsWith('/pantry/')) counted.push({ url, size: sent.length })
    response.setHeader('content-type', url === '/' ? 'text/html' : 'text/javascript')
    response.setHeader('content-encoding', 'gzip')
    response.end(sent)
  } catch {
    response.statusCode = 404
    response.end()
  }
})
await new Promise((done) => server.listen(0, '127.0.0.1', done))
const browser = await chromium.launch({ executablePath: provideChromium(), args: ['--no-sandbox', '--disable-gpu'] })
const record = {}
for (const [name, [, requests, kilobytes]] of Object.entries(QUESTIONS)) {
  const context = await browser.newContext()
  const tab = await context.newPage()
  await tab.goto(`http://127.0.0.1:${server.address().port}/`)
  await tab.waitForFunction('window.ask')
  counted = []
  await tab.evaluate(`window.ask[${JSON.stringify(name)}]().then(() => undefined)`)
  const size = Math.round(counted.reduce((sum, one) => sum + one.size, 0) / 102.4) / 10
  record[name] = { requests: counted.length, kilobytes: size }
  const limits = [requests && `${requests} requests`, kilobytes && `${kilobytes} KB`].filter(Boolean).join(', ')
  console.log(`${name}: ${counted.length} requests, ${size} KB${limits && ` (limit ${limits})`}`)
  if (process.argv.includes('--files')) for (const one of counted) console.log(`  ${one.url} ${one.size}`)
  await context.close()
}
await browser.close()
server.close()
console.log(JSON.stringify({ count, ...record }))

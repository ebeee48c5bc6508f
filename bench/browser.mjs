#!/usr/bin/env node
// What a visitor's browser loads for the first filtered, sorted page of 20 with three facets, over HTTP, gzipped.
//
//   node bench/queries.mjs 100000; node bench/browser.mjs [count=100000]
//
// The last line printed is a JSON record: bytes over the wire and how many requests come one after another, for the
// page with its scripts and for the query alone.
import { mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { createServer } from 'node:http'
import { tmpdir } from 'node:os'
import { join, resolve } from 'node:path'
import { gzipSync } from 'node:zlib'
import { chromium } from 'playwright-core'
import { rolldown } from 'rolldown'
import { provideChromium } from '../scripts/chromium.mjs'

const count = Number(process.argv[2] ?? 100_000)
const root = resolve('node_modules/.cache/bench', `queries-${count}`, 'generated/pantry')
const bundler = await rolldown({ input: { index: 'packages/zinc-pantry/dist/query/index.js' } })
const { output } = await bundler.generate({ format: 'esm', minify: true, entryFileNames: '[name].js' })
const scripts = new Map(output.map(({ fileName, code }) => [`/runtime/${fileName}`, Buffer.from(code)]))
const page = `<!doctype html><title>Notes</title>
<script type="importmap">{ "imports": { "zinc-pantry/query": "/runtime/index.js" } }</script>
<script type="module">
import { notes } from '/pantry/index.js'
window.ask = async () => {
  const query = notes.where((note) => note.grade.is('hard').and(note.region.is('region-3')))
  const [entries, total, facets] = await Promise.all([
    query.sort((note) => note.on.descending()).limit(20).toArray(),
    query.count(),
    query.facets((note) => ({ grade: note.grade, region: note.region, stars: note.stars })),
  ])
  return { ids: entries.map(({ id }) => id), total, facets }
}
window.search = async (words) => (await notes.search(words).hits({ limit: 20 })).map(({ entry }) => entry.id)
</script>`
const server = createServer((request, response) => {
  const url = request.url ?? '/'
  try {
    const content = url === '/' ? page : (scripts.get(url) ?? readFileSync(join(root, url.replace('/pantry/', ''))))
    response.setHeader('content-type', url === '/' ? 'text/html' : 'text/javascript')
    response.setHeader('content-encoding', 'gzip')
    response.end(gzipSync(content))
  } catch {
    response.statusCode = 404
    response.end()
  }
})
await new Promise((done) => server.listen(0, '127.0.0.1', done))
const address = `http://127.0.0.1:${server.address().port}/`
const profile = mkdtempSync(join(tmpdir(), 'bench-browser-'))
const browser = await chromium.launchPersistentContext(profile, {
  executablePath: provideChromium(),
  args: ['--no-sandbox', '--disable-gpu', '--disable-quic', '--disable-background-networking', '--disable-sync'],
})
const tab = await browser.newPage()
const session = await browser.newCDPSession(tab)
await session.send('Network.enable')
let requests = new Map()
session.on('Network.requestWillBeSent', ({ requestId, request, timestamp }) => {
  if (request.url.startsWith(address))
    requests.set(requestId, { url: request.url.slice(address.length), start: timestamp })
})
session.on('Network.loadingFinished', ({ requestId, encodedDataLength, timestamp }) => {
  const request = requests.get(requestId)
  if (request) Object.assign(request, { bytes: encodedDataLength, end: timestamp })
})

/** How many requests come one after another: each starts after the end of another. */
function describe() {
  const all = [...requests.values()].filter(({ end }) => end).sort((a, b) => a.start - b.start)
  for (const one of all) {
    const before = all.filter(({ end }) => end <= one.start).map(({ depth = 1 }) => depth)
    one.depth = 1 + Math.max(0, ...before)
  }
  const record = {
    kilobytes: Math.round(all.reduce((sum, { bytes }) => sum + bytes, 0) / 102.4) / 10,
    requests: all.length,
    oneAfterAnother: Math.max(0, ...all.map(({ depth }) => depth)),
  }
  requests = new Map()
  return record
}

await tab.goto(address)
await tab.waitForFunction('window.ask')
const scriptsLoaded = describe()
const started = Date.now()
const answer = await tab.evaluate('window.ask()')
const milliseconds = Date.now() - started
await tab.waitForTimeout(200)
const query = describe()
const again = await tab.evaluate("window.search('barbel fen')")
await tab.waitForTimeout(200)
const search = describe()
await browser.close()
server.close()
rmSync(profile, { recursive: true, force: true })
if (answer.ids.length !== 20) throw new Error('There should be 20 notes')
console.log(
  JSON.stringify({
    count,
    total: answer.total,
    scripts: scriptsLoaded,
    query: { ...query, milliseconds },
    search: { ...search, found: again.length },
  }),
)

#!/usr/bin/env node
// What the plugin costs beside Vite alone: the start of a server of the guide, a body that is saved until the page shows it, and a
// build of many bodies beside the build of the content and Vite's own time for as many modules.
//
//   node bench/vite.mjs <corpus of 5,000 Markdown files> [rounds=7]
//
// The last line printed is a JSON record. Times are medians in milliseconds.
import { execFileSync } from 'node:child_process'
import { cpSync, mkdirSync, mkdtempSync, readFileSync, rmSync, symlinkSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join, resolve } from 'node:path'
import { fileURLToPath } from 'node:url'
import { findChromium } from '../scripts/chromium.mjs'
import { median } from './record.mjs'

const [corpus = '.', rounds = '7', one, folder] = process.argv.slice(2)
const repository = fileURLToPath(new URL('..', import.meta.url))

/** The plugin, whose loading is a part of what it costs. */
async function loadPlugins() {
  const { zincPantry } = await import('zinc-pantry/vite')
  return [zincPantry({ root: 'site' })]
}

/** A server of a folder, with the plugin or without, until it listens; in a process of its own. */
async function startServer() {
  const { createServer } = await import('vite')
  const started = performance.now()
  const plugins = one === 'start' ? await loadPlugins() : []
  const server = await createServer({
    root: folder,
    configFile: false,
    logLevel: 'silent',
    plugins,
    server: { port: 0 },
  })
  await server.listen()
  const time = performance.now() - started
  console.log(JSON.stringify({ time, pid: process.pid }))
  process.exit()
}

/** A build by Vite, in a process of its own; with the plugin of all bodies, without it of as many modules of the same size. */
async function buildPages() {
  const { build } = await import('vite')
  const started = performance.now()
  const plugins = one === 'build' ? await loadPlugins() : []
  await build({ root: folder, configFile: false, logLevel: 'silent', plugins })
  const { maxRSS } = process.resourceUsage()
  console.log(JSON.stringify({ time: performance.now() - started, megabytes: maxRSS / 1024 }))
  process.exit()
}

if (one === 'start' || one === 'start-alone') await startServer()
if (one === 'build' || one === 'build-alone') await buildPages()

const run = (name, root) => {
  const self = fileURLToPath(import.meta.url)
  const output = execFileSync(process.execPath, [self, corpus, rounds, name, root], { encoding: 'utf8' })
  return JSON.parse(output.trim().split('\n').at(-1))
}
const temporary = mkdtempSync(join(tmpdir(), 'pantry-vite-'))
function makeApp(name, files) {
  const root = join(temporary, name)
  mkdirSync(root, { recursive: true })
  symlinkSync(join(repository, 'node_modules'), join(root, 'node_modules'))
  for (const [path, content] of Object.entries({ 'package.json': '{ "type": "module" }', ...files }))
    writeFileSync(join(root, path), content)
  return root
}
const PAGE = '<!doctype html><main></main><script type="module" src="/main.js"></script>'

/** The guide's content, and a page that shows a body. */
const guide = makeApp('guide', {
  'index.html': PAGE,
  'main.js': `import { trails } from '#pantry'
const show = async () => { document.querySelector('main').innerHTML = (await trails.loadBody('north-fell/cairnfoot-loop')).html }
window.addEventListener('zinc-pantry:change', (event) => { event.preventDefault(); show() })
await show()`,
})
cpSync(join(repository, 'examples/fellmark'), join(guide, 'site'), {
  recursive: true,
  filter: (path) => !/node_modules|generated|\.pantry/.test(path),
})

async function redraw() {
  const { createServer } = await import('vite')
  const { chromium } = await import('playwright-core')
  const plugins = await loadPlugins()
  const server = await createServer({
    root: guide,
    configFile: false,
    logLevel: 'silent',
    plugins,
    server: { port: 0 },
  })
  await server.listen()
  const browser = await chromium.launch({ executablePath: findChromium(), args: ['--no-sandbox', '--disable-gpu'] })
  const page = await browser.newPage()
  await page.goto(server.resolvedUrls.local[0])
  await page.waitForFunction(() => document.querySelector('main').textContent.length > 0)
  const file = join(guide, 'site/content/trails/north-fell/cairnfoot-loop.md')
  const text = readFileSync(file, 'utf8')
  const times = []
  for (let at = 0; at < Number(rounds) + 2; at++) {
    const mark = `Mark ${at}.`
    const shown = page.waitForFunction((own) => document.querySelector('main').textContent.includes(own), mark, {
      polling: 5,
    })
    const started = performance.now()
    writeFileSync(file, `${text}\n\n${mark}\n`)
    await shown
    times.push(performance.now() - started)
  }
  writeFileSync(file, text)
  await browser.close()
  await server.close()
  return median(times.slice(2))
}

/** All bodies of the corpus, and as many modules without the plugin. */
function makePages() {
  const app = makeApp('pages', {
    'index.html': PAGE,
    'main.js':
      "import { notes } from '#pantry'\ndocument.body.append(JSON.stringify(await notes.limit(1).toArray()))\nwindow.bodyOf = (id) => notes.loadBody(id)",
  })
  cpSync(resolve(corpus, 'notes'), join(app, 'site/notes'), { recursive: true })
  writeFileSync(
    join(app, 'site/pantry.config.mjs'),
    `import { corpusSite } from '${join(repository, 'bench/corpus-site.mjs')}'\nexport default corpusSite('md')\n`,
  )
  return app
}

const round = (number) => Math.round(number * 100) / 100
const bareStarts = []
const started = []
const again = []
for (let at = 0; at < Number(rounds); at++) {
  rmSync(join(guide, 'site/.pantry'), { recursive: true, force: true })
  rmSync(join(guide, 'site/generated'), { recursive: true, force: true })
  started.push(run('start', guide).time)
  again.push(run('start', guide).time)
  bareStarts.push(run('start-alone', guide).time)
}
const start = {
  aloneMs: round(median(bareStarts)),
  firstMoreMs: round(median(started) - median(bareStarts)),
  againMoreMs: round(median(again) - median(bareStarts)),
}
console.log(start)
const saved = { redrawMs: round((await redraw()) ?? 0) }
console.log(saved)
const pages = makePages()
const built = run('build', pages)
for (const name of ['generated', '.pantry']) rmSync(join(pages, 'site', name), { recursive: true, force: true })
const { buildSite, createNodeHost } = await import('../packages/zinc-pantry/dist/bundle/engine.js')
const content = await buildSite({ host: createNodeHost(join(pages, 'site')), configurationFile: 'pantry.config.mjs' })
// As many modules of about the same bytes, each loaded by itself.
const notes = createNodeHost(resolve(corpus)).list('notes').files
const modules = Object.fromEntries(
  notes.map((file, at) => [
    `m${at}.js`,
    `export default ${JSON.stringify(readFileSync(join(corpus, 'notes', file), 'utf8'))}`,
  ]),
)
const loaders = notes.map((_, at) => `() => import('./m${at}.js')`).join(',\n')
const bare = makeApp('bare', { 'index.html': PAGE, 'main.js': `window.bodyOf = [\n${loaders}\n]`, ...modules })
const alone = run('build-alone', bare)
rmSync(temporary, { recursive: true, force: true })
const pagesRecord = {
  bodies: notes.length,
  withPluginMs: round(built.time),
  contentMs: round(content.milliseconds),
  aloneMs: round(alone.time),
  times: round(built.time / (content.milliseconds + alone.time)),
  megabytes: Math.round(built.megabytes),
}
console.log(JSON.stringify({ start, saved, pages: pagesRecord }))

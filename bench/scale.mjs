#!/usr/bin/env node
// Time and peak memory of cold builds by the number of entries, as a table and as a plot.
//
//   node bench/scale.mjs [docs/scale.svg]
//
// One process a build. Data entries are of the query bench, without full text; Markdown files of 3 KB each.
import { execFileSync } from 'node:child_process'
import { existsSync, mkdirSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { writeQuerySite } from './query-corpus.mjs'

const cache = 'node_modules/.cache/bench'
const [target = 'docs/scale.svg', one, root, kind] = process.argv.slice(2)

if (one === 'build') {
  const { buildSite, createNodeHost } = await import('../packages/zinc-pantry/dist/bundle/engine.js')
  const { corpusSite } = await import('./corpus-site.mjs')
  for (const folder of ['generated', '.pantry']) rmSync(join(root, folder), { recursive: true, force: true })
  const own = { kind: 'loaded', value: corpusSite('md') }
  // As the command has it.
  const host = {
    ...createNodeHost(root, { thriftyAfterBytes: 200 * 2 ** 20 }),
    ...(kind === 'md' ? { loadConfiguration: async () => own } : {}),
  }
  const { milliseconds, output } = await buildSite({ host, configurationFile: 'pantry.config.mjs' })
  if (!output) throw new Error('Nothing was written')
  console.log(JSON.stringify({ seconds: milliseconds / 1000, megabytes: process.resourceUsage().maxRSS / 1024 }))
  process.exit()
}

function corpusOf(kind, count) {
  const folder = join(cache, `scale-${kind}-${count}`)
  if (existsSync(folder)) return folder
  mkdirSync(folder, { recursive: true })
  if (kind === 'data') writeQuerySite(folder, count, { isSearched: false })
  else {
    execFileSync(process.execPath, ['bench/generate-corpus.mjs', String(count), folder, '1', 'md'])
    execFileSync(process.execPath, ['bench/mend-links.mjs', folder])
  }
  return folder
}

const series = { data: [10_000, 100_000, 300_000, 1_000_000], md: [1_000, 5_000, 10_000, 20_000] }
function measure(kind, count, ...flags) {
  const parameters = [...flags, 'bench/scale.mjs', target, 'build', corpusOf(kind, count), kind]
  const output = execFileSync(process.execPath, parameters, { encoding: 'utf8' })
  const record = { count, ...JSON.parse(output.trim().split('\n').at(-1)) }
  console.log(kind, ...flags, record)
  return record
}
const points = Object.entries(series).map(([kind, counts]) => [kind, counts.map((count) => measure(kind, count))])
// Where there is memory it is used: what the largest needs shows where Node is told to do with less.
measure('data', series.data.at(-1), '--max-old-space-size=1100')

const WIDTH = 420
const HEIGHT = 240
const NAMES = { data: 'Data entries', md: 'Markdown entries' }

/** A small plot: points joined by lines, beside the straight line from the first through nothing. */
function plot(title, unit, pick, list, [left, top]) {
  const most = Math.max(...list.map(pick)) * 1.1
  const last = list.at(-1).count
  const place = (count, value) => [
    left + 50 + (count / last) * (WIDTH - 90),
    top + HEIGHT - 40 - (value / most) * (HEIGHT - 80),
  ]
  const text = (x, y, words, anchor = 'middle') => `<text x="${x}" y="${y}" text-anchor="${anchor}">${words}</text>`
  const path = list.map((one) => place(one.count, pick(one)).join()).join(' ')
  const dots = list.map((one) => {
    const [x, y] = place(one.count, pick(one))
    return `<circle cx="${x}" cy="${y}" r="3"/>${text(x, y - 8, pick(one).toFixed(pick(one) < 10 ? 1 : 0))}${text(x, top + HEIGHT - 22, `${one.count / 1000}k`)}`
  })
  const [x0, y0] = place(0, 0)
  const [x1] = place(last, 0)
  return `<g>${text(left + WIDTH / 2, top + 20, `${title}, ${unit}`)}<path d="M${x0} ${y0}H${x1}" class="axis"/><polyline points="${path}"/>${dots.join('')}</g>`
}

const plots = points.flatMap(([kind, list], at) => [
  plot(`${NAMES[kind]}: cold build`, 'seconds', ({ seconds }) => seconds, list, [0, at * HEIGHT]),
  plot(`${NAMES[kind]}: peak memory`, 'megabytes', ({ megabytes }) => megabytes, list, [WIDTH, at * HEIGHT]),
])
writeFileSync(
  target,
  `<svg xmlns="http://www.w3.org/2000/svg" width="${2 * WIDTH}" height="${2 * HEIGHT}" font-family="sans-serif" font-size="12"><title>Time and memory of cold builds by the number of entries</title><style>svg{background:#fff}polyline{fill:none;stroke:#3a6b35;stroke-width:2}circle{fill:#3a6b35}.axis{stroke:#999}</style>${plots.join('')}</svg>\n`,
)

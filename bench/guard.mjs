#!/usr/bin/env node
// The main ratios on small corpora, in about two minutes, beside the table "Guard" of README.md: it fails where one is a fifth worse.
// To be run before a release, on a machine that does nothing else; a lower figure is better.
//
//   node bench/guard.mjs [rounds]
import { spawnSync } from 'node:child_process'
import { cpSync, existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { buildPackage, installDependencies, runProgram } from '../scripts/install.mjs'
import { CACHE, compareRounds, corpusOf, measure } from './compare.mjs'

process.chdir(fileURLToPath(new URL('..', import.meta.url)))
installDependencies()
await buildPackage()
if (!existsSync('bench/node_modules'))
  runProgram('npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error'], { cwd: 'bench' })

const rounds = Number(process.argv[2] ?? 4)
const out = join(CACHE, 'out.json')
const bin = 'packages/zinc-pantry/bin/zinc-pantry.js'
const folder = mkdtempSync(join(tmpdir(), 'pantry-guard-'))

/** The time of a process, with its start. */
function timeOf(...args) {
  const started = performance.now()
  const { status, stderr } = spawnSync(process.execPath, args, { encoding: 'utf8' })
  if (status !== 0) throw new Error(stderr)
  return { ms: performance.now() - started }
}

const demo = join(folder, 'demo')
cpSync('examples/fellmark', demo, { recursive: true })

/** A small file beside a table of 20,000 rows. */
const table = join(folder, 'table')
mkdirSync(join(table, 'content'), { recursive: true })
const rows = Array.from({ length: 20_000 }, (_, at) => `row-${at},Row ${at} of the table,${at % 100}\n`)
writeFileSync(join(table, 'content/rows.csv'), `id,title,height\n${rows.join('')}`)
writeFileSync(
  join(table, 'pantry.config.mjs'),
  `import { int, pantry, text } from 'zinc-pantry'
export default pantry({
  collections: {
    places: { files: '*.yaml', fields: { name: text() } },
    rows: { files: '*.csv', fields: { title: text(), height: int() } },
  },
})
`,
)
let places = 0
function checkChanged() {
  writeFileSync(join(table, 'content/here.yaml'), `name: Here ${places++}\n`)
  return timeOf(bin, 'check', '--root', table)
}
function checkFresh(site) {
  forget(site)
  return timeOf(bin, 'check', '--root', site)
}
const forget = (site) => rmSync(join(site, '.pantry'), { recursive: true, force: true })

const plain = corpusOf(1000, 'md', false)
const whole = corpusOf(1000, 'md', true)
const mdx = corpusOf(150, 'mdx', true)
const bare = () => timeOf('-e', '0')
const subjects = {
  'check of 1,000 Markdown files / its parts alone': [
    () => measure('check.mjs', plain),
    () => {
      const { walk, read, yaml, zod } = measure('floor.mjs', plain, out).ms
      return { ms: walk + read + yaml + zod }
    },
  ],
  'cold build of 1,000 Markdown files / its parts alone': [
    () => measure('build.mjs', whole),
    () => ({ ms: measure('floor.mjs', whole, out).seconds * 1000 }),
  ],
  'cold build of 150 files of MDX / their compiler alone': [
    () => measure('build.mjs', mdx, 'mdx'),
    () => measure('mdx-alone.mjs', mdx),
  ],
  '--help / bare Node': [() => timeOf(bin, '--help'), bare],
  'first check of the demo / bare Node': [() => checkFresh(demo), bare],
  'check of the demo again / bare Node': [() => timeOf(bin, 'check', '--root', demo), bare],
  'check of one small file beside 20,000 rows / of all': [checkChanged, () => checkFresh(table)],
}
const known = readTable()
let isWorse = false
for (const [name, [ours, theirs]] of Object.entries(subjects)) {
  const ratio = Number(compareRounds(rounds, ours, theirs).ratio)
  const figure = known.get(name)
  const isFine = figure !== undefined && ratio <= figure * 1.2
  const verdict = figure === undefined ? 'not in the table' : `${isFine ? '' : 'worse than '}${figure} in the table`
  isWorse ||= !isFine
  console.log(`${name.padEnd(56)} ${ratio.toFixed(2).padStart(6)}   ${verdict}`)
}
rmSync(folder, { recursive: true, force: true })
process.exitCode = isWorse ? 1 : 0

/** The figures of the section "Guard". */
function readTable() {
  const [, section = ''] = readFileSync('bench/README.md', 'utf8').split('\n## Guard\n')
  return new Map([...section.matchAll(/^\| (.+?) \| ([\d.]+) \|$/gm)].map(([, name, figure]) => [name, Number(figure)]))
}

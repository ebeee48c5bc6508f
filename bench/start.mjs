#!/usr/bin/env node
// What a command costs before there is much to do: `--help`, `check` of five files and of the demo, without what was kept and with
// it, and the entries of the package by themselves; each in processes of their own, as milliseconds more than bare Node. Medians.
//
//   node bench/start.mjs [rounds]
import { spawnSync } from 'node:child_process'
import { cpSync, mkdirSync, mkdtempSync, rmSync, symlinkSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { median } from './record.mjs'

const rounds = Number(process.argv[2] ?? 9)
const repository = fileURLToPath(new URL('..', import.meta.url))
const bin = join(repository, 'packages/zinc-pantry/bin/zinc-pantry.js')
const folder = mkdtempSync(join(tmpdir(), 'pantry-start-'))

function makeSite(name, fill) {
  const site = join(folder, name)
  mkdirSync(join(site, 'node_modules'), { recursive: true })
  fill(site)
  rmSync(join(site, 'node_modules'), { recursive: true, force: true })
  mkdirSync(join(site, 'node_modules'))
  symlinkSync(join(repository, 'packages/zinc-pantry'), join(site, 'node_modules/zinc-pantry'))
  return site
}
const small = makeSite('small', (site) => {
  mkdirSync(join(site, 'content'))
  for (let at = 1; at <= 5; at++)
    writeFileSync(join(site, `content/${at}.md`), `---\ntitle: Note ${at}\n---\n\nThe *path* is open.\n`)
  writeFileSync(
    join(site, 'pantry.config.ts'),
    "import { pantry, text } from 'zinc-pantry'\n\nexport default pantry({ collections: { notes: { files: '*.md', body: true, fields: { title: text() } } } })\n",
  )
})
const demo = makeSite('demo', (site) => cpSync(join(repository, 'examples/fellmark'), site, { recursive: true }))

function run(site, ...args) {
  const started = performance.now()
  const { status, stderr } = spawnSync(process.execPath, args, { cwd: site, encoding: 'utf8' })
  if (status !== 0) throw new Error(stderr)
  return performance.now() - started
}
function runFresh(site) {
  rmSync(join(site, '.pantry'), { recursive: true, force: true })
  return run(site, bin, 'check')
}
const load = (name) => run(small, '--input-type=module', '-e', `await import(${JSON.stringify(name)})`)
const subjects = {
  '--help': () => run(small, bin, '--help'),
  'check of five files, first run': () => runFresh(small),
  'the same again': () => run(small, bin, 'check'),
  'check of the demo, first run': () => runFresh(demo),
  'the demo again': () => run(demo, bin, 'check'),
  "import 'zinc-pantry'": () => load('zinc-pantry'),
  "import 'zinc-pantry/engine'": () => load('zinc-pantry/engine'),
}
const times = Object.fromEntries(['bare', ...Object.keys(subjects)].map((name) => [name, []]))
for (let round = 0; round < rounds; round++) {
  times.bare.push(run(small, '-e', '0'))
  for (const [name, subject] of Object.entries(subjects)) times[name].push(subject())
}
rmSync(folder, { recursive: true, force: true })
const bare = median(times.bare)
console.log(`bare Node ${Math.round(bare)} ms; more than that:`)
for (const name of Object.keys(subjects))
  console.log(`  ${name.padEnd(32)} ${Math.round(median(times[name]) - bare)} ms`)

#!/usr/bin/env node
// What a change costs that touches a fifth of a site, beside a cold check: a hut is renamed that 2,000 of 10,000 notes refer and link to.
//
//   node bench/change.mjs [rounds=5]
//
// The last line printed is a JSON record: medians of seconds, processor time and peak memory, and their ratios. Each run is a process of its own.
import { execFileSync, spawnSync } from 'node:child_process'
import { cpSync, mkdirSync, mkdtempSync, renameSync, rmSync, symlinkSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join, resolve } from 'node:path'
import { pathToFileURL } from 'node:url'
import { median } from './record.mjs'

const NOTES = 10_000
const HUTS = 50
/** Every so many notes one belongs to the hut that is renamed. */
const EVERY = 5
const packageFolder = resolve(import.meta.dirname, '../packages/zinc-pantry')

const CONFIGURATION = `import { pantry, ref, text } from 'zinc-pantry'
export default pantry({ collections: {
  huts: { files: 'huts/*.yaml', address: '/huts/{slug}/', fields: { name: text() } },
  notes: { files: 'notes/*.md', body: true, fields: { title: text(), hut: ref('huts') } },
} })
`

function makeSite(root) {
  for (const folder of ['content/huts', 'content/notes', 'node_modules'])
    mkdirSync(join(root, folder), { recursive: true })
  symlinkSync(packageFolder, join(root, 'node_modules/zinc-pantry'))
  writeFileSync(join(root, 'pantry.config.ts'), CONFIGURATION)
  for (let at = 0; at < HUTS; at++) writeFileSync(join(root, `content/huts/h${at}.yaml`), `name: Hut ${at}\n`)
  for (let at = 0; at < NOTES; at++) {
    const hut = at % EVERY === 0 ? 'h0' : `h${1 + (at % (HUTS - 1))}`
    const body = `# Note ${at}\n\nSome words of ${at} on the [way](../huts/${hut}.yaml), and more of them.\n`
    writeFileSync(join(root, `content/notes/n${at}.md`), `---\ntitle: Note ${at}\nhut: ${hut}\n---\n${body}`)
  }
}

/** Runs the command in a process that tells at its end what it used. */
function run(root, ...argv) {
  const command = pathToFileURL(join(packageFolder, 'bin/zinc-pantry.js')).href
  const code = `process.on('exit', () => { const { maxRSS, userCPUTime, systemCPUTime } = process.resourceUsage(); console.error(JSON.stringify({ maxRSS, cpu: userCPUTime + systemCPUTime })) }); process.argv.splice(1, 0, 'zinc-pantry'); await import('${command}')`
  const started = performance.now()
  const { stderr, status } = spawnSync(process.execPath, ['--input-type=module', '-e', code, ...argv], {
    cwd: root,
    encoding: 'utf8',
    maxBuffer: 2 ** 28,
  })
  if (status !== 0) throw new Error(stderr)
  const seconds = (performance.now() - started) / 1000
  const { maxRSS, cpu } = JSON.parse(stderr.trim().split('\n').at(-1))
  return { seconds, cpuSeconds: cpu / 1e6, megabytes: maxRSS / 1024 }
}

/** The seconds that it takes to write as many files anew and to put them in the place of those that are there. */
function replaceByHand() {
  rmSync(root, { recursive: true, force: true })
  cpSync(start, root, { recursive: true, verbatimSymlinks: true })
  execFileSync('sync')
  const started = performance.now()
  for (let at = 0; at < NOTES; at += EVERY) {
    const file = join(root, `content/notes/n${at}.md`)
    writeFileSync(`${file}.tmp`, `Another text of ${at}\n`)
    renameSync(`${file}.tmp`, file)
  }
  return Math.round(performance.now() - started) / 1000
}

const rounds = Number(process.argv[2] ?? 5)
const start = mkdtempSync(join(tmpdir(), 'pantry-change-'))
const root = `${start}-run`
try {
  makeSite(start)
  const kinds = {
    check: ['check'],
    dry: ['rename', 'huts/h0', 'crag', '--dry-run'],
    written: ['rename', 'huts/h0', 'crag'],
  }
  const found = { check: [], dry: [], written: [] }
  for (let round = 0; round < rounds; round++)
    for (const [kind, argv] of Object.entries(kinds)) {
      rmSync(root, { recursive: true, force: true })
      cpSync(start, root, { recursive: true, verbatimSymlinks: true })
      execFileSync('sync')
      found[kind].push(run(root, ...argv))
    }
  const replacing = median(Array.from({ length: rounds }, replaceByHand))
  const medians = Object.fromEntries(
    Object.entries(found).map(([kind, runs]) => [
      kind,
      Object.fromEntries(
        Object.keys(runs[0]).map((name) => [name, Math.round(median(runs.map((one) => one[name])) * 100) / 100]),
      ),
    ]),
  )
  const ratio = (kind, name) => Math.round((medians[kind][name] / medians.check[name]) * 100) / 100
  const ratios = Object.fromEntries(
    ['dry', 'written'].map((kind) => [
      kind,
      Object.fromEntries(Object.keys(medians.check).map((name) => [name, ratio(kind, name)])),
    ]),
  )
  console.log(
    JSON.stringify({
      files: NOTES + HUTS,
      changed: NOTES / EVERY + 1,
      replacingByHandSeconds: replacing,
      ...medians,
      ratios,
    }),
  )
} finally {
  for (const folder of [start, root]) rmSync(folder, { recursive: true, force: true })
}

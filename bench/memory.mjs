#!/usr/bin/env node
// Whether a session's memory grows: random edits, additions and removals of files, one build each.
//
//   node --expose-gc bench/memory.mjs <corpus of 1,000> [builds=2000]
//
// Prints the used heap after whole collections of garbage, at ten moments; the last line is a JSON record.
import { appendFileSync, existsSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { join, resolve } from 'node:path'
import { createNodeHost, openSession } from '../packages/zinc-pantry/dist/bundle/engine.js'
import { corpusSite } from './corpus-site.mjs'
import { createRandom } from './query-corpus.mjs'

const [corpus = '.', builds = '2000'] = process.argv.slice(2)
const root = resolve(corpus)
const value = corpusSite('md', { severities: { 'link-broken': 'off', 'link-fragment': 'off' } })
const loadConfiguration = async () => ({ kind: 'loaded', value, digest: 'corpus', inputs: ['pantry.config.ts'] })
const host = { ...createNodeHost(root), loadConfiguration }
for (const folder of ['generated', '.pantry']) rmSync(join(root, folder), { recursive: true, force: true })
const session = openSession({ host, configurationFile: 'pantry.config.ts' })
await session.build(undefined)
const random = createRandom(3)
const files = host.list('notes').files.filter((file) => file.endsWith('.md'))
const originals = new Map(files.map((file) => [file, readFileSync(join(root, 'notes', file))]))
const heaps = []
for (let at = 0; at < Number(builds); at++) {
  const file = files[random(files.length)]
  const path = join(root, 'notes', file)
  const kind = random(10)
  if (kind === 0 && existsSync(path)) rmSync(path)
  else if (kind < 3) writeFileSync(path, originals.get(file))
  else if (existsSync(path)) appendFileSync(path, `\nMore words, ${at}.\n`)
  await session.build([`notes/${file}`])
  if (at % 50 === 49) await session.save()
  if ((at + 1) % Math.ceil(Number(builds) / 10) !== 0) continue
  globalThis.gc?.()
  heaps.push(Math.round(process.memoryUsage().heapUsed / 2 ** 20))
  console.log(at + 1, 'builds', heaps.at(-1), 'MB')
}
console.log(JSON.stringify({ builds: Number(builds), heapMB: heaps, last: heaps.at(-1) / heaps[0] }))

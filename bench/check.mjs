#!/usr/bin/env node
// Our check of the corpus: every field of every front matter, with its place.
//
//   node check.mjs <corpus-dir>
//
// The last line printed is a JSON record with the time in ms, process start and imports aside.
import { rmSync } from 'node:fs'
import { join, resolve } from 'node:path'
import { checkSite, createNodeHost } from '../packages/zinc-pantry/dist/bundle/engine.js'
import { corpusSite } from './corpus-site.mjs'
import { printRecord } from './record.mjs'
// What the engine loads when there is something to do, as the floor loads its parts before it starts.
import '../packages/zinc-pantry/dist/bundle/run-site.js'

// Front matter alone is compared; the corpus has links that lead nowhere.
const value = corpusSite('md', {
  severities: { 'link-broken': 'off', 'link-fragment': 'off', 'link-without-page': 'off' },
})
// The configuration is given, so that its bundling is not counted; the floor has none.
const host = {
  ...createNodeHost(resolve(process.argv[2] ?? '.')),
  loadConfiguration: async () => ({ kind: 'loaded', value }),
}
rmSync(join(resolve(process.argv[2] ?? '.'), '.pantry'), { recursive: true, force: true })
printRecord(await checkSite({ host, configurationFile: 'pantry.config.ts' }))

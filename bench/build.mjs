#!/usr/bin/env node
// Our cold build of the corpus: front matter, bodies to HTML and outline, links checked, indexes and types written.
//
//   node build.mjs <corpus-dir> [md|mdx]
//
// The last line printed is a JSON record with the time in ms, process start and imports aside.
import { rmSync } from 'node:fs'
import { join, resolve } from 'node:path'
import { buildSite, createNodeHost } from '../packages/zinc-pantry/dist/bundle/engine.js'
import { corpusSite } from './corpus-site.mjs'
import { printRecord } from './record.mjs'
// What the engine loads when there is something to do, as the others load their parts before they start.
import '../packages/zinc-pantry/dist/bundle/run-site.js'

const [corpus = '.', ending = 'md'] = process.argv.slice(2)
const root = resolve(corpus)
for (const folder of ['generated', '.pantry']) rmSync(join(root, folder), { recursive: true, force: true })
const host = { ...createNodeHost(root), loadConfiguration: async () => ({ kind: 'loaded', value: corpusSite(ending) }) }
const report = await buildSite({ host, configurationFile: 'pantry.config.ts' })
if (!report.output) throw new Error(`Nothing was written: ${report.diagnostics.length} problems`)
printRecord(report)

#!/usr/bin/env node
// Our check of the corpus: every field of every front matter, with its place.
//
//   node check.mjs <corpus-dir>
//
// The last line printed is a JSON record with the time in ms, process start and imports aside.
import { resolve } from 'node:path'
import { checkSite, createNodeHost } from '../packages/zinc-pantry/dist/engine/index.js'
import { date, flag, group, list, number, pantry, text } from '../packages/zinc-pantry/dist/index.js'

const corpus = resolve(process.argv[2] ?? '.')
const configuration = pantry({
  content: 'notes',
  // Front matter alone is compared; the corpus has links that lead nowhere.
  severities: { 'link-broken': 'off', 'link-fragment': 'off' },
  collections: {
    notes: {
      files: '**/*.md',
      entry: 'Note',
      slug: 'slug',
      body: true,
      fields: {
        title: text({ minLength: 1 }),
        description: text({ maxLength: 400 }),
        date: date(),
        updated: text({ pattern: '^\\d{4}-\\d\\d-\\d\\dT[\\d:]+Z$' }),
        draft: flag({ default: false }),
        warden: text(),
        tags: list(text(), { minItems: 1 }),
        rating: number({ minimum: 0, maximum: 5 }),
        related: list(group({ entry: text(), remark: text(), labels: list(text()) })),
      },
    },
  },
})
// The configuration is given, so that its bundling is not counted; the floor has none.
const host = { ...createNodeHost(corpus), loadConfiguration: async () => ({ kind: 'loaded', value: configuration }) }
const report = await checkSite({ host, configurationFile: 'pantry.config.ts' })
const cpu = process.cpuUsage()
console.log(
  JSON.stringify({
    files: report.fileCount,
    entries: report.entryCount,
    problems: report.diagnostics.length,
    ms: Math.round(report.milliseconds),
    cpuSeconds: Number(((cpu.user + cpu.system) / 1e6).toFixed(2)),
    peakRssMB: Math.round(process.resourceUsage().maxRSS / 1024),
  }),
)

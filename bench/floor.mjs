#!/usr/bin/env node
// The floor: the same result as yardstick.mjs from the fastest measured parts,
// with none of a product's work (no places, links, indexes, types or output files but one).
//
//   node floor.mjs <corpus-dir> [out.json]
//
// The last line printed is a JSON record with the time of each part in ms.
import { readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join, resolve } from 'node:path'
import { constructFromEvents, parseEvents } from 'js-yaml'
import MarkdownIt from 'markdown-it'
import { z } from 'zod'

const started = performance.now()
const [corpus, out = 'floor-out.json'] = process.argv.slice(2)
if (!corpus) {
  console.error('usage: node floor.mjs <corpus-dir> [out.json]')
  process.exit(2)
}

const Note = z.object({
  title: z.string().min(1),
  description: z.string().max(400),
  slug: z.string().regex(/^[a-z0-9]+(-[a-z0-9]+)*$/),
  date: z.coerce.date(),
  updated: z.coerce.date(),
  draft: z.boolean().default(false),
  warden: z.string(),
  tags: z.array(z.string()).min(1),
  rating: z.number().min(0).max(5),
  related: z.array(z.object({ entry: z.string(), remark: z.string(), labels: z.array(z.string()) })),
})

const markdown = new MarkdownIt({ html: true })
const ms = { walk: 0, read: 0, yaml: 0, zod: 0, markdown: 0 }
let mark = performance.now()
const lap = (part) => {
  const now = performance.now()
  ms[part] += now - mark
  mark = now
}

const dir = resolve(corpus)
const paths = readdirSync(dir, { recursive: true })
  .filter((p) => p.endsWith('.md'))
  .sort()
lap('walk')
const entries = []
for (const path of paths) {
  const source = readFileSync(join(dir, path), 'utf8')
  lap('read')
  const end = source.indexOf('\n---\n', 3)
  const front = source.slice(4, end + 1)
  const [data] = constructFromEvents(parseEvents(front, {}), { source: front })
  lap('yaml')
  const note = Note.parse(data)
  lap('zod')
  entries.push({ id: path.slice(0, -3), ...note, html: markdown.render(source.slice(end + 5)) })
  lap('markdown')
}
writeFileSync(out, JSON.stringify(entries))
const cpu = process.cpuUsage()
console.log(
  JSON.stringify({
    files: paths.length,
    seconds: Number(((performance.now() - started) / 1000).toFixed(2)),
    cpuSeconds: Number(((cpu.user + cpu.system) / 1e6).toFixed(2)),
    peakRssMB: Math.round(process.resourceUsage().maxRSS / 1024),
    ms: Object.fromEntries(Object.entries(ms).map(([part, value]) => [part, Math.round(value)])),
  }),
)

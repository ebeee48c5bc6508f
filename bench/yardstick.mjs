#!/usr/bin/env node
// The yardstick: what a site's author would write by hand with common packages.
// It reads every Markdown file, validates its front matter, renders its body to
// HTML, and writes all entries to one JSON file.
//
//   node yardstick.mjs <corpus-dir> [out.json] [--gfm]
//
// The corpus is what generate-corpus.mjs makes. Without --gfm only CommonMark is
// parsed (tables stay paragraphs). The last line printed is a JSON record:
// { files, entries, invalid, seconds, cpuSeconds, peakRssMB, outBytes, node }.
// On a shared machine compare cpuSeconds: a busy neighbour stretches seconds.
import { readFile, writeFile } from 'node:fs/promises'
import { join, resolve } from 'node:path'
import fg from 'fast-glob'
import matter from 'gray-matter'
import rehypeStringify from 'rehype-stringify'
import remarkGfm from 'remark-gfm'
import remarkParse from 'remark-parse'
import remarkRehype from 'remark-rehype'
import { unified } from 'unified'
import { z } from 'zod'

const started = performance.now()
const args = process.argv.slice(2)
const gfm = args.includes('--gfm')
const [corpus, out = 'yardstick-out.json'] = args.filter((a) => !a.startsWith('--'))
if (!corpus) {
  console.error('usage: node yardstick.mjs <corpus-dir> [out.json] [--gfm]')
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

const processor = unified().use(remarkParse)
if (gfm) processor.use(remarkGfm)
processor.use(remarkRehype).use(rehypeStringify).freeze()

const cwd = resolve(corpus)
const paths = (await fg('**/*.md', { cwd })).sort()
const entries = []
const problems = []
for (const path of paths) {
  const source = await readFile(join(cwd, path), 'utf8')
  const { data, content } = matter(source)
  const parsed = Note.safeParse(data)
  if (!parsed.success) {
    problems.push(`${path}: ${z.prettifyError(parsed.error)}`)
    continue
  }
  entries.push({ id: path.replace(/\.md$/, ''), ...parsed.data, html: String(await processor.process(content)) })
}
const json = JSON.stringify(entries)
await writeFile(out, json)

for (const p of problems.slice(0, 20)) console.error(p)
const { user, system } = process.cpuUsage()
console.log(
  JSON.stringify({
    files: paths.length,
    entries: entries.length,
    invalid: problems.length,
    seconds: Number(((performance.now() - started) / 1000).toFixed(2)),
    cpuSeconds: Number(((user + system) / 1e6).toFixed(2)),
    peakRssMB: Math.round(process.resourceUsage().maxRSS / 1024),
    outBytes: Buffer.byteLength(json),
    node: process.version,
  }),
)
if (problems.length > 0) process.exitCode = 1

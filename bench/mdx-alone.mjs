#!/usr/bin/env node
// The MDX compiler alone, on the bodies of the corpus: one processor for all, its loading counted, nothing written.
//
//   node mdx-alone.mjs <corpus-dir>
import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'

const [corpus = '.'] = process.argv.slice(2)
const started = performance.now()
const [{ createProcessor }, { default: remarkGfm }] = await Promise.all([import('@mdx-js/mdx'), import('remark-gfm')])
const processor = createProcessor({ outputFormat: 'function-body', remarkPlugins: [remarkGfm] })
const paths = readdirSync(corpus, { recursive: true }).filter((path) => path.endsWith('.mdx'))
let size = 0
for (const path of paths) {
  const source = readFileSync(join(corpus, path), 'utf8')
  size += String(await processor.process(source.slice(source.indexOf('\n---\n', 3) + 5))).length
}
console.log(JSON.stringify({ files: paths.length, size, ms: Math.round(performance.now() - started) }))

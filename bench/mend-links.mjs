#!/usr/bin/env node
// Makes a corpus whole: its links lead to files, its pictures are there.
//
//   node mend-links.mjs <corpus-dir>
import { mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { basename, dirname, join } from 'node:path'

const root = join(process.argv[2] ?? '.', 'notes')
const files = readdirSync(root, { recursive: true, encoding: 'utf8' }).filter((path) => /\.mdx?$/.test(path))
const folders = new Map(files.map((file) => [basename(file).replace(/\.\w+$/, ''), dirname(file)]))
// The smallest picture there is: one transparent pixel.
const pixel = Buffer.from('R0lGODlhAQABAAAAACH5BAEKAAEALAAAAAABAAEAAAICTAEAOw==', 'base64')
mkdirSync(join(root, 'img'), { recursive: true })
for (const file of files) {
  const ending = file.slice(file.lastIndexOf('.'))
  const text = readFileSync(join(root, file), 'utf8')
  const mended = text
    .replace(/\]\(\.\/([\w-]+)\.md#\w+/g, (_, slug) => `](../${folders.get(slug) ?? '?'}/${slug}${ending}`)
    .replace(/(\]\(\.\.\/img\/(\w+))\.png/g, (_, start, name) => {
      writeFileSync(join(root, 'img', `${name}.gif`), pixel)
      return `${start}.gif`
    })
  if (mended !== text) writeFileSync(join(root, file), mended)
}

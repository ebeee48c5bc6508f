#!/usr/bin/env node
// How well known items are found: of each package that is installed here the read-me is a document, and its description and its
// keywords are questions for it. Beside a mature search library over the same texts.
//
//   node bench/known-items.mjs
//
// The last line printed is a JSON record: how many of the questions have their document among the first five, the mean
// reciprocal rank, and for how many questions each of the two has it further up.
import { existsSync, readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import MiniSearch from 'minisearch'
import { createMemoryHost, openContent } from '../packages/zinc-pantry/dist/bundle/engine.js'
import { pantry, text } from '../packages/zinc-pantry/dist/bundle/index.js'
import { openCollection } from '../packages/zinc-pantry/dist/query/index.js'

const names = readdirSync('node_modules').flatMap((name) => {
  if (name.startsWith('.')) return []
  return name.startsWith('@') ? readdirSync(join('node_modules', name)).map((own) => `${name}/${own}`) : [name]
})
const documents = names.flatMap((title) => {
  const folder = join('node_modules', title)
  const file = ['README.md', 'readme.md', 'Readme.md'].map((name) => join(folder, name)).find(existsSync)
  if (!file || !existsSync(join(folder, 'package.json'))) return []
  const { description = '', keywords = [] } = JSON.parse(readFileSync(join(folder, 'package.json'), 'utf8'))
  const words = readFileSync(file, 'utf8')
    .replace(/<[^>]*>/g, ' ')
    .replace(/\]\([^)]*\)/g, ']')
  return words.length < 400 || words.length > 60_000 ? [] : [{ title, words, description, keywords: [keywords].flat() }]
})
const entries = documents.map(({ title, words }, at) => ({ id: String(at), title, words }))
const site = pantry({
  severities: { 'label-near': 'off' },
  collections: {
    documents: { files: 'all.json', search: { title: 4, words: 1 }, fields: { title: text(), words: text() } },
  },
})
const host = createMemoryHost({ 'content/all.json': JSON.stringify(entries) }, site)
const opened = await openContent({ host, configurationFile: 'pantry.config.ts' })
const ours = openCollection(opened.site, 'documents')
const library = new MiniSearch({
  fields: ['title', 'words'],
  searchOptions: { boost: { title: 4 }, prefix: true, fuzzy: 0.2 },
})
library.addAll(entries)

const questions = {
  description: ({ description }) => description.split(/\s+/).slice(0, 8).join(' '),
  keywords: ({ keywords }) => keywords.slice(0, 3).join(' '),
}
const rankOf = (found, at) => found.indexOf(String(at)) + 1 || Number.POSITIVE_INFINITY
const record = { documents: documents.length }
for (const [kind, ask] of Object.entries(questions)) {
  const ranks = []
  for (const [at, one] of documents.entries()) {
    const words = ask(one)
    if (words.split(' ').length < 2) continue
    const found = (await ours.search(words).limit(50).toArray()).map(({ id }) => id)
    const theirs = library
      .search(words)
      .slice(0, 50)
      .map(({ id }) => id)
    ranks.push([rankOf(found, at), rankOf(theirs, at)])
  }
  const sum = (value) => ranks.reduce((total, one) => total + value(one), 0)
  const round = (number) => Math.round(number * 1000) / 1000
  record[kind] = {
    questions: ranks.length,
    amongFive: [sum(([own]) => +(own <= 5)), sum(([, other]) => +(other <= 5))],
    meanReciprocalRank: [
      round(sum(([own]) => 1 / own) / ranks.length),
      round(sum(([, other]) => 1 / other) / ranks.length),
    ],
    furtherUp: [sum(([own, other]) => +(own < other)), sum(([own, other]) => +(own > other))],
  }
  console.log(kind, record[kind])
}
console.log(JSON.stringify(record))

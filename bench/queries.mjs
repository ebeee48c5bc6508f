#!/usr/bin/env node
// Queries on a generated collection, beside array scans, hand-built maps and a mature search library.
//
//   node bench/queries.mjs [count=100000]
//
// The last line printed is a JSON record. Times are medians in microseconds, everything loaded and warm.
import { rmSync } from 'node:fs'
import { join, resolve } from 'node:path'
import { pathToFileURL } from 'node:url'
import MiniSearch from 'minisearch'
import { buildSite, createNodeHost } from '../packages/zinc-pantry/dist/bundle/engine.js'
import { createRandom, createVocabulary, writeQuerySite } from './query-corpus.mjs'
import { median } from './record.mjs'

const count = Number(process.argv[2] ?? 100_000)
const root = resolve('node_modules/.cache/bench', `queries-${count}`)
const plain = writeQuerySite(root, count)
rmSync(join(root, 'generated'), { recursive: true, force: true })
const report = await buildSite({ host: createNodeHost(root), configurationFile: 'pantry.config.mjs' })
if (!report.output) throw new Error('Nothing was written')
const { notes } = await import(pathToFileURL(join(root, 'generated/pantry/index.js')).href)
const all = await notes.toArray()

/** The median of some rounds, after half a second of others. */
async function time(rounds, work) {
  const warm = performance.now() + 500
  for (let round = 0; performance.now() < warm; round++) await work(round)
  const times = []
  for (let round = 0; round < rounds; round++) {
    const started = performance.now()
    await work(round)
    times.push((performance.now() - started) * 1000)
  }
  return Math.round(median(times) * 10) / 10
}

const byHut = Map.groupBy?.(all, ({ hut }) => hut) ?? new Map()
if (byHut.size === 0) for (const note of all) byHut.set(note.hut, [...(byHut.get(note.hut) ?? []), note])
const byHeight = all.toSorted((a, b) => a.height - b.height)
const bound = (height) => {
  let low = 0
  let high = byHeight.length
  while (low < high) {
    const middle = (low + high) >> 1
    if (byHeight[middle].height < height) low = middle + 1
    else high = middle
  }
  return low
}
const hutAt = (round) => `hut-${round % 120}`
const lowAt = (round) => (round * 7) % 2900
/** What a page does with entries: it reads them. */
const read = (entries) => {
  let sum = 0
  for (const { height, title } of entries) sum += height + title.length
  return sum
}
const within =
  (round) =>
  ({ height }) =>
    height >= lowAt(round) && height <= lowAt(round) + 20
const askHut = (round) => notes.where((note) => note.hut.is(hutAt(round))).toArray()
const inRange = (round) => notes.where((note) => note.height.between(lowAt(round), lowAt(round) + 20))
const askRange = (round) =>
  inRange(round)
    .sort((note) => note.height)
    .toArray()
const sliceRange = (round) => byHeight.slice(bound(lowAt(round)), bound(lowAt(round) + 21))
const equality = {
  ours: await time(1000, askHut),
  map: await time(1000, (round) => [...byHut.get(hutAt(round))]),
  scan: await time(60, (round) => all.filter(({ hut }) => hut === hutAt(round))),
  oursRead: await time(1000, async (round) => read(await askHut(round))),
  mapRead: await time(1000, (round) => read(byHut.get(hutAt(round)))),
}
const range = {
  ours: await time(1000, askRange),
  sortedArray: await time(1000, sliceRange),
  scan: await time(60, (round) => all.filter(within(round)).sort((a, b) => a.height - b.height)),
  oursRead: await time(1000, async (round) => read(await askRange(round))),
  // In the order of the collection, which a sorted array does not give.
  oursUnsorted: await time(1000, (round) => inRange(round).toArray()),
  scanUnsorted: await time(60, (round) => all.filter(within(round))),
  sortedArrayRead: await time(1000, (round) => read(sliceRange(round))),
}

const library = new MiniSearch({
  fields: ['title', 'text'],
  searchOptions: { boost: { title: 3 }, prefix: true, fuzzy: 0.2 },
})
const started = performance.now()
library.addAll(plain)
const libraryBuild = Math.round(performance.now() - started)
const random = createRandom(5)
const word = createVocabulary(createRandom(11))
const mistake = (text) => {
  const at = 1 + random(text.length - 2)
  return text.slice(0, at) + text[at + 1] + text[at] + text.slice(at + 2)
}
const asked = Array.from({ length: 120 }, (_, at) => {
  const one = word()
  if (at % 3 === 0) return { text: mistake(one), truth: [one] }
  if (at % 3 === 1) return { text: one.slice(0, -2), truth: [one] }
  const other = word()
  return { text: `${one} ${other}`, truth: [one, other] }
})
const hits = async (text) => (await notes.search(text).toArray()).map(({ id }) => id)
const found = (text) => library.search(text).map(({ id }) => id)
const recall = async (search) => {
  let had = 0
  let wanted = 0
  for (const { text, truth } of asked) {
    const ids = new Set(await search(text))
    for (const note of plain) {
      const words = `${note.title} ${note.text}`.split(' ')
      if (!truth.some((one) => words.includes(one))) continue
      wanted++
      if (ids.has(note.id)) had++
    }
  }
  return Number((had / wanted).toFixed(4))
}
const first = {
  ours: (text) => notes.search(text).limit(20).toArray(),
  library: (text) => library.search(text).slice(0, 20),
}
const text = {
  ours: await time(240, (round) => first.ours(asked[round % asked.length].text)),
  library: await time(240, (round) => first.library(asked[round % asked.length].text)),
  recall: await recall(hits),
  libraryRecall: await recall(found),
  libraryBuild,
}
const ratio = (a, b) => Number((a / b).toFixed(2))
const ratiosOf = ({ ours, scan, oursRead }, byHand, byHandRead) => ({
  timesFasterThanScan: ratio(scan, ours),
  timesByHand: ratio(ours, byHand),
  timesByHandRead: ratio(oursRead, byHandRead),
})
console.log(
  JSON.stringify({
    count,
    buildMs: Math.round(report.milliseconds),
    equality: { ...equality, ...ratiosOf(equality, equality.map, equality.mapRead) },
    range: { ...range, ...ratiosOf(range, range.sortedArray, range.sortedArrayRead) },
    text: { ...text, timesTheLibrary: ratio(text.ours, text.library) },
  }),
)

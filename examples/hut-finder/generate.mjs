// @ts-check
/** Writes the content: the huts and trails of the demo, and notes that refer to them, the same at every time. */
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs'
import { dirname, join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { createNodeHost, openContent } from 'zinc-pantry/engine'
import { runQuery } from 'zinc-pantry/query'

const COUNT = Number(process.env.FINDER_NOTES ?? 50_000)
const PER_FILE = 5_000
const root = dirname(fileURLToPath(import.meta.url))
const content = join(root, 'content')

const options = { host: createNodeHost(join(root, '../fellmark')), configurationFile: 'pantry.config.ts' }
const { site } = await openContent(options)
/** @param {string} collection */
const entriesOf = async (collection) =>
  /** @type {readonly Record<string, any>[]} */ ((await runQuery(site, { collection })).entries)
const huts = (await entriesOf('huts')).map(({ id, name, beds }) => ({ id, name, beds }))
const trails = (await entriesOf('trails')).map(({ id, title, grade }) => ({ id, title, grade }))

let state = 7
/** A number below another: mulberry32, small and everywhere the same. @param {number} below */
function random(below) {
  state = (state + 0x6d2b79f5) >>> 0
  let mixed = Math.imul(state ^ (state >>> 15), state | 1)
  mixed ^= mixed + Math.imul(mixed ^ (mixed >>> 7), mixed | 61)
  return Math.floor((((mixed ^ (mixed >>> 14)) >>> 0) / 4294967296) * below)
}
/** @template Item @param {readonly Item[]} list */
const pick = (list) => /** @type {Item} */ (list[random(list.length)])

const WEATHER = ['sun', 'cloud', 'fog', 'rain', 'snow', 'wind']
const WHO = [
  'We',
  'Two of us',
  'A quiet party',
  'The whole choir',
  'My sister and I',
  'Three old friends',
  'I',
  'The dog and I',
]
const CAME = [
  'came up',
  'came down',
  'limped in',
  'arrived early',
  'arrived long after dark',
  'stumbled in',
  'came singing',
  'came without hurry',
]
const HOW = [
  'through wet bracken',
  'over the boulders',
  'along the wall',
  'across the saltings',
  'by the stream',
  'in a long line of cairns',
  'by the sheepfold',
  'under the crag',
  'past the peat hags',
  'over the footbridge',
]
const FOUND = [
  'The stove was warm',
  'The kettle sang',
  'Somebody had left tea',
  'The drying room smelt of socks',
  'The library has a new atlas',
  'The spring ran clear',
  'The door sticks',
  'The lamp wants oil',
  'The bunks are short',
  'The window rattles',
]
const SAW = [
  'an otter',
  'two ravens',
  'a ring ouzel',
  'the tide turning',
  'stars between clouds',
  'a rainbow over the tarn',
  'a fox at the midden',
  'nobody at all',
  'a wheatear on the cairn',
  'lights in the valley',
]
const END = [
  'We will be back',
  'Thank you for the porridge',
  'Bring a second blanket',
  'Leave the map where it is',
  'Mind the third step',
  'Please mend the gutter',
  'The soup was worth the climb',
  'Next time without the dog',
  'Sweep before you leave',
  'The wind decided how we slept',
]

const notes = Array.from({ length: COUNT }, (_, at) => {
  const day = new Date(Date.UTC(1990, 0, 1) + random(13_400) * 86_400_000).toISOString().slice(0, 10)
  const text = `${pick(WHO)} ${pick(CAME)} ${pick(HOW)}. ${pick(FOUND)}; we saw ${pick(SAW)}. ${pick(END)}.`
  return {
    id: `n${at}`,
    hut: pick(huts).id,
    trail: pick(trails).id,
    on: day,
    weather: pick(WEATHER),
    stars: 1 + random(5),
    party: 1 + random(12),
    text,
  }
})

/** Writes a file where it is not right already. @param {string} path @param {unknown} value */
function write(path, value) {
  const text = `${JSON.stringify(value)}\n`
  const file = join(content, path)
  if (existsSync(file) && readFileSync(file, 'utf8') === text) return
  mkdirSync(dirname(file), { recursive: true })
  writeFileSync(file, text)
}
write('huts.json', huts)
write('trails.json', trails)
for (let start = 0; start < COUNT; start += PER_FILE)
  write(`notes/${String(start / PER_FILE).padStart(2, '0')}.json`, notes.slice(start, start + PER_FILE))
console.log(
  `${COUNT.toLocaleString('en-US')} notes of ${huts.length} huts and ${trails.length} trails in examples/hut-finder/content`,
)

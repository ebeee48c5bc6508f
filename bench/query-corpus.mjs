// A generated collection of log-book notes, for benches of queries: the same numbers give the same notes.
import { mkdirSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'

/** mulberry32: small, fast, the same everywhere. */
export function createRandom(seed) {
  let state = seed >>> 0
  return (below) => {
    state = (state + 0x6d2b79f5) >>> 0
    let t = state
    t = Math.imul(t ^ (t >>> 15), t | 1)
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61)
    return Math.floor((((t ^ (t >>> 14)) >>> 0) / 4294967296) * below)
  }
}

const PARTS = [
  'bar',
  'bel',
  'cam',
  'dra',
  'fen',
  'gar',
  'hol',
  'kir',
  'lun',
  'mor',
  'nes',
  'pel',
  'ras',
  'sol',
  'tar',
  'ven',
  'wyn',
  'yar',
]

/** Words as prose has them: few are common, many are rare. */
export function createVocabulary(random, size = 4000) {
  const words = new Set()
  while (words.size < size) {
    const parts = 2 + random(3)
    words.add(Array.from({ length: parts }, () => PARTS[random(PARTS.length)]).join(''))
  }
  const list = [...words]
  return () => list[Math.floor(list.length * (random(1e6) / 1e6) ** 3)]
}

export function makeNotes(count) {
  const random = createRandom(11)
  const word = createVocabulary(random)
  const words = (few, many) => Array.from({ length: few + random(many - few + 1) }, word).join(' ')
  const day = (at) => new Date(Date.UTC(2005, 0, 1) + at * 86_400_000).toISOString().slice(0, 10)
  return Array.from({ length: count }, (_, at) => ({
    id: `note-${at}`,
    title: words(2, 5),
    grade: ['easy', 'moderate', 'hard'][random(3)],
    region: `region-${random(8)}`,
    stars: 1 + random(5),
    height: random(3000),
    on: day(random(7300)),
    hut: `hut-${random(120)}`,
    tags: ['bog', 'fog', 'ice', 'wind', 'sun'].filter(() => random(3) === 0),
    text: words(10, 24),
  }))
}

/** Writes the content and the configuration of the collection. */
export function writeQuerySite(root, count, { isSearched = true, isClustered = false } = {}) {
  mkdirSync(join(root, 'content'), { recursive: true })
  const notes = makeNotes(count)
  mkdirSync(join(root, 'content/notes'), { recursive: true })
  for (let start = 0; start < count; start += 10_000) {
    const name = `${String(start / 10_000).padStart(3, '0')}.json`
    writeFileSync(join(root, 'content/notes', name), JSON.stringify(notes.slice(start, start + 10_000)))
  }
  const huts = Array.from({ length: 120 }, (_, at) => ({ id: `hut-${at}`, name: `Hut ${at}`, beds: at % 40 }))
  writeFileSync(join(root, 'content/huts.json'), JSON.stringify(huts))
  writeFileSync(
    join(root, 'pantry.config.mjs'),
    `import { choice, date, int, list, pantry, ref, text } from 'zinc-pantry'
export default pantry({
  collections: {
    huts: { files: 'huts.json', fields: { name: text(), beds: int() } },
    notes: {
      files: 'notes/*.json',
      perFile: 'many',
${isSearched ? '      search: { title: 3, text: 1 },\n' : ''}${isClustered ? "      clustered: ['-on', 'grade,region,-on'],\n      indexes: [{ field: 'title', trigrams: true }],\n" : ''}      fields: {
        title: text(), grade: choice(['easy', 'moderate', 'hard']), region: text(), stars: int(), height: int(),
        on: date(), hut: ref('huts'), tags: list(choice(['bog', 'fog', 'ice', 'wind', 'sun'])), text: text(),
      },
    },
  },
})
`,
  )
  return notes
}

import { execFileSync } from 'node:child_process'
import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { expect, test } from 'vitest'
import { linkPackages, makeFile, makeFolder, PNG, REPOSITORY } from './helpers.ts'

/** The number of entries of each collection. */
const COUNT = 150
const numbers = Array.from({ length: COUNT }, (_, at) => at)

const noteOf = (at: number): string =>
  `---\ntitle: Note ${at}\nhut: h${at}\ntags: [a, b]\n---\n# Top\n\n## Below\n\nTo [another](n${(at + 1) % COUNT}.md), ![a](../a${at}.png).\n`

/** A site with as many entries of each format, and what is made of them. */
const files = {
  'pantry.config.mjs': configurationOf(40),
  ...Object.fromEntries(numbers.map((at) => [`content/notes/n${at}.md`, noteOf(at)])),
  ...Object.fromEntries(numbers.map((at) => [`content/a${at}.png`, PNG])),
  'content/huts.json': JSON.stringify(
    numbers.map((at) => ({ id: `h${at}`, name: `Hut ${at}`, beds: at, near: ['h0'] })),
  ),
  'content/stages.csv': `id,name,hours,open,tags\n${numbers.map((at) => `s${at},Stage ${at},${at},true,a;b\n`).join('')}`,
  'content/wardens.yaml': numbers.map((at) => `- { id: w${at}, name: Warden ${at}, motto: "*Go* ${at}" }\n`).join(''),
}

function configurationOf(maxLength: number): string {
  return `import { flag, int, list, markdown, pantry, ref, reverse, text } from 'zinc-pantry'
export default pantry({
  collections: {
    notes: {
      files: 'notes/*.md', body: true, address: 'url', search: { title: 2, body: 1 }, backlinks: true,
      fields: { title: text({ maxLength: ${maxLength} }), hut: ref('huts'), tags: list(text()) },
      derive: { url: { field: text(), from: ({ slug }) => '/' + slug + '/' } },
    },
    huts: { files: 'huts.json', fields: { name: text(), beds: int(), near: list(ref('huts')), notes: reverse('notes', 'hut') } },
    stages: { files: 'stages.csv', fields: { name: text(), hours: int(), open: flag(), tags: list(text()) } },
    wardens: { files: 'wardens.yaml', fields: { name: text(), motto: markdown() } },
  },
})
`
}

/**
 * The names of keys and the number of objects that had to be given a hidden class of their own when they got one. Objects of one kind have
 * one in common; where each has its own, all that reads them is many times slower, and each is larger by 200 bytes. In Node 20 that is
 * what comes of keys behind a spread: `{ ...entry, more }`.
 */
function countClasses(folder: string): Map<string, number> {
  const log = join(folder, 'maps.log')
  const flags = ['--log-maps', `--logfile=${log}`, '--no-logfile-per-isolate']
  const command = join(REPOSITORY, 'packages/zinc-pantry/bin/zinc-pantry.js')
  execFileSync(process.execPath, [...flags, command, 'build'], { cwd: folder })
  const counts = new Map<string, number>()
  for (const line of readFileSync(log, 'utf8').split('\n')) {
    const [event, kind, , , , , row, column, reason, name] = line.split(',')
    if (event !== 'map' || (kind !== 'Transition' && kind !== 'NormalizeCached')) continue
    const place = `${kind} ${row}:${column} ${reason} ${name}`
    counts.set(place, (counts.get(place) ?? 0) + 1)
  }
  return counts
}

const many = (counts: Map<string, number>): (readonly [string, number])[] =>
  [...counts].filter(([, count]) => count > COUNT * 0.8)

test('No hidden class is made for each entry, neither when entries are checked and written nor when they are restored', () => {
  const folder = makeFolder(files)
  linkPackages(folder)
  const cold = countClasses(folder)
  expect(cold.size).toBeGreaterThan(100)
  expect(many(cold)).toEqual([])
  makeFile(folder, 'pantry.config.mjs', configurationOf(41))
  makeFile(folder, 'content/notes/n7.md', noteOf(8))
  expect(many(countClasses(folder))).toEqual([])
}, 60_000)

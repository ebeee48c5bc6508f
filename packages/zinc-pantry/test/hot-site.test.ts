import { mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { pathToFileURL } from 'node:url'
import fc from 'fast-check'
import { expect, test, vi } from 'vitest'
import { flag, int, list, pantry, ref, text } from 'zinc-pantry'
import { buildSite, createNodeHost } from 'zinc-pantry/engine'
import { type Collection, openCollection, type Site, type StoredCollection } from 'zinc-pantry/query'
import { openHotSite } from 'zinc-pantry/vite/client'
import { expectShare, makeFolder, REPOSITORY } from './helpers.ts'

const site = pantry({
  locales: ['en', 'no'],
  severities: { 'locale-missing': 'off' },
  collections: {
    huts: { files: 'huts.json', fields: { name: text(), beds: int() } },
    notes: {
      files: 'notes/*.md',
      locales: 'suffix',
      body: true,
      search: { title: 2, body: 1 },
      fields: {
        title: text(),
        stars: int(),
        isOpen: flag({ default: true }),
        huts: list(ref('huts'), { default: [] }),
      },
    },
  },
})

/** Gives what a generated module opens instead of opening it. */
const CAPTURE = `export * from ${JSON.stringify(pathToFileURL(join(REPOSITORY, 'packages/zinc-pantry/dist/query/index.js')).href)}
export const opened = {}
export const openSite = (collections) => Object.assign(opened, { collections })
export const openCollection = () => undefined
`

// Handles are what they are; only the answers count here.
// biome-ignore lint/suspicious/noExplicitAny: see above.
type Handles = any
type Notes = Collection<Readonly<Record<string, unknown>>, Handles, string>

/** What pages ask, and of which collections. */
const QUESTIONS: Readonly<Record<string, (of: (name: string) => Notes) => Promise<unknown>>> = {
  all: (of) => of('notes').toArray(),
  count: (of) => of('notes').count(),
  first: (of) => of('notes').first(),
  byId: (of) => of('notes').byId('b'),
  inNo: (of) => of('notes').inLocale('no').toArray(),
  where: (of) =>
    of('notes')
      .where((note) => note.stars.atLeast(2))
      .toArray(),
  sorted: (of) =>
    of('notes')
      .sort((note) => note.stars.descending())
      .limit(2)
      .pick((note) => note.title)
      .toArray(),
  facets: (of) => of('notes').facets((note) => ({ isOpen: note.isOpen, stars: note.stars })),
  range: (of) => of('notes').range((note) => note.stars),
  body: (of) => of('notes').loadBody('a'),
  search: (of) => of('notes').search('bog').hits(),
  across: (of) =>
    of('notes')
      .where((note) => note.huts.some((hut: Handles) => hut.beds.above(1)))
      .toArray(),
  huts: (of) =>
    of('huts')
      .sort((hut) => hut.name)
      .toArray(),
  hut: (of) =>
    of('huts')
      .where((hut) => hut.name.is('Gable'))
      .toArray(),
}

const words = fc.constantFrom('Bog', 'Fog', 'A bog', 'Gable', 'Tarn')
const note = fc.record({
  title: words,
  stars: fc.nat(3),
  isOpen: fc.boolean(),
  huts: fc.subarray(['x', 'y']),
  body: words,
})
const versions = fc.dictionary(fc.constantFrom('a', 'b', 'c', 'a.no', 'b.no'), note)
const content = fc.record({ notes: versions, huts: fc.tuple(fc.nat(2), fc.nat(2), words) })
type Content = {
  readonly notes: Readonly<Record<string, Readonly<Record<string, unknown>>>>
  readonly huts: readonly [number, number, string]
}

const configurationFile = 'pantry.config.ts'
let generation = 0

/** Builds content in a folder, and gives what the generated module would open. */
async function buildIn(
  folder: string,
  { notes, huts: [one, two, name] }: Content,
): Promise<readonly StoredCollection[]> {
  rmSync(join(folder, 'content'), { recursive: true, force: true })
  mkdirSync(join(folder, 'content/notes'), { recursive: true })
  for (const [id, { body, ...rest }] of Object.entries(notes))
    writeFileSync(join(folder, `content/notes/${id}.md`), `---\n${JSON.stringify(rest)}\n---\n${body}\n`)
  const huts = [
    { id: 'x', name: 'Gable', beds: one },
    { id: 'y', name, beds: two },
  ]
  writeFileSync(join(folder, 'content/huts.json'), JSON.stringify(huts))
  const loadConfiguration = async () => ({ kind: 'loaded' as const, value: site })
  const host = { ...createNodeHost(folder), loadConfiguration }
  expect((await buildSite({ host, configurationFile, cache: false })).output).toBe('generated/pantry')
  const own = join(folder, 'generated/pantry')
  const module = readFileSync(join(own, 'index.js'), 'utf8').replace("'zinc-pantry/query'", "'./capture.mjs'")
  const index = join(own, `index-${generation++}.mjs`)
  writeFileSync(join(own, 'capture.mjs'), CAPTURE)
  writeFileSync(index, module)
  await import(pathToFileURL(index).href)
  return (await import(pathToFileURL(join(own, 'capture.mjs')).href)).opened.collections
}

test('A page is told wherever an answer that it was given is another, and never of what it did not ask for', async () => {
  const told: string[][] = []
  const dispatchEvent = ({ detail }: CustomEvent<{ collections: string[] }>): boolean => {
    told.push(detail.collections)
    return false
  }
  vi.stubGlobal('window', { dispatchEvent })
  const names = Object.keys(QUESTIONS)
  // One alone must be answered for by what it asked itself.
  const one = fc.constantFrom(...names).map((name) => [name])
  const questions = fc.oneof(one, one, fc.subarray(names, { minLength: 2, maxLength: 4 }))
  let tried = 0
  let changes = 0
  await fc.assert(
    fc.asyncProperty(content, content, questions, fc.boolean(), async (before, after, asked, isSame) => {
      const folder = makeFolder({})
      const ask = async (opened: Site): Promise<string> => {
        const of = (name: string): Notes => openCollection(opened, name)
        return JSON.stringify(await Promise.all(asked.map((question) => QUESTIONS[question]?.(of))))
      }
      tried++
      const hot = { data: {} }
      const opened = openHotSite(hot, await buildIn(folder, before), ['en', 'no'])
      const first = await ask(opened)
      told.length = 0
      openHotSite(hot, await buildIn(folder, isSame ? before : after), ['en', 'no'])
      await new Promise((resolve) => setTimeout(resolve, 20))
      const second = await ask(opened)
      const changed = told.flat()
      if (first !== second) {
        changes++
        expect(changed).not.toEqual([])
      }
      if (isSame) expect(changed).toEqual([])
      if (asked.every((one) => /^huts?$/.test(one))) expect(changed).not.toContain('notes')
      if (asked.every((one) => /^(?:count|facets|range|body)$/.test(one))) expect(changed).not.toContain('huts')
    }),
    { numRuns: 150 },
  )
  vi.unstubAllGlobals()
  // A slow machine makes too few changes to count them.
  expectShare(changes, tried, 1 / 8)
})

import fc from 'fast-check'
import { describe, expect, test, vi } from 'vitest'
import { choice, flag, int, list, pantry, ref, text } from 'zinc-pantry'
import { checkSite, createMemoryHost, type MemoryHost, messageOf, type SiteReport } from 'zinc-pantry/engine'
import { expectShare, runs } from './helpers.ts'

const configuration = pantry({
  collections: {
    regions: { files: 'regions.json', fields: { name: text({ unique: true }), code: text({ optional: true }) } },
    huts: {
      files: 'huts/*.yaml',
      slug: 'title',
      fields: { title: text({ optional: true }), region: ref('regions'), near: ref('huts', { optional: true }) },
    },
    rows: {
      files: 'rows.csv',
      fields: { hut: ref('huts', { by: 'slug' }), code: ref('regions', { by: 'code', optional: true }), stars: int() },
    },
    words: {
      files: 'words.json',
      fields: { word: text(), kinds: list(choice(['a', 'b']), { default: [] }) },
    },
    tags: { files: 'tags.json', createFrom: 'name', fields: { name: text() } },
    picks: { files: 'picks.json', fields: { tag: ref('tags') } },
    notes: {
      files: 'notes/*.md',
      body: true,
      address: '/notes/{slug}/',
      publication: { draft: 'draft' },
      fields: {
        hut: ref('huts', { optional: true }),
        tags: list(ref('tags'), { default: [] }),
        draft: flag({ default: false }),
      },
    },
    marks: { files: 'marks.json', fields: { note: ref('notes'), labels: list(text(), { default: [] }) } },
  },
})
const FILES = [
  'regions.json',
  'huts/a.yaml',
  'huts/b.yaml',
  'rows.csv',
  'words.json',
  'tags.json',
  'picks.json',
  'notes/a.md',
  'marks.json',
]
const START = {
  'regions.json': '{ "n": { "name": "North", "code": "N" }, "s": { "name": "South" } }',
  'huts/a.yaml': 'region: n\n',
  'huts/b.yaml': 'region: s\nnear: a\ntitle: Ledge\n',
  'rows.csv': 'id,hut,code,stars\n1,a,N,3\n2,ledge,,4\n',
  'words.json': '{ "w": { "word": "one" } }',
  'picks.json': '{ "p": { "tag": "Windy" } }',
  'tags.json': '{ "wet": { "name": "Wet" } }',
  'notes/a.md': '---\nhut: a\ntags: [wet]\ndraft: false\n---\n[b](../huts/b.yaml), [rows](../rows.csv)\n',
  'marks.json': '[{ "id": "m", "note": "a", "labels": ["Snow"] }]',
}
const pathOf = (file: string): string => `content/${file}`
const startFiles = Object.fromEntries(Object.entries(START).map(([file, content]) => [pathOf(file), content]))

/** Changes that others may see: ids, slugs, what references compare with, what is to be seen, what is made on the fly, faults. */
const LIKELY: readonly (readonly [file: string, from: string, to: string])[] = [
  ['notes/a.md', 'false', 'true'],
  ['notes/a.md', 'true', 'false'],
  ['notes/a.md', 'wet', 'dry'],
  ['words.json', 'one', 'two'],
  ['picks.json', 'Windy', 'wet'],
  ['rows.csv', '3', '4'],
  ['rows.csv', 'ledge', 'the-ledge'],
  ['rows.csv', ',N', ',S'],
  ['huts/b.yaml', 'Ledge', 'The Ledge'],
  ['huts/b.yaml', 'Ledge', 'A'],
  ['huts/b.yaml', 'near: a', 'near: c'],
  ['regions.json', '"n"', '"x"'],
  ['regions.json', '"N"', '"S"'],
  ['regions.json', 'South', 'North'],
  ['tags.json', 'Wet', 'wet '],
  ['marks.json', '"a"', '"b"'],
  ['marks.json', '"Snow"', '"Snow", "snow"'],
]
const signs = fc.constantFrom('a', 'b', 'n', 's', 'N', 'x', '', ':', '"', 'Ledge', '3', 'wet')
const edit = fc.oneof(
  { weight: 3, arbitrary: fc.constantFrom(...LIKELY).map(([file, from, to]) => ({ file, kind: 'replace', from, to })) },
  fc.record({
    file: fc.constantFrom(...FILES, 'huts/c.yaml', 'notes/b.md'),
    kind: fc.constantFrom('replace', 'remove', 'restore'),
    from: signs,
    to: signs,
  }),
)
const ADDED: Readonly<Record<string, string>> = {
  ...START,
  'huts/c.yaml': 'region: n\n',
  'notes/b.md': '---\nhut: c\ndraft: true\n---\n# B\n',
}

function apply(
  host: MemoryHost,
  { file, kind, from, to }: { file: string; kind: string; from: string; to: string },
): void {
  const path = pathOf(file)
  const content = host.files.get(path)
  if (kind === 'remove') host.files.delete(path)
  else if (kind === 'restore') host.files.set(path, ADDED[file] ?? '')
  else if (typeof content === 'string') host.files.set(path, content.replace(from, to))
}

const options = { configurationFile: 'pantry.config.ts' }
const told = ({ diagnostics, entryCount, fileCount, implicit }: SiteReport) => ({
  entryCount,
  fileCount,
  implicit,
  diagnostics: diagnostics.map((one) => [messageOf(one), one]),
})

/** What kept records of the entries of each collection hold. */
const MARKS = { regions: '"name":"North"', huts: '"region":"n"', rows: '"stars":3', words: '"word":"one"' }

/** Checks a site as its files are, and tells of which collections the entries were read, kept ones too. */
async function checkAgain(
  memory: MemoryHost,
): Promise<{ readonly report: SiteReport; readonly read: readonly string[] }> {
  const texts = vi.spyOn(JSON, 'parse')
  // Files that are as they were are not read for their digests.
  const report = await checkSite({ ...options, host: { ...memory, stamp: (path) => memory.identity(path) } })
  const all = texts.mock.calls.map(([source]) => String(source))
  texts.mockRestore()
  const read = Object.entries(MARKS).flatMap(([name, mark]) => (all.some((one) => one.includes(mark)) ? [name] : []))
  return { report, read }
}

describe('A check that need not read all collections', () => {
  test('tells what one that reads everything tells, after any edits', {
    timeout: runs(120_000, 3_600_000),
  }, async () => {
    let tried = 0
    let spared = 0
    await fc.assert(
      fc.asyncProperty(fc.array(fc.array(edit, { minLength: 1, maxLength: 2 }), { maxLength: 6 }), async (steps) => {
        const memory = createMemoryHost(startFiles, configuration)
        for (const edits of [[], ...steps]) {
          for (const one of edits) apply(memory, one)
          const { report, read } = await checkAgain(memory)
          expect(told(report)).toEqual(told(await checkSite({ ...options, host: memory, cache: false })))
          tried++
          if (!read.includes('words')) spared++
        }
      }),
      { numRuns: runs(60, 2_000) },
    )
    expectShare(spared, tried, 1 / 5)
  })

  test.each([
    ['notes/a.md', '[b]', '[c]', []],
    ['words.json', 'one', 'two', []],
    ['regions.json', 'South', 'Southern', []],
    // Rows compare with the codes of regions, and with the slugs of huts.
    ['regions.json', '"S', '"code": "S", "name": "S', ['huts', 'rows']],
    ['huts/b.yaml', 'near: a', 'near: b', []],
    ['huts/b.yaml', 'Ledge', 'The Ledge', ['rows']],
  ])('reads of the others, after an edit of %s, those that see it: %s → %s', async (file, from, to, expected) => {
    const memory = createMemoryHost(startFiles, configuration)
    await checkAgain(memory)
    const path = pathOf(file)
    memory.files.set(path, String(memory.files.get(path)).replace(from, to))
    const { read } = await checkAgain(memory)
    expect(read.filter((name) => !file.startsWith(name))).toEqual(expected)
  })
})

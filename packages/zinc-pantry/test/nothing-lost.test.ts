import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { parse as parseYaml } from 'yaml'
import { choice, flag, group, int, list, pantry, ref, text } from 'zinc-pantry'
import { createLineIndex, createMemoryHost, openContent } from 'zinc-pantry/engine'
import { type EntrySource, runQuery } from 'zinc-pantry/query'
import { readMarkdown } from 'zinc-pantry/read'
import { openFiles, runs } from './helpers.ts'

/** A record as a writer has it in mind. */
type Written = Readonly<Record<string, unknown>>

/** Ways of putting many records into one file, a record a line, and readers of others that count them. */
const FORMATS = {
  'many.json': {
    write: (records: readonly Written[]) => `[\n${records.map((one) => JSON.stringify(one)).join(',\n')}\n]\n`,
    count: (source: string) => (JSON.parse(source) as unknown[]).length,
    firstLine: 2,
  },
  'many.jsonl': {
    write: (records: readonly Written[]) => records.map((one) => `${JSON.stringify(one)}\n`).join(''),
    count: (source: string) => source.split('\n').filter((line) => line !== '').length,
    firstLine: 1,
  },
  'many.yaml': {
    write: (records: readonly Written[]) =>
      records.length === 0 ? '[]\n' : records.map((one) => `- ${JSON.stringify(one)}\n`).join(''),
    count: (source: string) => (parseYaml(source) as unknown[]).length,
    firstLine: 1,
  },
  'deep.json': {
    write: (records: readonly Written[]) =>
      `{"data": {"items": [\n${records.map((one) => JSON.stringify(one)).join(',\n')}\n]}}\n`,
    count: (source: string) => (JSON.parse(source) as { data: { items: unknown[] } }).data.items.length,
    firstLine: 2,
  },
  'many.md': {
    write: (records: readonly Written[]) =>
      `---\n{"data": {"items": [\n${records.map((one) => JSON.stringify(one)).join(',\n')}\n]}}\n---\n`,
    count: (source: string) =>
      (parseYaml(source.split('---\n')[1] ?? '') as { data: { items: unknown[] } }).data.items.length,
    firstLine: 3,
  },
  'many.csv': {
    write: (records: readonly Written[]) => {
      const cell = (value: unknown): string => (value === undefined || value === null ? '' : String(value))
      return `tag,id,code,beds,near\n${records
        .map((one) => `t,${['id', 'code', 'beds', 'near'].map((name) => cell(one[name])).join(',')}\n`)
        .join('')}`
    },
    count: (source: string) => source.trim().split('\n').length - 1,
    firstLine: 2,
  },
} as const

const word = fc.constantFrom('a', 'b', 'c', '')
const value = fc.oneof({ weight: 4, arbitrary: word }, fc.constantFrom(1, 7, null, true, [], {}))
const record: fc.Arbitrary<Written> = fc.record(
  { id: value, code: value, beds: fc.constantFrom(3, 'x', null), near: word, draft: fc.boolean() },
  { requiredKeys: [] },
)

/** The fields that may give an id or a slug, in every form that a configuration allows. */
const codeField = fc.constantFrom(
  () => text(),
  () => text({ optional: true }),
  () => text({ default: 'usual' }),
  () => text({ pattern: '^[ab]$', optional: true }),
  () => choice(['a', 'b'], { optional: true }),
  () => choice(['a', 'b'], { default: 'a' }),
  () => int({ optional: true }),
  () => ref('other', { optional: true }),
  () => list(text(), { optional: true }),
  () => undefined,
)

const setting = fc.record({
  file: fc.constantFrom(...(Object.keys(FORMATS) as (keyof typeof FORMATS)[])),
  id: fc.constantFrom(undefined, 'code', 'id'),
  slug: fc.constantFrom(undefined, 'code', 'near'),
  code: codeField,
  unknownKeys: fc.constantFrom('refuse' as const, 'ignore' as const),
  isPublished: fc.boolean(),
  records: fc.array(record, { maxLength: 6 }),
})

describe('No record goes missing without a word', () => {
  test('an entry, or a problem at its line', async () => {
    await fc.assert(
      fc.asyncProperty(setting, async ({ file, id, slug, code, unknownKeys, isPublished, records }) => {
        const format = FORMATS[file]
        const source = format.write(records)
        const made = code()
        const configuration = pantry({
          collections: {
            other: { files: 'other/*.json', fields: {} },
            many: {
              files: file,
              unknownKeys,
              ...(id === undefined ? {} : { id }),
              ...(slug === undefined ? {} : { slug }),
              ...(/^deep|md$/.test(file) ? { records: '/data/items' } : {}),
              ...(isPublished ? { publication: { draft: 'draft' } } : {}),
              fields: {
                ...(made ? { code: made } : {}),
                tag: text({ optional: true }),
                beds: int({ optional: true }),
                near: text({ optional: true }),
                draft: flag({ optional: true }),
                inner: group({ deep: text({ optional: true }) }, { optional: true }),
              },
            },
          } as never,
        })
        const host = createMemoryHost({ [`content/${file}`]: source, 'content/other/a.json': '{}' }, configuration)
        const opened = await openContent({ host, configurationFile: 'pantry.config.ts', drafts: true })
        if (opened.diagnostics.some(({ code: one }) => one.startsWith('config-'))) return
        const { entries } = await runQuery(opened.site, { collection: 'many' })
        const found = new Set(
          entries.map(({ source: place }) => Number(/\d+$/.exec((place as EntrySource).pointer)?.[0])),
        )
        const lines = new Set(
          opened.diagnostics
            .filter(({ severity }) => severity === 'error')
            .map(({ span }) => source.slice(0, span[0]).split('\n').length - format.firstLine),
        )
        const lost = Array.from({ length: format.count(source) }, (_, at) => at).filter(
          (at) => !found.has(at) && !lines.has(at),
        )
        expect(lost).toEqual([])
      }),
      { numRuns: runs(300, 20_000) },
    )
  })
})

describe('No value goes missing without a word', () => {
  const person = group({ f: text(), m: text() })
  const problems = async (fields: object, source: string) => {
    const configuration = pantry({ collections: { rows: { files: 'rows.csv', fields } } } as never)
    const { diagnostics, site, textOf } = await openFiles({ 'rows.csv': source }, configuration)
    const line = createLineIndex(textOf('content/rows.csv') ?? '')
    const said = diagnostics.map(({ code, span }) => `${code} ${Object.values(line.at(span[0])).join(':')}`)
    return { said, entries: (await runQuery(site, { collection: 'rows' })).entries }
  }
  const rows = 'id,d.eng.f,d.eng.m,d.fra.f,d.fra.m\na,1,2,3,4\nb,1,2,,\nc,1,2,,\n'

  test('a group in the cells of a table is missing in each row, at its cells', async () => {
    const { said } = await problems({ d: group({ eng: person, fra: person }) }, rows)
    expect(said).toEqual(['field-missing 3:7', 'field-missing 4:7'])
  })

  test('a group whose fields may all be absent is absent, not missing', async () => {
    const loose = group({ f: text({ optional: true }), m: text({ default: 'none' }) })
    const { said, entries } = await problems({ d: group({ eng: person, fra: loose }) }, rows)
    expect(said).toEqual([])
    expect(entries.map((entry) => (entry as unknown as { d: { fra: unknown } }).d.fra)).toEqual([
      { f: '3', m: '4' },
      { f: null, m: 'none' },
      { f: null, m: 'none' },
    ])
    const all = await problems(
      { d: group({ eng: loose, fra: loose }), e: text({ optional: true }) },
      'id,d.eng.f,e\na,,x\n',
    )
    expect(all.said).toEqual([])
  })

  test('front matter below empty lines is told, whatever ends the lines and whatever fences it', async () => {
    for (const end of ['\n', '\r\n', '\r'])
      for (const above of ['', '  ', '\t'])
        for (const lines of [
          ['---', 'title: A', 'other: 1', '---', 'x'],
          ['+++', 'title = "A"', '+++'],
        ]) {
          const source = [above, ...lines, ''].join(end)
          const { diagnostics } = readMarkdown({ file: 'a.md', text: source })
          const start = above.length + end.length
          expect(diagnostics.map(({ code, span }) => [code, span])).toEqual([
            ['front-matter-misplaced', [start, start + 3]],
          ])
        }
    // Two thematic breaks are no front matter.
    for (const source of ['\n---\nJust words: or so\n---\n', '\n\ntext\n---\na: b\n---\n', '\n+++\nwords\n+++\n'])
      expect(readMarkdown({ file: 'a.md', text: source }).diagnostics).toEqual([])
  })

  test('publication is a matter of each language', async () => {
    const file = (draft: boolean) => `---\ntitle: x\ndraft: ${draft}\n---\n`
    const configuration = pantry({
      locales: ['en', 'no'],
      collections: {
        pages: {
          files: 'pages/*.md',
          locales: 'suffix',
          publication: { draft: 'draft' },
          fields: { title: text(), draft: flag({ default: false }) },
        },
        notes: { files: 'notes/*.json', fields: { page: ref('pages') } },
      },
    })
    const files = {
      'pages/a.md': file(false),
      'pages/a.no.md': file(true),
      'pages/b.md': file(true),
      'pages/b.no.md': file(true),
      'notes/a.json': '{"page": "a"}',
    }
    const opened = await openFiles(files, configuration)
    expect(opened.diagnostics).toEqual([])
    const { entries } = await runQuery(opened.site, { collection: 'pages' })
    expect(entries.map(({ id, locale }) => [id, locale])).toEqual([['a', 'en']])
    const broken = await openFiles({ ...files, 'notes/b.json': '{"page": "b"}' }, configuration)
    expect(broken.diagnostics.map(({ code, file: at }) => [code, at])).toEqual([
      ['ref-unpublished', 'content/notes/b.json'],
    ])
  })

  test('what references made is told, and so is what is nearly something else', async () => {
    const configuration = pantry({
      collections: {
        tags: { files: 'tags/*.json', createFrom: 'name', fields: { name: text() } },
        notes: { files: 'notes/*.json', fields: { tags: list(ref('tags')) } },
      },
    })
    const { diagnostics, implicit, site } = await openFiles(
      {
        'tags/meadow.json': '{"name": "Meadow"}',
        'notes/a.json': '{"tags": ["meadow", "Medow", "beck", "granite"]}',
        'notes/b.json': '{"tags": ["Granite", "granit", "bec", "becks"]}',
      },
      configuration,
    )
    expect(implicit.map(({ id }) => id)).toEqual(['bec', 'beck', 'becks', 'granit', 'granite', 'medow'])
    expect(diagnostics.map(({ code, parameters: { id, suggestion } }) => [code, id, suggestion])).toEqual([
      ['ref-implicit-near', 'medow', 'meadow'],
      ['label-near', undefined, undefined],
      ['ref-implicit-near', 'granit', 'granite'],
    ])
    const { entries } = await runQuery(site, { collection: 'tags' })
    expect(entries.filter(({ source }) => (source as EntrySource).implicit).map(({ id }) => id)).toEqual(
      implicit.map(({ id }) => id),
    )
  })

  test('every file that no collection reads is counted', async () => {
    const files = {
      'seeds/a.md': '---\n---\n',
      'seeds/x.mdx': '',
      'seeds/y.markdown': '',
      'seed/z.md': '',
      'p.png': '',
    }
    const none = await openFiles(files, pantry({ collections: {} }))
    expect(none.unmatchedCount).toBe(5)
    const some = await openFiles(files, pantry({ collections: { seeds: { files: 'seeds/*.md', fields: {} } } }))
    expect([some.unmatchedCount, some.diagnostics.map(({ code, file }) => [code, file])]).toEqual([
      4,
      [['file-unmatched', 'content/seeds/x.mdx']],
    ])
  })

  test('files that are left out on purpose are no near misses', async () => {
    const files = { 'seeds/x.mdx': '', 'seeds/notes.mdx': '', 'seeds/drafts/y.mdx': '', 'seeds/drafts/z.md': '' }
    const seeds = { files: 'seeds/**/*.md', exclude: ['seeds/drafts/**', 'seeds/notes.mdx'], fields: {} }
    const { diagnostics } = await openFiles(files, pantry({ collections: { seeds } }))
    expect(diagnostics.map(({ code, file }) => [code, file])).toEqual([
      ['file-unmatched', 'content/seeds/x.mdx'],
      ['config-collection-empty', 'pantry.config.ts'],
    ])
  })

  test('the address of a schema in a map of entries is no entry, and deeper it is one', async () => {
    const idsIn = async (source: object, records?: string) => {
      const huts = { files: 'huts.json', fields: { beds: int() }, ...(records ? { records } : {}) }
      const { site, diagnostics } = await openFiles(
        { 'huts.json': JSON.stringify(source) },
        pantry({ collections: { huts } }),
      )
      const { entries } = await runQuery(site, { collection: 'huts' })
      return [...entries.map(({ id }) => id), ...diagnostics.map(({ code }) => code)]
    }
    expect(await idsIn({ $schema: './huts.schema.json', gable: { beds: 2 } })).toEqual(['gable'])
    expect(await idsIn({ all: { $schema: { beds: 1 }, gable: { beds: 2 } } }, '/all')).toEqual(['$schema', 'gable'])
  })

  test('a line that cannot be read is told, and not once more by all that refer to it', async () => {
    const huts = { files: 'huts.jsonl', fields: { near: ref('huts', { optional: true }) } }
    const codesOf = async (source: string) => {
      const { diagnostics } = await openFiles({ 'huts.jsonl': source }, pantry({ collections: { huts } }))
      return diagnostics.map(({ code }) => code).sort()
    }
    const line = '{"id":"gable","near":"ridge"}\n'
    expect(await codesOf(`${line}{"id":"ridge"}\n`)).toEqual([])
    expect(await codesOf(line)).toEqual(['ref-dangling'])
    expect(await codesOf(`${line}{"id":"ridge"\n`)).toEqual(['json-syntax', 'ref-target-failed'])
  })
})

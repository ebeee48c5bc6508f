import { expect, test } from 'vitest'
import {
  anything,
  block,
  choice,
  date,
  flag,
  group,
  image,
  int,
  list,
  map,
  pantry,
  ref,
  reverse,
  text,
  variant,
} from 'zinc-pantry'
import { buildSite, checkSite, createMemoryHost, openContent } from 'zinc-pantry/engine'
import { type Collection, openCollection, openSingle } from 'zinc-pantry/query'
import { textOf } from './helpers.ts'

const site = pantry({
  locales: ['en', 'no'],
  blocks: {
    note: {
      fields: {
        text: text(),
        hidden: text({ private: true, optional: true }),
        seen: list(ref('huts'), { default: [] }),
      },
    },
  },
  collections: {
    home: { files: 'home.yaml', single: true, fields: { title: text(), parts: list(block('note'), { default: [] }) } },
    huts: {
      files: 'huts.yaml',
      order: '-beds',
      fields: {
        name: text(),
        beds: int({ optional: true }),
        trails: reverse('trails', 'legs.hut'),
        secret: text({ private: true, optional: true }),
        keys: list(group({ door: text(), code: text({ private: true }) }), { default: [] }),
        extra: map(group({ code: text({ private: true }), label: text() }), { optional: true }),
      },
      derive: {
        size: { field: int(), from: (hut, look) => (hut.beds ?? 0) + look.entries<{ id: string }>('trails').length },
        secretive: { field: text({ private: true }), from: (hut) => hut.secret ?? 'none' },
      },
    },
    trails: {
      files: 'trails/**/*.md',
      numbered: true,
      publication: { draft: 'draft', from: 'from', until: 'until' },
      fields: {
        title: text(),
        draft: flag({ default: false }),
        from: date({ optional: true }),
        until: date({ optional: true }),
        legs: list(group({ hut: ref('huts') }), { default: [] }),
        tags: list(ref('tags'), { default: [] }),
        kind: variant({ loop: { length: int() }, line: { to: ref('huts', { by: 'name' }) } }),
        about: ref(['huts', 'tags'], { optional: true }),
      },
    },
    tags: { files: 'tags.json', createFrom: 'name', fields: { name: text(), trails: reverse('trails', 'tags') } },
    words: {
      files: 'words/*.yaml',
      locales: 'suffix',
      fields: { word: text(), see: ref('words', { optional: true }) },
    },
  },
})

const files = {
  'content/home.yaml':
    'title: Home\nparts:\n  - { block: note, text: a, hidden: PRIVATE }\n  - { block: note, text: b, off: true }\n',
  'content/huts.yaml': [
    'low: { name: Low Hut, beds: 4, secret: PRIVATE }',
    'none: { name: None, keys: [{ door: front, code: PRIVATE }] }',
    'high: { name: High Hut, beds: 24, extra: { a: { code: PRIVATE, label: A } } }',
  ].join('\n'),
  'content/trails/10-later.md':
    '---\ntitle: LazyResult\nkind: loop\nlength: 3\nlegs: [{ hut: high }, { hut: high }]\ntags: [Red Deer]\n---\n',
  'content/trails/2-first.md':
    '---\ntitle: First\nkind: line\nto: Low Hut\nlegs: [{ hut: high }]\ntags: [red-deer, known]\nabout: huts/low\n---\n',
  'content/trails/part/draft.md':
    '---\ntitle: PRIVATE\ndraft: true\nkind: loop\nlength: 1\nlegs: [{ hut: high }]\ntags: [known]\n---\n',
  'content/trails/3-over.md': '---\ntitle: Over\nuntil: 2026-05-01\nkind: loop\nlength: 1\n---\n',
  'content/tags.json': '{ "known": { "name": "Known" } }',
  'content/words/hut.yaml': 'word: hut\n',
  'content/words/hut.no.yaml': 'word: hytte\nsee: path\n',
  'content/words/path.yaml': 'word: path\n',
  'content/words/fjord.no.yaml': 'word: fjord\n',
}
const options = (instant = '2026-05-01T12:00:00Z', drafts = false) => ({
  host: createMemoryHost(files, site),
  configurationFile: 'c',
  instant,
  drafts,
})
type Loose = Collection<Record<string, unknown>, Record<string, never>, string>

async function open(instant?: string, drafts?: boolean) {
  const opened = await openContent(options(instant, drafts))
  expect(
    textOf(opened)
      .split('\n')
      .filter((line) => line.includes(' error ')),
  ).toEqual([])
  return { site: opened.site, all: async (name: string) => (openCollection(opened.site, name) as Loose).toArray() }
}

test('Reverse references, derived fields and made entries are computed', async () => {
  const { all } = await open()
  const huts = await all('huts')
  expect(huts.map(({ id, trails, size }) => [id, trails, size])).toEqual([
    ['high', ['first', 'later'], 27],
    ['low', [], 7],
    ['none', [], 3],
  ])
  expect((await all('tags')).map(({ id, name, trails }) => [id, name, trails])).toEqual([
    ['known', 'Known', ['first']],
    ['red-deer', 'Red Deer', ['first', 'later']],
  ])
})

test('References by a field hold the id, and those to several collections say which', async () => {
  const { all } = await open()
  const [first] = await all('trails')
  expect([first?.to, first?.about]).toEqual(['low', { collection: 'huts', id: 'low' }])
})

test('Numbers in front of names give the order and are no part of ids', async () => {
  expect((await (await open()).all('trails')).map(({ id }) => id)).toEqual(['first', 'over', 'later'])
})

test('Drafts and dates decide what is there, for reverse references and counts too', async () => {
  const ids = async (instant: string, drafts = false) =>
    (await (await open(instant, drafts)).all('trails')).map(({ id }) => id)
  expect(await ids('2026-05-02T00:00:00Z')).toEqual(['first', 'later'])
  expect(await ids('2026-05-02T00:00:00Z', true)).toEqual(['first', 'over', 'later', 'part/draft'])
  const { all } = await open('2026-05-02T00:00:00Z', true)
  expect((await all('huts'))[0]?.trails).toEqual(['first', 'later', 'part/draft'])
})

test('What is private or a draft leaves no byte in the output', async () => {
  const host = createMemoryHost(files, site)
  await buildSite({ ...options(), host })
  const output = [...host.files].filter(([path]) => path.startsWith('generated/'))
  expect(output.length).toBeGreaterThan(10)
  for (const [path, content] of output)
    expect(`${path}\n${content}`).not.toMatch(/PRIVATE|secret|hidden|"code"|part\/draft/)
})

test('Entries fall back to the first language', async () => {
  const { site: opened } = await open()
  const words = openCollection(opened, 'words') as Loose
  const list = async (collection: Loose) =>
    (await collection.toArray()).map(({ id, locale, word }) => `${id} ${locale} ${word}`)
  expect(await list(words)).toEqual(['hut en hut', 'path en path'])
  expect(await list(words.inLocale('no'))).toEqual(['fjord no fjord', 'hut no hytte', 'path en path'])
  expect((await words.inLocale('no').byId('hut'))?.word).toBe('hytte')
  const through = (where: (word: { see: { word: { is(text: string): never } } }) => never) =>
    words
      .inLocale('no')
      .where(where as never)
      .count()
  expect(await through((word) => word.see.word.is('path'))).toBe(1)
  expect(() => words.inLocale('de')).toThrow('There is no language de in this site; there are en, no')
})

test('Pages can read what the configuration says of fields', async () => {
  const noted = pantry({
    collections: {
      huts: {
        files: 'huts.json',
        fields: {
          name: text({ label: 'Name', hints: { editor: 'large' } }),
          state: choice({ open: 'Open', shut: 'Shut for good' }),
          doors: list(
            group({ code: text({ private: true, label: 'Hidden' }), side: text({ description: 'North or south' }) }),
            { label: 'Doors' },
          ),
        },
      },
    },
  })
  const host = createMemoryHost({ 'content/huts.json': '[]' }, noted)
  await buildSite({ host, configurationFile: 'c' })
  const part = [...host.files.keys()].find((path) => path.includes('/notes/')) ?? ''
  const { default: notes } = await import(`data:text/javascript,${encodeURIComponent(String(host.files.get(part)))}`)
  expect(notes).toEqual({
    name: { label: 'Name', hints: { editor: 'large' } },
    state: { labels: { open: 'Open', shut: 'Shut for good' } },
    doors: { label: 'Doors' },
    'doors.side': { description: 'North or south' },
  })
})

test('A collection of one entry is opened as such', async () => {
  const { site: opened } = await open()
  const home = await openSingle<{ parts: unknown[] }>(opened, 'home').get()
  expect(home.parts).toEqual([{ block: 'note', text: 'a', seen: [] }])
})

test('Two runs over one site do not disturb each other', async () => {
  const reports = await Promise.all([checkSite(options()), checkSite(options(undefined, true)), checkSite(options())])
  expect(textOf(reports[0] as never)).toBe(textOf(reports[2] as never))
})

test('A derived field may hold anything that fields hold', async () => {
  const pages = pantry({
    collections: {
      pages: {
        files: '*.yaml',
        fields: { data: anything() },
        derive: {
          parts: { field: list(group({ n: int() })), from: () => [{ n: 1 }, { n: 2 }] },
          none: { field: image({ optional: true }), from: () => null },
          next: { field: ref('pages', { optional: true }), from: (page) => page.id },
        },
      },
    },
  })
  const opened = await openContent({
    host: createMemoryHost({ 'content/a.yaml': 'data: { x: [1] }\n' }, pages),
    configurationFile: 'c',
  })
  expect(textOf(opened)).toBe('')
  const [page] = await (openCollection(opened.site, 'pages') as Loose).toArray()
  expect(page).toMatchObject({ data: { x: [1] }, parts: [{ n: 1 }, { n: 2 }], none: null, next: 'a' })
})

test('References are read backwards through any nesting', async () => {
  const nested = pantry({
    blocks: { pick: { fields: { huts: list(ref('huts')), inner: list(block('pick'), { default: [] }) } } },
    collections: {
      huts: {
        files: 'huts.json',
        fields: {
          a: reverse('pages', 'one'),
          b: reverse('pages', 'deep.list.hut'),
          c: reverse('pages', 'byName.hut'),
          d: reverse('pages', 'parts.huts'),
          e: reverse('pages', 'parts.inner.huts'),
          f: reverse('pages', 'kindly'),
        },
      },
      pages: {
        files: 'pages.json',
        fields: {
          one: ref('huts', { optional: true }),
          deep: group({ list: list(group({ hut: list(ref('huts')) })) }, { optional: true }),
          byName: map(group({ hut: ref('huts') }), { optional: true }),
          parts: list(block('pick'), { default: [] }),
          kind: variant({ plain: {}, kind: { kindly: ref('huts') } }),
        },
      },
    },
  })
  const pages = [
    {
      id: 'p',
      kind: 'plain',
      one: 'x',
      deep: { list: [{ hut: ['y', 'x'] }] },
      byName: { one: { hut: 'x' }, huts: { hut: 'y' } },
    },
    {
      id: 'q',
      kind: 'kind',
      kindly: 'x',
      parts: [
        { block: 'pick', huts: [], inner: [{ block: 'pick', huts: ['x'] }] },
        { block: 'pick', huts: ['x', 'y'] },
      ],
    },
  ]
  const content = { 'content/huts.json': '[{ "id": "x" }, { "id": "y" }]', 'content/pages.json': JSON.stringify(pages) }
  const opened = await openContent({ host: createMemoryHost(content, nested), configurationFile: 'c' })
  expect(textOf(opened)).toBe('')
  const [x, y] = await (openCollection(opened.site, 'huts') as Loose).toArray()
  expect(x).toMatchObject({ a: ['p'], b: ['p'], c: ['p'], d: ['q'], e: ['q'], f: ['q'] })
  expect(y).toMatchObject({ a: [], b: ['p'], c: ['p'], d: ['q'], e: [], f: [] })
})

test('Fields and ids may have any name', async () => {
  const names = ['__proto__', 'constructor', 'toString', 'hasOwnProperty', 'valueOf']
  const fields = Object.fromEntries(names.map((name) => [name, text()]))
  const odd = pantry({
    collections: { things: { files: 'things.json', fields: { ...fields, next: ref('things', { optional: true }) } } },
  })
  const record = Object.fromEntries(names.map((name) => [name, `value of ${name}`]))
  const ids = ['NO', '0', '1e3', '__proto__', 'constructor']
  const content = `[${ids.map((id) => `{ "id": ${JSON.stringify(id)}, "next": ${JSON.stringify(id)}, ${JSON.stringify(record).slice(1)}`).join(',')}]`
  const host = createMemoryHost({ 'content/things.json': content }, odd)
  expect(textOf(await buildSite({ host, configurationFile: 'c' }))).toBe('')
  const opened = await openContent({ host, configurationFile: 'c' })
  const things = openCollection(opened.site, 'things') as Loose
  for (const id of ids) {
    const entry = await things.byId(id)
    for (const name of names) expect(Object.getOwnPropertyDescriptor(entry, name)?.value).toBe(`value of ${name}`)
    const through = await things
      .where(
        ((thing: Record<string, { is(value: string): never }>) =>
          (thing.next as never as Record<string, { is(value: string): never }>).id?.is(id) as never) as never,
      )
      .toArray()
    expect(through).toHaveLength(1)
  }
  expect(
    await things
      .where(
        ((thing: Record<string, { is(value: string): never }>) =>
          (thing.constructor as never as { is(value: string): never }).is('value of constructor') as never) as never,
      )
      .count(),
  ).toBe(ids.length)
  expect(({} as Record<string, unknown>)['value of __proto__']).toBeUndefined()
})

test('Fields that wait for each other are told once, at the entry where the circle was met', async () => {
  const other = (hut: { id: string }) => (hut.id === 'a' ? 'b' : 'a')
  const derive = {
    first: {
      field: text(),
      from: (hut: { id: string }, look: { entry(name: string, id: string): unknown }) =>
        `${(look.entry('huts', other(hut)) as { second: string }).second}!`,
    },
    second: {
      field: text({ optional: true }),
      from: (hut: { id: string }, look: { entry(name: string, id: string): unknown }) =>
        hut.id === 'b' ? (look.entry('huts', 'a') as { first: string }).first : 'quiet',
    },
  }
  const configuration = pantry({ collections: { huts: { files: '*.md', fields: {}, derive: derive as never } } })
  const host = createMemoryHost({ 'content/a.md': '', 'content/b.md': '' }, configuration)
  const { diagnostics } = await checkSite({ host, configurationFile: 'pantry.config.ts' })
  expect(diagnostics.map(({ code, file, parameters }) => [code, file, parameters.fields])).toEqual([
    ['derive-cycle', 'content/a.md', ['huts.first of a', 'huts.second of b', 'huts.first of a']],
  ])
})

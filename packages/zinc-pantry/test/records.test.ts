import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { anything, flag, group, int, list, map, number, pantry, ref, reverse, text } from 'zinc-pantry'
import { runQuery } from 'zinc-pantry/query'
import { openFiles, runs, textOf } from './helpers.ts'

/** Opens files and gives the entries of a collection, and what was found. */
async function read(files: Readonly<Record<string, string>>, configuration: unknown, collection = 'huts') {
  const { site, ...report } = await openFiles(files, configuration)
  const said = textOf({ ...report } as never)
  const { entries } = await runQuery(site, { collection })
  return { entries, said, codes: report.diagnostics.map(({ code }) => code), report }
}

/** The values of entries beside what the engine keeps. */
const plain = (entries: readonly object[]) =>
  entries.map((entry) => {
    const { collection: _, source: __, slug: ___, ...own } = entry as Record<string, unknown>
    return own
  })

describe('One file, several collections', () => {
  const site = (more = {}) =>
    pantry({
      collections: {
        huts: {
          files: 'site.json',
          records: '/places/huts',
          fields: { name: text(), region: ref('regions') },
          ...more,
        },
        regions: {
          files: 'site.json',
          records: '/places/regions',
          fields: { name: text(), huts: reverse('huts', 'region') },
        },
        words: { files: 'site.json', records: '/words', id: 'word', value: 'word', fields: { word: text() } },
      },
    })
  const file = (region: string) =>
    JSON.stringify({
      places: { huts: { gable: { name: 'Gable', region } }, regions: [{ id: 'north', name: 'North' }] },
      words: ['wind', 'snow'],
    })

  test('each reads its part, and references lead from one to the other', async () => {
    const { entries, codes } = await read({ 'site.json': file('north') }, site(), 'regions')
    expect(codes).toEqual([])
    expect(plain(entries)).toEqual([{ id: 'north', name: 'North', huts: ['gable'] }])
    const words = await read({ 'site.json': file('north') }, site(), 'words')
    expect(plain(words.entries)).toEqual([
      { id: 'wind', word: 'wind' },
      { id: 'snow', word: 'snow' },
    ])
  })
  test('a fault of the file is told once, and a wrong reference at its place', async () => {
    const broken = await read({ 'site.json': `${file('north')}]` }, site())
    expect(broken.codes).toEqual(['json-syntax'])
    const wrong = await read({ 'site.json': file('nroth') }, site())
    expect(wrong.said).toContain('content/site.json:1:')
    expect(wrong.codes).toEqual(['ref-dangling'])
  })
  test.each([{ records: '/places' }, { records: '/places/regions' }, { records: undefined, perFile: 'many' as const }])(
    'two that would read the same part are told: %j',
    async (more) => {
      const { codes } = await read({ 'site.json': file('north') }, site(more))
      expect(codes).toContain('config-file-shared')
    },
  )
})

describe('Endings', () => {
  const site = pantry({
    endings: { '.txt': 'markdown', '.Rmd': 'markdown', '.table': 'csv' },
    collections: {
      notes: {
        files: 'notes/*.{txt,Rmd}',
        body: true,
        address: 'url',
        fields: { name: text() },
        derive: { url: { field: text(), from: (note) => `/${note.slug}/` } },
      },
      huts: { files: 'huts.tsv', fields: { name: text(), beds: int() } },
      shapes: { files: 'shapes/*.geojson', fields: { type: text() } },
      rows: { files: 'rows.table', fields: { name: text() } },
    },
  })
  const files = {
    'notes/a.txt': '---\nname: A\n---\nSee [B](b) and [B](./b.Rmd).\n',
    'notes/b.Rmd': '---\nname: B\n---\nSee [A](a).\n',
    'huts.tsv': 'id\tname\tbeds\ngable\tGable, the high one\t12\n',
    'shapes/x.geojson': '{"type":"Point"}',
    'rows.table': 'id;name\n1;One\n',
  }
  test('a setting says which format an ending is, and links leave such an ending out', async () => {
    const { entries, codes } = await read(files, site)
    expect(codes).toEqual([])
    expect(plain(entries)).toEqual([{ id: 'gable', name: 'Gable, the high one', beds: 12 }])
    for (const [collection, id] of [
      ['notes', 'b'],
      ['shapes', 'x'],
      ['rows', '1'],
    ] as const) {
      const found = await read(files, site, collection)
      expect(found.entries.map((one) => one.id)).toContain(id)
    }
  })
  test('a problem in such a file can be mended like in any other of its format', async () => {
    const { report } = await read({ ...files, 'notes/b.Rmd': '---\nname: 12\n---\n' }, site)
    expect(report.diagnostics.map(({ code, edit }) => [code, edit?.text])).toContainEqual(['value-type', '"12"'])
  })
  test.each([{ txt: 'markdown' }, { '.txt': 'word' }, { '.a.b': 'csv' }])(
    'a wrong one is refused: %j',
    async (endings) => {
      const configuration = pantry({ endings, collections: { huts: { files: '*.md', fields: {} } } } as never)
      expect((await openFiles({ 'a.md': '' }, configuration)).diagnostics.map(({ code }) => code)).toContain(
        'config-setting-invalid',
      )
    },
  )
})

describe('Ids', () => {
  const open = (files: Record<string, string>, settings: object) =>
    read(
      files,
      pantry({
        collections: { huts: { fields: { name: text({ optional: true }) }, unknownKeys: 'ignore', ...settings } },
      } as never),
    )

  test('from several keys', async () => {
    const rows = 'type,subtag,name\nlanguage,no,Norwegian\nlanguage,,Nothing\nscript,007,Latin\n'
    const { entries, codes, said } = await open({ 'tags.csv': rows }, { files: 'tags.csv', id: ['type', 'subtag'] })
    expect(entries.map(({ id }) => id)).toEqual(['language-no', 'script-007'])
    expect(codes).toEqual(['entry-id-missing'])
    expect(said).toContain('tags.csv:3:')
  })
  test('from the position, with the name of the file where there may be several', async () => {
    const one = await open({ 'a.csv': 'name\nA\nB\n' }, { files: 'a.csv', id: false })
    expect(one.entries.map(({ id }) => id)).toEqual(['1', '2'])
    const several = await open(
      { 'a.json': '[{"name":"A","id":1},{"id":1}]', 'b.json': '[{}]' },
      { files: '*.json', perFile: 'many', id: false },
    )
    expect(several.codes).toEqual([])
    expect(several.entries.map(({ id }) => id)).toEqual(['a/1', 'a/2', 'b/1'])
  })
  test('records that are single values, in a list and in a map', async () => {
    const settings = { files: 'w.yaml', value: 'name' }
    const listed = await open({ 'w.yaml': '- wind\n- 12\n' }, { ...settings, id: 'name' })
    expect(listed.said).toContain('w.yaml:2:3')
    expect(listed.codes).toEqual(['value-type'])
    const mapped = await open({ 'w.yaml': 'no: Norway\nse:\n  name: Sweden\n' }, settings)
    expect(plain(mapped.entries)).toEqual([
      { id: 'no', name: 'Norway' },
      { id: 'se', name: 'Sweden' },
    ])
  })
})

describe('Slugs', () => {
  const open = (names: readonly string[], settings: object, more = {}) =>
    read(
      { 'huts.json': JSON.stringify(names.map((name) => ({ id: name, name }))) },
      pantry({
        collections: { huts: { files: 'huts.json', fields: { name: text() }, ...settings }, ...more },
      } as never),
    )

  test('from a title in one line, in ASCII', async () => {
    const { entries, codes } = await open(['Holme Priory', 'Sæter på Østfjell', 'Москва', '../up'], { slug: 'name' })
    expect(entries.map(({ slug }) => slug)).toEqual(['holme-priory', 'saeter-pa-ostfjell', 'moskva', '../up'])
    expect(codes).toEqual(['slug-invalid'])
  })
  test('from a function, as it gives them; what is no slug is told at the entry', async () => {
    const { entries, codes, said } = await open(['A', 'B', 'C'], {
      slug: ({ name }: { name: string }) => {
        if (name === 'C') throw new Error('no C')
        return name === 'B' ? '' : `The ${name}`
      },
    })
    expect(entries[0]?.slug).toBe('The A')
    expect(codes).toEqual(['slug-invalid', 'slug-invalid'])
    expect(said).toContain('no C')
  })
  test('a clash is an error only where slugs are used', async () => {
    const clash = async (settings: object, more = {}) => {
      const { entries, report } = await open(['C', 'C#'], settings, more)
      return [report.diagnostics.map(({ code, severity }) => `${code} ${severity}`), entries.map(({ slug }) => slug)]
    }
    expect(await clash({})).toEqual([['slug-duplicate warning'], ['c', 'c']])
    expect(await clash({ slug: false })).toEqual([[], ['C', 'C#']])
    expect(await clash({ slug: 'name' })).toEqual([['slug-duplicate error'], ['c', 'c']])
    const notes = { files: 'n*.md', single: true, fields: { to: ref('huts', { by: 'slug', optional: true }) } }
    expect((await clash({}, { notes }))[0]).toContain('slug-duplicate error')
  })
})

describe('Keys that are not names', () => {
  const fields = {
    origin: text({ writtenAs: 'source' }),
    code: text({ writtenAs: 'id', optional: true }),
    height: number({ writtenAs: 'Height (m)' }),
    start: group({ at: text({ writtenAs: 'body' }), open: flag({ optional: true }) }),
    others: map(anything(), { rest: true }),
  }
  const site = (files: string, more = {}) => pantry({ collections: { huts: { files, fields, ...more } } } as never)
  const good = 'source: map\nid: X\nHeight (m): 12\nstart: { body: here }\nheight: other\nextra: [1]\n'

  test('a field is read from its key, and what is left is kept', async () => {
    const { entries, codes } = await read({ 'a.yaml': good, 'b.yaml': good }, site('*.yaml'))
    expect(codes).toEqual([])
    expect(plain(entries)[1]).toEqual({
      id: 'b',
      origin: 'map',
      code: 'X',
      height: 12,
      start: { at: 'here', open: null },
      others: { height: 'other', extra: [1] },
    })
  })
  test('problems stand at the written keys', async () => {
    const bad = 'source: 1\nHeight (m): x\nheight: 3\nstart: { bdy: 1, open: no }\n'
    const { rest: _, ...strict } = { rest: 0, ...fields }
    const configuration = pantry({
      collections: {
        huts: { files: 'a.yaml', perFile: 'one', fields: { ...strict, others: text({ optional: true }) } },
      },
    })
    const { report } = await read({ 'a.yaml': bad }, configuration)
    const places = report.diagnostics.map(({ code, span }) => [code, bad.slice(...span)])
    expect(places).toEqual([
      ['value-type', '1'],
      ['value-type', 'x'],
      ['field-unknown', 'height'],
      ['field-unknown', 'bdy'],
      ['value-type', 'no'],
    ])
  })
  test('headings of tables too, dots in them included', async () => {
    const configuration = pantry({
      collections: {
        huts: {
          files: 'h.csv',
          id: 'No.',
          fields: { at: number({ writtenAs: 'Height (approx. m)' }), from: group({ hut: text() }) },
        },
      },
    })
    const { entries, codes } = await read({ 'h.csv': 'No.,Height (approx. m),from.hut\n1,5.5,x\n' }, configuration)
    expect(codes).toEqual([])
    expect(plain(entries)).toEqual([{ id: '1', at: 5.5, from: { hut: 'x' } }])
  })
  test('two fields of one key are refused', async () => {
    const configuration = pantry({
      collections: { huts: { files: '*.md', fields: { a: text({ writtenAs: 'b' }), b: text() } } },
    })
    expect((await openFiles({ 'a.md': '' }, configuration)).diagnostics.map(({ code }) => code)).toContain(
      'config-key-twice',
    )
  })
})

test('one or many is one list', async () => {
  const site = pantry({
    collections: {
      huts: {
        files: 'h.json',
        fields: { words: list(text(), { orOne: true }), legs: list(group({ to: ref('huts') }), { orOne: true }) },
      },
    },
  })
  const file =
    '[{"id":"a","words":"wind","legs":{"to":"a"}},{"id":"b","words":["wind","snow"],"legs":[{"to":"x"}]},{"id":"c","words":4,"legs":{"to":"y"}}]'
  const { entries, report } = await read({ 'h.json': file }, site)
  expect(entries[0]).toMatchObject({ words: ['wind'], legs: [{ to: 'a' }] })
  expect(report.diagnostics.map(({ code, span }) => [code, file.slice(...span)])).toEqual([
    ['ref-dangling', '"x"'],
    ['value-type', '4'],
    ['ref-dangling', '"y"'],
  ])
})

describe('Text that stands for something else', () => {
  const fields = {
    beds: int({ optional: true }),
    open: flag({ true: ['yes', 'Y', '1'], false: ['no'] }),
    tags: list(text(), { default: [] }),
    start: group({ at: number() }, { optional: true }),
    names: map(int(), { default: {} }),
    name: text({ default: 'none' }),
  }
  const opened = (cells: unknown, file: string, value: unknown) =>
    read(
      { [file]: typeof value === 'string' ? value : JSON.stringify(value) },
      pantry({
        collections: { huts: { files: file, perFile: 'many', fields, ...(cells === undefined ? {} : { cells }) } },
      } as never),
    )
  const texts = [
    { id: 'a', beds: ' 12 ', open: 'yes', tags: 'x; y', start: { at: '1.5' }, names: { no: '3', se: '' }, name: ' H ' },
  ]
  const typed = { id: 'a', beds: 12, open: true, tags: ['x', 'y'], start: { at: 1.5 }, names: { no: 3 }, name: 'H' }

  test.each(['huts.json', 'huts.yaml'])('where the setting says so: %s', async (file) => {
    const { entries, codes } = await opened(true, file, texts)
    expect(codes).toEqual([])
    expect(plain(entries)).toEqual([typed])
    expect((await opened(undefined, file, texts)).codes).toContain('value-type')
  })
  test('empty text is no value, and spaces count where a setting says so', async () => {
    const empty = [{ id: 'a', beds: '', open: 'TRUE', tags: '', start: '', names: '', name: '  ' }]
    const { entries, codes } = await opened(true, 'huts.json', empty)
    expect(codes).toEqual([])
    expect(plain(entries)).toEqual([
      { id: 'a', beds: null, open: true, tags: [], start: null, names: {}, name: 'none' },
    ])
    const kept = await opened({ trim: false }, 'huts.csv', 'id,open,name\na,no, H \n')
    expect(plain(kept.entries)[0]).toMatchObject({ open: false, name: ' H ' })
    const headings = await opened({ trim: false }, 'huts.csv', 'id,open, name\na,no,H\n')
    expect(headings.codes).toEqual(['field-unknown'])
    const trimmed = await opened(undefined, 'huts.csv', 'id , open, name\na,no, H \n')
    expect(plain(trimmed.entries)[0]).toMatchObject({ open: false, name: 'H' })
  })
  test('words for true and false, numbers included, in every format', async () => {
    const flags = async (open: unknown) => {
      const { entries, codes } = await opened(undefined, 'huts.json', [{ id: 'a', open, names: {} }])
      return codes.length > 0 ? codes : plain(entries)[0]?.open
    }
    expect([await flags('Y'), await flags(1), await flags('no'), await flags(true)]).toEqual([true, true, false, true])
    expect([await flags('N'), await flags(0)]).toEqual([['value-type'], ['value-type']])
  })
})

test('a file may start with a dot where a pattern says so', async () => {
  const site = (files: string) => pantry({ collections: { huts: { files, fields: { name: text() } } } })
  const files = {
    '.well-known/a.json': '{"name":"A"}',
    '.git/a.json': '{}',
    'b.json': '{"name":"B"}',
    '.c.json': '{"name":"C"}',
  }
  expect((await read(files, site('.well-known/*.json'))).entries.map(({ id }) => id)).toEqual(['a'])
  expect((await read(files, site('{.c,b}.json'))).entries.map(({ id }) => id)).toEqual(['.c', 'b'])
  expect((await read(files, site('**/*.json'))).entries.map(({ id }) => id)).toEqual(['b'])
})

/** A value at random places, written under other keys, alone in the place of lists, and beside keys of nobody. */
test('whatever is moved between the file and the entry is found at its place', async () => {
  const name = fc.constantFrom('a', 'b', 'c')
  const wrong = fc.record({
    keys: fc.uniqueArray(fc.constantFrom('a', 'b', 'c', 'Ä (x)', 'id', 'source', '1'), { minLength: 3, maxLength: 3 }),
    at: fc.array(name, { minLength: 1, maxLength: 3 }),
    alone: fc.boolean(),
  })
  await fc.assert(
    fc.asyncProperty(wrong, async ({ keys, at, alone }) => {
      const names = ['a', 'b', 'c']
      const fieldsAt = (depth: number): Record<string, never> =>
        Object.fromEntries(
          names.map((one, position) => {
            const options = { writtenAs: keys[position] as string, optional: true } as const
            const isWay = at[depth] === one
            const inner = isWay && depth < at.length - 1 ? group(fieldsAt(depth + 1)) : int()
            return [one, list(inner, { ...options, orOne: true })]
          }),
        ) as never
      const write = (depth: number): unknown => {
        const key = keys[names.indexOf(at[depth] as string)] as string
        const inner = depth < at.length - 1 ? write(depth + 1) : 'WRONG'
        return { [key]: alone ? inner : [inner] }
      }
      const text = JSON.stringify(write(0), undefined, 1)
      const site = pantry({ collections: { huts: { files: '*.json', fields: fieldsAt(0) } } } as never)
      const { report } = await read({ 'x.json': text }, site)
      expect(report.diagnostics.map(({ code, span }) => [code, text.slice(...span)])).toEqual([
        ['value-type', '"WRONG"'],
      ])
    }),
    { numRuns: runs(40, 1000) },
  )
})

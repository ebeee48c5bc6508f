import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { pantry, text } from 'zinc-pantry'
import { createMemoryHost, openContent } from 'zinc-pantry/engine'
import { openCollection } from 'zinc-pantry/query'
import { locateSetting } from '../dist/engine/configuration/locate-setting.js'

describe('A setting is found in the text of a configuration', () => {
  const locate = async (source: string, path: (string | number)[]): Promise<string> =>
    source.slice(...(await locateSetting(source, path)))
  const field = ['collections', 'huts', 'fields']

  test.each([
    [
      'in place',
      'export default pantry({ collections: { huts: { fields: { name: text({ maxLength: 3 }) } } } })',
      [...field, 'name', 'maxLength'],
      'maxLength',
    ],
    [
      'as a constant',
      "const name = text({ pattern: 'x' })\nexport default pantry({ collections: { huts: { fields: { name } } } })",
      [...field, 'name', 'pattern'],
      'pattern',
    ],
    [
      'in a spread',
      "const shared = { name: text({ lines: 'single' }) }\nexport default pantry({ collections: { huts: { fields: { ...shared } } } })",
      [...field, 'name', 'lines'],
      'lines',
    ],
    [
      'behind a type',
      "const site = pantry({ collections: { huts: { files: 'x' } } } satisfies object)\nexport default site as unknown",
      ['collections', 'huts', 'files'],
      'files',
    ],
    [
      'in a list of groups',
      'export default pantry({ collections: { huts: { fields: { legs: list(group({ at: int({ minimum: 1 }) }), { minItems: 2 }) } } } })',
      [...field, 'legs', 'item', 'at', 'minimum'],
      'minimum',
    ],
    [
      'of the list itself',
      'export default pantry({ collections: { huts: { fields: { legs: list(group({ at: int() }), { minItems: 2 }) } } } })',
      [...field, 'legs', 'minItems'],
      'minItems',
    ],
    [
      'by position',
      "export default pantry({ collections: { huts: { files: ['a', 'b'] } } })",
      ['collections', 'huts', 'files', 1],
      "'b'",
    ],
    [
      'with a quoted name',
      "export default pantry({ collections: { 'my-huts': { files: 'x' } } })",
      ['collections', 'my-huts'],
      "'my-huts'",
    ],
    [
      'that is not there, as its holder',
      "export default pantry({ collections: { huts: { files: 'x' } } })",
      ['collections', 'huts', 'order'],
      'huts',
    ],
    [
      'that comes from elsewhere, where it is used',
      "import { huts } from './huts'\nexport default pantry({ collections: { huts } })",
      ['collections', 'huts', 'files'],
      'huts',
    ],
    ['in a function, as the call', 'export default pantry(settings())', ['collections', 'huts'], 'pantry'],
  ] as const)('%s', async (_, source, path, expected) => {
    expect(await locate(source, [...path])).toBe(expected)
  })

  test('No text makes it throw', async () => {
    const piece = fc.constantFrom(
      'pantry(',
      '{',
      '}',
      'collections:',
      'huts',
      ':',
      '[',
      ']',
      '...',
      'export default ',
      "'",
      '"',
      ',',
      'text()',
      ' ',
      '\n',
      '(',
      ')',
      '=>',
    )
    await fc.assert(
      fc.asyncProperty(fc.array(piece, { maxLength: 20 }), async (pieces) => {
        const source = pieces.join('')
        const [start, end] = await locateSetting(source, ['collections', 'huts', 'files', 0])
        expect(start).toBeGreaterThanOrEqual(0)
        expect(end).toBeGreaterThanOrEqual(start)
      }),
      { numRuns: 300 },
    )
  })
})

describe('Files and their names', () => {
  const open = async (
    paths: readonly string[],
    settings: {
      files: string | readonly string[]
      exclude?: string | readonly string[]
      numbered?: boolean
      locales?: 'suffix' | 'folder'
    },
  ) => {
    const site = pantry({
      locales: ['en', 'no'],
      collections: { things: { ...settings, fields: { name: text() } } },
      severities: { 'locale-missing': 'off' },
    })
    const host = createMemoryHost(Object.fromEntries(paths.map((path) => [`content/${path}`, 'name: x\n'])), site)
    const opened = await openContent({ host, configurationFile: 'c' })
    const things = openCollection<
      { id: string; slug: string; locale?: string; source: { file: string } },
      unknown,
      string
    >(opened.site, 'things')
    return { opened, things, all: await things.toArray() }
  }
  const ids = async (paths: readonly string[], settings: Parameters<typeof open>[1]) =>
    (await open(paths, settings)).all.map(({ id }) => id)

  test('Ids are relative to what all patterns share', async () => {
    const paths = ['a/x.yaml', 'a/b/y.yaml', 'a/b/c/z.yaml', 'd/w.yaml']
    expect(await ids(paths, { files: 'a/**/*.yaml' })).toEqual(['b/c/z', 'b/y', 'x'])
    expect(await ids(paths, { files: ['a/b/*.yaml', 'a/b/c/*.yaml'] })).toEqual(['c/z', 'y'])
    expect(await ids(paths, { files: ['a/*.yaml', 'd/*.yaml'] })).toEqual(['a/x', 'd/w'])
    expect(await ids(paths, { files: '**/*.{yaml,yml}', exclude: ['a/b/**', 'd/*'] })).toEqual(['a/x'])
    expect(await ids(['a.b.c.yaml', 'UPPER.yaml', 'é.yaml', 'with space.yaml'], { files: '*' })).toEqual([
      'UPPER',
      'a.b.c',
      'with space',
      'é',
    ])
  })

  test('Slugs are made for addresses', async () => {
    const { all } = await open(['Über Größe.yaml', 'a/B c/D.yaml', 'x--y.yaml', "it's.yaml", '日本.yaml', '(1).yaml'], {
      files: '**/*.yaml',
    })
    expect(Object.fromEntries(all.map(({ id, slug }) => [id, slug]))).toEqual({
      'Über Größe': 'über-größe',
      'a/B c/D': 'a/b-c/d',
      'x--y': 'x-y',
      "it's": 'it-s',
      日本: '日本',
      '(1)': '1',
    })
  })

  test('Numbers in names order like numbers, in every folder', async () => {
    const paths = [
      '10-last/1-a.yaml',
      '2-first/10-b.yaml',
      '2-first/9_c.yaml',
      '2-first/d.yaml',
      '007 e.yaml',
      '2026.yaml',
    ]
    expect(await ids(paths, { files: '**/*.yaml', numbered: true })).toEqual([
      'first/c',
      'first/b',
      'first/d',
      'e',
      'last/a',
      '2026',
    ])
  })

  test('Languages by folder', async () => {
    const { things } = await open(['en/a.yaml', 'no/a.yaml', 'en/b/c.yaml', 'loose.yaml'], {
      files: '**/*.yaml',
      locales: 'folder',
    })
    const list = async (locale: string) =>
      (await things.inLocale(locale).toArray()).map(({ id, locale: own }) => `${id} ${own}`)
    expect(await list('en')).toEqual(['a en', 'b/c en', 'loose en'])
    expect(await list('no')).toEqual(['b/c en', 'loose en', 'a no'])
  })

  test('Every file belongs where its pattern says, by a slow model of patterns', async () => {
    const folder = fc.constantFrom('a', 'b', 'ab')
    const path = fc
      .tuple(fc.array(folder, { maxLength: 2 }), fc.constantFrom('x', 'y', 'xy'), fc.constantFrom('.yaml', '.yml'))
      .map(([folders, name, ending]) => [...folders, name + ending].join('/'))
    const globs = {
      '*.yaml': /^[^/]+\.yaml$/,
      'a/*.yaml': /^a\/[^/]+\.yaml$/,
      '**/*.yaml': /^(?:.+\/)?[^/]+\.yaml$/,
      'a*/**': /^a[^/]*\/.+$/,
      '**/x*.{yaml,yml}': /^(?:.+\/)?x[^/]*\.(?:yaml|yml)$/,
    }
    await fc.assert(
      fc.asyncProperty(
        fc.uniqueArray(path, { minLength: 1, maxLength: 8 }),
        fc.constantFrom(...Object.keys(globs)),
        fc.option(fc.constantFrom(...Object.keys(globs))),
        async (paths, files, exclude) => {
          const { all } = await open(paths, { files, ...(exclude ? { exclude } : {}) })
          const model = paths.filter(
            (one) =>
              globs[files as keyof typeof globs].test(one) &&
              !(exclude && globs[exclude as keyof typeof globs].test(one)),
          )
          // Files that differ in their ending only have one id, and the second is reported.
          expect(new Set(all.map(({ id }) => id)).size).toBe(all.length)
          for (const { source } of all) expect(model).toContain(source.file)
          expect(new Set(model.map((one) => one.replace(/\.[^.]+$/, ''))).size).toBe(all.length)
        },
      ),
      { numRuns: 150 },
    )
  })
})

import { execFileSync } from 'node:child_process'
import { mkdirSync, readFileSync, renameSync, symlinkSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { date, history, list, pantry, ref, reverse, text } from 'zinc-pantry'
import { buildSite, checkSite, createNodeHost, openContent } from 'zinc-pantry/engine'
import { type Collection, openCollection, openPages, type Tree, type TreeNode } from 'zinc-pantry/query'
import { FIXTURES, makeFile, makeFolder, openFiles, REPOSITORY, runCommand, runs, textOf } from './helpers.ts'

type Loose = Readonly<Record<string, unknown>> & { readonly id: string }

/** Opens content, and gives its pages and what was found. */
async function open(files: Readonly<Record<string, string>>, configuration: unknown) {
  const opened = await openFiles(files, configuration)
  const told = opened.diagnostics.map(({ code, span, file, severity }) => [
    severity === 'warning' ? `${code} (warning)` : code,
    files[file.slice('content/'.length)]?.slice(...span),
  ])
  const site = openPages(opened.site)
  return {
    ...opened,
    told,
    site,
    collection: (name: string) => openCollection<Loose, unknown, string>(opened.site, name),
  }
}

describe('Addresses in one line', () => {
  const addressOf = async (template: string, files: Readonly<Record<string, string>>, settings: object = {}) => {
    const site = pantry({
      locales: ['en', 'no'],
      collections: {
        huts: {
          files: '**/*.md',
          address: template,
          fields: {
            title: text({ optional: true }),
            on: date({ optional: true }),
            secret: text({ optional: true, private: true }),
          },
          ...settings,
        },
      },
    } as never)
    const { told, collection } = await open(files, site)
    if (told.length > 0) return told.map(([code]) => code)
    return (await collection('huts').toArray()).map(({ address }) => address)
  }
  const files = {
    'north/gable hut.md': '---\ntitle: The "Gable"\non: 2026-05-01\n---\n',
    'north/index.md': '',
    'index.md': '',
  }
  test.each([
    ['/huts/{+slug}/', ['/huts/', '/huts/north/gable-hut/', '/huts/north/']],
    ['/huts/{slug}', ['/huts/', '/huts/north%2Fgable-hut', '/huts/north']],
    ['/{+id}/{on}', ['/', '/north/gable%20hut/2026-05-01', '/north/']],
    ['/a{?title}', ['/a', '/a?title=The%20%22Gable%22', '/a']],
    ['/b/{secret}/', ['config-field-unfit']],
    ['/b/{titel}/', ['config-field-unfit']],
    ['b/{slug}/', ['config-setting-invalid']],
    ['/b/', ['config-setting-invalid']],
  ])('a template of RFC 6570: %s', async (template, expected) => {
    expect(await addressOf(template, files)).toEqual(template === '/a{?title}' ? ['address-duplicate'] : expected)
  })
  test('numbers and languages have their usual meaning', async () => {
    const numbered = { '01-start/02-gear.md': '', '01-start/index.md': '' }
    expect(await addressOf('/{+slug}/', numbered, { numbered: true })).toEqual(['/start/gear/', '/start/'])
    const languages = { 'gable.md': '', 'gable.no.md': '' }
    expect(await addressOf('/huts/{slug}/', languages, { locales: 'suffix' })).toEqual(['/huts/gable/'])
    const { site } = await open(
      languages,
      pantry({
        locales: ['en', 'no'],
        collections: {
          huts: { files: '*.md', address: '/huts/{slug}/', locales: 'suffix', fields: {} },
          said: { files: 'none/*.md', address: '/{locale}/said/{slug}/', locales: 'suffix', fields: {} },
        },
        severities: {},
      } as never),
    )
    expect((await site.pages()).map(({ address, locale }) => [address, locale])).toEqual([
      ['/huts/gable/', 'en'],
      ['/no/huts/gable/', 'no'],
    ])
  })
  test('links lead to them, and a clash of slugs that they are made of is an error', async () => {
    const site = pantry({ collections: { huts: { files: '*.md', body: true, address: '/huts/{slug}/', fields: {} } } })
    const { told } = await open({ 'C.md': '[to](C#.md) [there](/huts/c/)\n', 'C#.md': '' }, site)
    expect(told.map(([code]) => code)).toContain('slug-duplicate')
  })
})

describe('All pages', async () => {
  const configuration = new URL('fixtures/pages.config.mjs', import.meta.url)
  const { default: site } = await import(configuration.href)
  const files = {
    'huts/gable.md': '---\nupdated: 2026-05-01\nformerly: [/shelters/gable/, /g]\n---\n',
    'huts/old.md': '---\ndraft: true\n---\n',
    'notes.json': '[{"id":"n","at":"/n/"}]',
    'words.json': '[{"id":"w"}]',
  }
  test('are given with their collection, language and last change, and redirects', async () => {
    const { told, site: all } = await open(files, site)
    expect(told).toEqual([])
    expect(await all.pages()).toEqual([
      { address: '/huts/gable/', collection: 'huts', id: 'gable', locale: null, changed: '2026-05-01' },
      { address: '/n/', collection: 'notes', id: 'n', locale: null, changed: null },
    ])
    expect(await all.redirects()).toEqual([
      { from: '/shelters/gable/', to: '/huts/gable/' },
      { from: '/g', to: '/huts/gable/' },
    ])
    const folder = makeFolder({
      'pantry.config.mjs': readFileSync(configuration),
      ...Object.fromEntries(Object.entries(files).map(([path, content]) => [`content/${path}`, content])),
    })
    mkdirSync(join(folder, 'node_modules'))
    symlinkSync(join(REPOSITORY, 'node_modules/zinc-pantry'), join(folder, 'node_modules/zinc-pantry'))
    await buildSite({ host: createNodeHost(folder), configurationFile: 'pantry.config.mjs' })
    const generated = (await import(join(folder, 'generated/pantry/index.js'))) as { default: typeof all }
    expect(await generated.default.pages()).toEqual(await all.pages())
    expect(await generated.default.redirects()).toEqual(await all.redirects())
  })
  test('former addresses are checked against pages and each other, and links to them are told', async () => {
    const { told } = await open(
      {
        ...files,
        'huts/gable.md': '---\nformerly: [/n, /x/, "old.html"]\n---\n[a](/x/)\n',
        'huts/peak.md': '---\nformerly: [/x]\n---\n',
      },
      site,
    )
    expect(told).toEqual([
      ['former-address-taken', '/n'],
      ['former-address-invalid', '"old.html"'],
      ['link-broken', '/x/'],
      ['former-address-taken', '/x'],
    ])
  })
})

describe('Trees', () => {
  const site = pantry({
    collections: {
      places: {
        files: 'p.json',
        parent: 'above',
        order: 'name',
        fields: { name: text(), above: ref('places', { optional: true }), notes: reverse('notes', 'about') },
      },
      notes: { files: 'n.json', fields: { about: list(ref('places')) } },
    },
  })
  const ids = ['a', 'b', 'c', 'd', 'e', 'f', 'g']
  test('by a slow model', async () => {
    const tree = fc.tuple(
      ...ids.map((_, at) => fc.record({ name: fc.constantFrom('x', 'y', 'z'), above: fc.option(fc.nat(at)) })),
    )
    await fc.assert(
      fc.asyncProperty(tree, fc.array(fc.uniqueArray(fc.constantFrom(...ids))), async (places, notes) => {
        const all = places.map(({ name, above }, at) => ({
          id: ids[at] as string,
          name,
          above: above === null || above >= at ? null : (ids[above] as string),
        }))
        const {
          told,
          collection,
          site: _,
        } = await open(
          {
            'p.json': JSON.stringify(all),
            'n.json': JSON.stringify(notes.map((about, at) => ({ id: String(at), about }))),
          },
          site,
        )
        expect(told).toEqual([])
        const tree = collection('places') as unknown as Collection<Loose, unknown, string> & Tree<Loose, string>
        const ordered = [...all].sort((a, b) => (a.name < b.name ? -1 : +(a.name > b.name)))
        const below = (id: string | null): typeof all => ordered.filter(({ above }) => above === id)
        const deep = (id: string | null): string[] => below(id).flatMap((one) => [one.id, ...deep(one.id)])
        const shaped = (id: string | null): unknown => below(id).map((one) => [one.id, shaped(one.id)])
        const shapeOf = (nodes: readonly TreeNode<Loose>[]): unknown =>
          nodes.map(({ entry, children }) => [entry.id, shapeOf(children)])
        const countOf = (id: string): number =>
          notes.filter((about) => about.some((one) => one === id || deep(id).includes(one))).length
        const counted = await tree.tree(undefined, { count: (place) => (place as { readonly notes: unknown }).notes })
        const countsOf = (nodes: typeof counted): (readonly [id: string, counted: number])[] =>
          nodes.flatMap(({ entry, children, counted: own }) => [[entry.id, own], ...countsOf(children)])
        expect(countsOf(counted)).toEqual(deep(null).map((id) => [id, countOf(id)]))
        const up = (id: string | null): string[] =>
          id === null ? [] : [...up(all.find((one) => one.id === id)?.above ?? null), id]
        expect((await tree.roots()).map(({ id }) => id)).toEqual(below(null).map(({ id }) => id))
        expect(shapeOf(await tree.tree())).toEqual(shaped(null))
        for (const id of ['a', 'd']) {
          expect((await tree.children(id)).map((one) => one.id)).toEqual(below(id).map((one) => one.id))
          expect((await tree.descendants(id)).map((one) => one.id)).toEqual(deep(id))
          expect(shapeOf(await tree.tree(id))).toEqual(shaped(id))
        }
        for (const id of ids) expect((await tree.ancestors(id)).map((one) => one.id)).toEqual(up(id).slice(0, -1))
      }),
      { numRuns: runs(20, 300) },
    )
  })
  test('on the command line, as a menu and as nested JSON', async () => {
    const folder = makeFolder({
      'pantry.config.mjs': readFileSync(new URL('fixtures/tree.config.mjs', import.meta.url)),
      'content/p.json': '[{"id":"b","above":"a"},{"id":"a"},{"id":"c","above":"b"},{"id":"d"}]',
    })
    const table = await runCommand(folder, ['query', 'places', '--tree', '--fields', 'id'])
    expect(table.stdout).toBe('id     below\na          2\n  b        1\n    c      0\nd          0\n')
    const json = await runCommand(folder, ['query', 'places', '--tree', '--fields', 'id', '--format', 'json'])
    expect(JSON.parse(json.stdout)).toEqual([
      { id: 'a', below: 2, children: [{ id: 'b', below: 1, children: [{ id: 'c', below: 0, children: [] }] }] },
      { id: 'd', below: 0, children: [] },
    ])
    const wrong = await runCommand(folder, ['query', 'words', '--tree'])
    expect([wrong.code, wrong.stderr]).toEqual([2, expect.stringContaining('words is no tree')])
  })
})

describe('The first and the last change of an entry', () => {
  const configuration = `
    import { history, pantry } from 'zinc-pantry'
    export default pantry({ collections: { huts: { files: 'huts/*.md', body: true, fields: {
      first: history('first'), last: history('last'), file: history('last', { from: 'files' }), either: history('last', { from: 'either' }) } } } })`
  const git = (folder: string, ...args: string[]) =>
    execFileSync('git', ['-c', 'user.name=Fells', '-c', 'user.email=fells@fells.example', ...args], {
      cwd: folder,
      stdio: 'pipe',
    })
  const commit = (folder: string, at: string) => {
    git(folder, 'add', '-A')
    execFileSync('git', ['-c', 'user.name=Fells', '-c', 'user.email=fells@fells.example', 'commit', '-qm', 'x'], {
      cwd: folder,
      env: { ...process.env, GIT_COMMITTER_DATE: at, GIT_AUTHOR_DATE: at },
    })
  }
  const read = async (folder: string) => {
    const { site, diagnostics } = await openContent({
      host: createNodeHost(folder),
      configurationFile: 'pantry.config.mjs',
    })
    const entries = await openCollection<Loose, unknown, string>(site, 'huts').toArray()
    return { entries, codes: diagnostics.map(({ code }) => code) }
  }
  const expectSaid = async (folder: string, name: string) => {
    const report = await checkSite({ host: createNodeHost(folder), configurationFile: 'pantry.config.mjs' })
    await expect(textOf(report)).toMatchFileSnapshot(join(FIXTURES, 'hosts', `${name}.expected.txt`))
  }
  test('by version control, through renames, and by the files', async () => {
    const folder = makeFolder({
      'site/pantry.config.mjs': configuration,
      'site/content/huts/a.md': 'One hut of some length\n',
      'site/content/huts/b.md': 'B\n',
    })
    git(folder, 'init', '-q')
    commit(folder, '2026-01-01T00:00:00Z')
    renameSync(join(folder, 'site/content/huts/a.md'), join(folder, 'site/content/huts/å.md'))
    commit(folder, '2026-02-01T00:00:00Z')
    makeFile(folder, 'site/content/huts/a.md', 'Another\n')
    writeFileSync(join(folder, 'site/content/huts/b.md'), 'B more\n')
    commit(folder, '2026-03-01T00:00:00Z')
    makeFile(folder, 'site/content/huts/new.md', 'New\n')
    const { entries, codes } = await read(join(folder, 'site'))
    expect(codes).toEqual([])
    const of = (month: number) => `2026-0${month}-01T00:00:00Z`
    expect(entries.map(({ id, first, last }) => [id, first, last])).toEqual([
      ['a', of(3), of(3)],
      ['b', of(1), of(3)],
      ['new', null, null],
      ['å', of(1), of(2)],
    ])
    expect(entries.every(({ file }) => /^\d{4}-/.test(String(file)))).toBe(true)
    expect(entries.find(({ id }) => id === 'new')?.either).toBe(entries.find(({ id }) => id === 'new')?.file)
    // A commit changes no file, and is seen by the next build all the same.
    const build = async () => {
      const host = createNodeHost(join(folder, 'site'))
      const { output } = await buildSite({ host, configurationFile: 'pantry.config.mjs' })
      expect(output).toBeDefined()
      const catalogue = readFileSync(join(folder, 'site/generated/pantry/index.js'), 'utf8')
      return /catalogues\/huts-\w+/.exec(catalogue)?.[0]
    }
    makeFile(folder, '.gitignore', 'generated/\n.pantry/\nnode_modules/\n')
    const before = await build()
    expect(await build()).toBe(before)
    commit(folder, '2026-04-01T00:00:00Z')
    expect(await build()).not.toBe(before)
    const shallow = makeFolder({})
    git(shallow, 'clone', '-q', '--depth', '1', `file://${folder}`, 'clone')
    const cut = await read(join(shallow, 'clone/site'))
    expect(cut.codes).toEqual(['history-shallow'])
    await expectSaid(join(shallow, 'clone/site'), 'history-shallow')
    expect(cut.entries.map(({ first }) => first)).toEqual([of(4), of(4), of(4), of(4)])
  })
  test('is nothing without version control, which is told', async () => {
    const folder = makeFolder({ 'pantry.config.mjs': configuration, 'content/huts/a.md': 'A\n' })
    const { entries, codes } = await read(folder)
    expect(codes).toEqual(['history-missing'])
    expect(entries.map(({ first, last }) => [first, last])).toEqual([[null, null]])
    expect(entries[0]?.either).toBe(entries[0]?.file)
    await expectSaid(folder, 'history-missing')
  })
  test('cannot be written', async () => {
    const site = pantry({
      collections: { huts: { files: '*.json', fields: { changed: history('last', { from: 'files' }) } } },
    })
    expect((await open({ 'a.json': '{"changed":"2026-01-01T00:00:00Z"}' }, site)).told.map(([code]) => code)).toEqual([
      'field-computed',
    ])
  })
})

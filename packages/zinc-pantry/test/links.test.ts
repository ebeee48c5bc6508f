import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { flag, group, list, pantry, ref, text } from 'zinc-pantry'
import { checkSite, createLineIndex, createMemoryHost } from 'zinc-pantry/engine'
import { type Collection, type EntryBody, openCollection } from 'zinc-pantry/query'
import { makeFile, makeFolder, openFiles, PNG, runCommand } from './helpers.ts'

const url = (folder: string) => ({
  address: 'url',
  derive: { url: { field: text(), from: ({ slug }: { slug: string }) => `/${folder}/${slug}/` } },
})

const severities = { 'locale-missing': 'off', 'config-collection-empty': 'off' } as const
const collections = {
  pages: { files: 'pages/**/*.{md,mdx}', fields: {}, body: true, ...url('pages') },
  words: {
    files: 'words/*.md',
    locales: 'suffix',
    fields: {},
    body: true,
    address: 'url',
    derive: {
      url: {
        field: text(),
        from: ({ slug, locale }: { slug: string; locale?: string | undefined }) => `/${locale}/${slug}/`,
      },
    },
  },
} as const
const site = pantry({ locales: ['en', 'no'], assetBase: '/media', severities, collections })

const open = (files: Readonly<Record<string, string | Uint8Array>>) => openFiles(files, site)
const codesOf = ({ diagnostics }: { diagnostics: readonly { code: string }[] }) => diagnostics.map(({ code }) => code)

describe('Links', () => {
  test.each(['md', 'mdx'])(
    'of %s become addresses: of pages, in the language of the page, of files',
    async (ending) => {
      const body = `[a](two.md#up) [b](../pages/two) [c](pages/two) [d](/pages/two/) [e](#own) [f](https://x.example/)
[g](words/tarn) ![h](/pictures/a%20b.png?x) [i](../pictures/a b.png)

# Own
`
      const files = {
        [`pages/one.${ending}`]: body,
        'pages/two.md': '# Up\n',
        'words/tarn.md': 'A [bield](bield.md).\n',
        'words/tarn.no.md': 'Et [ly](words/bield).\n',
        'words/bield.md': '',
        'words/bield.no.md': '',
        'pictures/a b.png': PNG,
      }
      const report = await open(files)
      expect(codesOf(report)).toEqual([])
      const pages = openCollection<{ id: string; body: EntryBody }, never, string>(report.site, 'pages')
      const stored = await pages.loadBody('one')
      const written = stored?.html ?? String(stored?.compiled)
      const links = [...written.matchAll(/(?:href|src)(?:=|: )"([^"]*)"/g)].map(([, href]) => href)
      const page = ['/pages/two/#up', '/pages/two/', '/pages/two/', '/pages/two/', '#own', 'https://x.example/']
      expect(links).toEqual([...page, '/en/tarn/', '/media/pictures/a%20b.png?x'])
      const words: Collection<{ id: string }, never, string> = openCollection(report.site, 'words')
      expect((await words.inLocale('no').loadBody('tarn'))?.html).toContain('href="/no/bield/"')
      const facts = (await pages.byId('one'))?.body
      expect(facts?.links).toContain('https://x.example/')
      expect(facts?.links).toEqual([...new Set(links.slice(0, 7))])
      expect(facts?.firstImage).toEqual({ src: '/media/pictures/a%20b.png?x', alt: 'h', width: 1, height: 2 })
    },
  )

  test('A file that is moved breaks no link in silence, and is found where it went', async () => {
    const folders = fc.constantFrom('', 'north/', 'north/high/', 'south/')
    const writing = fc.constantFrom(
      'inline',
      'reference',
      'html',
      'bare',
      'upper',
      'candidates',
      'quotation',
      'encoded',
      'quoted',
    )
    const moves = fc.record({ from: folders, to: folders, by: folders, writing, ending: fc.constantFrom('md', 'mdx') })
    await fc.assert(
      fc.asyncProperty(moves, async ({ from, to, by, writing: kind, ending }) => {
        fc.pre(from !== to && !(ending === 'mdx' && !/^(?:inline|reference|quoted)$/.test(kind)))
        const up = '../'.repeat(by.split('/').length - 1)
        const href = `${up}${from}target.md`
        const body = {
          inline: `Ω [x](${href}) y`,
          reference: `[x][r]\n\n[r]: ${href}`,
          html: `<p><a href="${href}">x</a></p>`,
          bare: `a <a title='>' href=${href} id=x>x</a>`,
          upper: `<DIV>\n<IMG ALT="a > b" SRC='${href}'>\n</DIV>`.replace('\n<', '<'),
          candidates: `<img alt="" srcset="https://x.example/a 1x, ${href} 2x">`,
          quotation: `<blockquote\n  cite="${href}">`.replace('\n', ''),
          quoted: `> [x](\n> ${href})`,
          encoded: `<a href="${href.replace('target', '&#116;arget')}">x</a>`,
        }[kind]
        const page = (folder: string) => ({
          [`pages/${by}page.${ending}`]: `---\n{}\n---\n\nText.\n\n${body}\n`,
          [`pages/${folder}target.md`]: '# Here\n',
        })
        expect(codesOf(await open(page(from)))).toEqual([])
        const files = page(to)
        const { diagnostics } = await open(files)
        expect(diagnostics.map(({ code }) => code)).toEqual(['link-broken'])
        const [{ span, file, parameters }] = diagnostics as never as [
          { span: [number, number]; file: string; parameters: { suggestion: string } },
        ]
        const source = files[file.replace('content/', '')] ?? ''
        const asWritten = kind === 'encoded' ? href.replace('target', '&#116;arget') : href
        expect(source.slice(...span)).toBe(kind === 'reference' ? '[x][r]' : asWritten)
        expect(createLineIndex(source).at(span[0]).line).toBe(kind === 'quoted' ? 8 : 7)
        const mended = source.replace(asWritten, parameters.suggestion)
        expect(codesOf(await open({ ...files, [file.replace('content/', '')]: mended }))).toEqual([])
      }),
      { numRuns: 60 },
    )
  })
})

test('An address in HTML is looked at on every element on which the standard has one, and on no other', async () => {
  const attributes: Readonly<Record<string, readonly string[]>> = {
    href: ['a', 'area'],
    src: ['img', 'video', 'audio', 'source', 'track', 'iframe', 'embed'],
    srcset: ['img', 'source'],
    poster: ['video'],
    data: ['object'],
    cite: ['blockquote', 'q', 'del', 'ins'],
  }
  const elements = [...new Set(Object.values(attributes).flat()), 'p', 'form', 'custom-part']
  for (const element of elements) {
    const names = Object.keys(attributes)
    const tag = `<${element} alt="" ${names.map((name) => `${name}="${name}.md"`).join(' ')}></${element}>`
    const { diagnostics } = await open({ 'pages/one.md': `---\n{}\n---\n\n<div>${tag}</div>\n` })
    const told = diagnostics.flatMap(({ parameters: { href } }) => href)
    const expected = names.flatMap((name) => (attributes[name]?.includes(element) ? `${name}.md` : []))
    expect([element, ...told]).toEqual([element, ...expected])
  }
})

test('A link to an entry of which one language is not to be seen leads to another', async () => {
  const { pages, words } = collections
  const draft = { publication: { draft: 'draft' }, fields: { draft: flag({ default: false }) } } as const
  const configuration = pantry({
    locales: ['en', 'no'],
    severities,
    collections: { pages, words: { ...words, ...draft } },
  })
  const files = (draftOf: string) => ({
    'pages/one.md': '[to](words/tarn)\n',
    'words/tarn.md': `---\ndraft: ${draftOf === 'en'}\n---\n`,
    'words/tarn.no.md': `---\ndraft: ${draftOf === 'no'}\n---\n`,
  })
  const linkIn = async (draftOf: string) => {
    const { site: opened, diagnostics } = await openFiles(files(draftOf), configuration)
    expect(codesOf({ diagnostics })).toEqual([])
    const pages = openCollection<never, never, string>(opened, 'pages')
    return /href="([^"]*)"/.exec(((await pages.loadBody('one')) as { html: string }).html)?.[1]
  }
  expect([await linkIn('none'), await linkIn('no'), await linkIn('en')]).toEqual([
    '/en/tarn/',
    '/en/tarn/',
    '/no/tarn/',
  ])
})

describe('Absolute links', () => {
  const configuration = pantry({
    assetBase: '/media/',
    served: ['/api/**', '/feed.xml'],
    collections: {
      pages: { files: 'pages/**/*.md', body: true, fields: {}, ...url('docs') },
      steps: { files: 'steps/*.{md,mdx}', body: true, numbered: true, fields: {}, ...url('steps') },
      broken: { files: 'broken/*.md', body: true, fields: { name: text() }, ...url('broken') },
      notes: { files: 'notes/*.md', body: true, fields: {} },
    },
  })
  const known = {
    'content/pages/one.md': '# Up\n',
    'content/pages/café.md': '',
    'content/pages/a#b.md': '',
    'content/pages/picture.png': '',
    'content/steps/10-prompts.mdx': '# Ask\n',
    'content/broken/gone.md': '---\nname: 1\n---\n',
    'public/robots.txt': '',
    'public/old/index.html': '',
  }
  const check = async (link: string) => {
    const files = { ...known, 'content/pages/from.md': link, 'content/steps/02-from.md': link }
    const host = createMemoryHost(files, configuration)
    const { diagnostics } = await checkSite({ host, configurationFile: 'pantry.config.ts' })
    const from = diagnostics.filter(({ file }) => file === 'content/pages/from.md')
    return from.map(({ code, parameters }) => [code, parameters.suggestion].filter(Boolean).join(' '))
  }

  test.each([
    ['/', ''],
    ['/docs/one', ''],
    ['/docs/one/#up', ''],
    ['/docs/caf%C3%A9/', ''],
    ['/docs/café/', ''],
    ['/media/pages/picture.png', ''],
    ['/pages/picture.png', ''],
    ['/robots.txt', ''],
    ['/old/', ''],
    ['/api/huts?open=1', ''],
    ['/feed.xml', ''],
    ['../pages/a%23b.md', ''],
    ['../steps/prompts', ''],
    ['../steps/prompts.mdx#ask', ''],
    ['../steps/10-prompts.mdx', ''],
    ['/docs/ona/', 'link-broken /docs/one/'],
    ['/comands/one', 'link-broken /docs/one/'],
    ['/docs', 'link-broken /docs/a-b/'],
    ['/feed.xmls', 'link-broken'],
    ['/robots', 'link-broken'],
    ['../steps/11-prompts.mdx', 'link-broken ../steps/10-prompts.mdx'],
    ['/broken/gone/', 'ref-target-failed'],
  ])('%s is looked at like any other', async (href, expected) => {
    expect((await check(`[x](<${href}>)`)).join()).toBe(expected)
    const isPlain = !href.includes('../')
    if (isPlain) expect((await check(`[x][r]\n\n[r]: <${href}>`)).join()).toBe(expected)
    expect((await check(`<p>\n<a class=x href='${href}'>x</a>\n</p>`)).join()).toBe(expected)
  })

  test('Two pages have no address in common, of whatever collection and language', async () => {
    const same = { files: 'b/*.md', body: true, fields: {}, ...url('a') }
    const collections = { a: { ...same, files: 'a/*.md' }, b: same }
    const files = { 'a/x.md': '', 'b/x.md': '', 'b/y.md': '' }
    const { diagnostics } = await openFiles(files, pantry({ collections }))
    expect(diagnostics.map(({ code, file, parameters }) => [code, file, parameters.other])).toEqual([
      ['address-duplicate', 'content/b/x.md', 'a/x'],
    ])
    // Servers read escapes, and add or drop the slash at the end.
    const written = ['/a', '/a/', '/b', '/caf%C3%A9', '/café/', '/A']
    const addresses = { url: { field: text(), from: ({ id }: { id: string }) => written[Number(id.slice(1))] ?? '' } }
    const spelt = { notes: { files: '*.md', body: true, fields: {}, address: 'url', derive: addresses } }
    const notes = Object.fromEntries(written.map((_, at) => [`n${at}.md`, '']))
    const told = (await openFiles(notes, pantry({ collections: spelt }))).diagnostics
    expect(told.map(({ file, parameters }) => [file, parameters.other])).toEqual([
      ['content/n1.md', 'notes/n0'],
      ['content/n4.md', 'notes/n3'],
    ])
    const derive = { url: { field: text({ unique: true }), from: () => '/same/' } }
    const unique = { a: { files: '*.md', body: true, fields: {}, derive } }
    expect(codesOf(await openFiles({ 'x.md': '', 'y.md': '' }, pantry({ collections: unique })))).toEqual([
      'value-duplicate',
    ])
  })
})

test('What the code of a body imports is there, or is told at its place', async () => {
  const folder = makeFolder({
    'package.json': '{"type":"module"}',
    'pantry.config.js': `import { pantry } from 'zinc-pantry'
export default pantry({ collections: { pages: { files: '**/*.mdx', body: true, fields: {} } } })`,
    'node_modules/there/package.json': '{"name":"there","exports":"./index.js"}',
    'node_modules/there/index.js': 'export const There = () => null',
    'content/a/one.mdx': `import { Chart } from '../parts/chart'
import { There } from 'there'
import { Short } from '@/short'
export { Two } from "../parts/two.js"
import { Gone } from '../parts/chrat.jsx'
import { Lost } from '@lost/package/part'

<Chart />
`,
    'content/parts/chart.jsx': 'export const Chart = () => null',
    'content/parts/two.ts': 'export const Two = 2',
  })
  const told = async () => {
    const { stdout } = await runCommand(folder, ['check', '--format', 'json'])
    return (JSON.parse(stdout) as { diagnostics: object[] }).diagnostics
  }
  expect(await told()).toMatchObject([
    { code: 'import-missing', line: 5, column: 23, help: 'Did you mean "../parts/chart.jsx"?' },
    { code: 'import-missing', line: 6, column: 23, help: 'Install it: npm install @lost/package' },
  ])
  // What is mended outside of the content is noticed.
  makeFile(folder, 'node_modules/@lost/package/part.js', 'export const Lost = 1')
  makeFile(folder, 'content/parts/chrat.jsx', 'export const Gone = 1')
  expect(await told()).toEqual([])
})

describe('Pages', () => {
  const pages = (isPage: boolean) => ({ fields: {}, body: true, ...(isPage ? url('a') : {}) })
  const codes = async (a: boolean, b: boolean) => {
    const collections = { a: { files: 'a/*.md', ...pages(a) }, b: { files: 'b/*.md', ...pages(b) } }
    return codesOf(
      await openFiles({ 'a/x.md': '[to](../b/y.md) [own](#top)\n', 'b/y.md': '# Y\n' }, pantry({ collections })),
    )
  }

  test('A link to an entry without a page is told, on a site without pages too', async () => {
    expect(await codes(true, true)).toEqual([])
    expect(await codes(true, false)).toEqual(['link-without-page'])
    expect(await codes(false, false)).toEqual(['link-without-page'])
  })

  test('What nothing but itself leads to is listed, by collection and id', async () => {
    const fields = { near: list(ref(['huts', 'trails']), { default: [] }) }
    const configuration = pantry({
      collections: {
        huts: { files: 'huts/*.md', fields, body: true, ...url('huts') },
        trails: { files: 'trails/*.md', fields, body: true, ...url('trails') },
      },
    })
    const files = {
      'content/huts/gable.md':
        '---\nnear: [huts/gable, huts/ridge, trails/gable]\n---\n[own](gable.md) [far](../trails/far.md)\n',
      'content/huts/ridge.md': '[own](#top)\n',
      'content/trails/gable.md': '![shown](../pictures/a.png)\n',
      'content/trails/ridge.md': '',
      'content/trails/far.md': '',
      'content/pictures/a.png': '',
      'content/pictures/b.png': '',
    }
    const host = createMemoryHost(files, configuration)
    const { diagnostics } = await checkSite({ host, configurationFile: 'pantry.config.ts', unused: true })
    const said = diagnostics.map(({ code, file, parameters }) => [code, parameters.page ?? file])
    expect(said.sort()).toEqual([
      ['asset-unused', 'content/pictures/b.png'],
      ['page-unlinked', 'huts/gable'],
      ['page-unlinked', 'trails/ridge'],
    ])
  })
})

test('A circle of a tree is one of parents, whatever else leads in circles', async () => {
  const links = fc.array(fc.option(fc.nat(5)), { minLength: 6, maxLength: 6 })
  await fc.assert(
    fc.asyncProperty(links, links, links, async (nears, inners, parents) => {
      const configuration = pantry({
        collections: {
          places: {
            files: 'places.json',
            parent: 'parent',
            fields: {
              near: ref('places', { optional: true }),
              inner: group({ parent: ref('places', { optional: true }) }),
              parent: ref('places', { optional: true }),
            },
          },
        },
      })
      const named = (at: number | null | undefined) => (typeof at === 'number' ? { to: `p${at}` }.to : undefined)
      const entries = parents.map((parent, at) => ({
        id: `p${at}`,
        near: named(nears[at]),
        inner: { parent: named(inners[at]) },
        parent: named(parent),
      }))
      const { diagnostics } = await openFiles({ 'places.json': JSON.stringify(entries) }, configuration)
      // Slowly: whoever comes back to itself is in a circle.
      const circles = new Set<string>()
      for (const start of parents.keys()) {
        const way = [start]
        for (let at = parents[start]; typeof at === 'number' && !way.includes(at); at = parents[at]) way.push(at)
        if (parents[way.at(-1) as number] === start) circles.add(way.toSorted().join())
      }
      expect(diagnostics.map(({ code }) => code)).toEqual(Array.from(circles, () => 'tree-cycle'))
      const said = diagnostics.map(({ parameters }) => [...new Set(parameters.ids as string[])].sort())
      expect(said.sort()).toEqual([...circles].map((one) => one.split(',').map((at) => `p${at}`)).sort())
    }),
    { numRuns: 100 },
  )
})

test('What is not published has no address, though links to it may be a warning', async () => {
  const configuration = pantry({
    severities: { 'link-unpublished': 'warning' },
    collections: {
      pages: {
        files: 'pages/*.md',
        fields: { draft: flag({ default: false }) },
        publication: { draft: 'draft' },
        body: true,
        ...url('pages'),
      },
      keys: { files: 'keys.json', fields: { code: text({ private: true }) } },
    },
  })
  const files = {
    'pages/one.md': '[hush](hush.md) ![keys](../keys.json) [keys](../keys.json) [far](https://x.example/)\n',
    'pages/hush.md': '---\ndraft: true\n---\n',
    'keys.json': '{"door":{"code":"4711"}}',
  }
  const { site: opened, diagnostics } = await openFiles(files, configuration)
  expect(new Set(codesOf({ diagnostics }))).toEqual(new Set(['link-unpublished', 'link-source']))
  const pages = openCollection<{ body: EntryBody }, never, string>(opened, 'pages')
  const { html } = (await pages.loadBody('one')) as { html: string }
  expect(html).not.toMatch(/hush\.md|pages\/hush|keys\.json/)
  expect(html.match(/(?:href|src)="[^"]*"/g)).toEqual(['href="#"', 'src="#"', 'href="#"', 'href="https://x.example/"'])
  const body = (await pages.byId('one'))?.body
  expect([body?.links, body?.images]).toEqual([['https://x.example/'], []])
})

import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { group, list, pantry, ref, text } from 'zinc-pantry'
import { checkSite, createLineIndex, createMemoryHost } from 'zinc-pantry/engine'
import { type Collection, type EntryBody, openCollection } from 'zinc-pantry/query'
import { openFiles } from './helpers.ts'

const url = (folder: string) => ({
  address: 'url',
  derive: { url: { field: text(), from: ({ slug }: { slug: string }) => `/${folder}/${slug}/` } },
})

const site = pantry({
  locales: ['en', 'no'],
  assetBase: '/media',
  severities: { 'locale-missing': 'off', 'config-collection-empty': 'off' },
  collections: {
    pages: { files: 'pages/**/*.{md,mdx}', fields: {}, body: true, ...url('pages') },
    words: {
      files: 'words/*.md',
      locales: 'suffix',
      fields: {},
      body: true,
      address: 'url',
      derive: { url: { field: text(), from: ({ slug, locale }) => `/${locale}/${slug}/` } },
    },
  },
})

const open = (files: Readonly<Record<string, string>>) => openFiles(files, site)
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
        'pictures/a b.png': '',
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
      expect(facts?.firstImage).toEqual({ src: '/pictures/a%20b.png?x', alt: 'h' })
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
    )
    const moves = fc.record({ from: folders, to: folders, by: folders, writing, ending: fc.constantFrom('md', 'mdx') })
    await fc.assert(
      fc.asyncProperty(moves, async ({ from, to, by, writing: kind, ending }) => {
        fc.pre(from !== to && !(ending === 'mdx' && !/^(?:inline|reference)$/.test(kind)))
        const up = '../'.repeat(by.split('/').length - 1)
        const href = `${up}${from}target.md`
        const body = {
          inline: `Ω [x](${href}) y`,
          reference: `[x][r]\n\n[r]: ${href}`,
          html: `<p><a href="${href}">x</a></p>`,
          bare: `a <a title='>' href=${href} id=x>x</a>`,
          upper: `<DIV>\n<IMG ALT="a > b" SRC='${href}'>\n</DIV>`.replace('\n<', '<'),
          candidates: `<img srcset="https://x.example/a 1x, ${href} 2x">`,
          quotation: `<blockquote\n  cite="${href}">`.replace('\n', ''),
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
        expect(createLineIndex(source).at(span[0]).line).toBe(7)
        const mended = source.replace(asWritten, parameters.suggestion)
        expect(codesOf(await open({ ...files, [file.replace('content/', '')]: mended }))).toEqual([])
      }),
      { numRuns: 60 },
    )
  })
})

describe('Pages', () => {
  const pages = (isPage: boolean) => ({ fields: {}, body: true, ...(isPage ? url('a') : {}) })
  const codes = async (a: boolean, b: boolean) => {
    const collections = { a: { files: 'a/*.md', ...pages(a) }, b: { files: 'b/*.md', ...pages(b) } }
    return codesOf(
      await openFiles({ 'a/x.md': '[to](../b/y.md) [own](#top)\n', 'b/y.md': '# Y\n' }, pantry({ collections })),
    )
  }

  test('Only beside others an entry without a page is one that is missing', async () => {
    expect(await codes(true, true)).toEqual([])
    expect(await codes(true, false)).toEqual(['link-without-page'])
    expect(await codes(false, false)).toEqual([])
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

import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { pantry, text } from 'zinc-pantry'
import { createLineIndex } from 'zinc-pantry/engine'
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
    const writing = fc.constantFrom('inline', 'reference', 'html')
    const moves = fc.record({ from: folders, to: folders, by: folders, writing, ending: fc.constantFrom('md', 'mdx') })
    await fc.assert(
      fc.asyncProperty(moves, async ({ from, to, by, writing: kind, ending }) => {
        fc.pre(from !== to && !(kind === 'html' && ending === 'mdx'))
        const up = '../'.repeat(by.split('/').length - 1)
        const href = `${up}${from}target.md`
        const body = {
          inline: `Ω [x](${href}) y`,
          reference: `[x][r]\n\n[r]: ${href}`,
          html: `<p><a href="${href}">x</a></p>`,
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
        expect(source.slice(...span)).toBe(kind === 'reference' ? '[x][r]' : href)
        expect(createLineIndex(source).at(span[0]).line).toBe(7)
        const mended = source.replace(href, parameters.suggestion)
        expect(codesOf(await open({ ...files, [file.replace('content/', '')]: mended }))).toEqual([])
      }),
      { numRuns: 60 },
    )
  })
})

import { writeFileSync } from 'node:fs'
import { join } from 'node:path'
import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { flag, list, markdown, pantry, ref, text } from 'zinc-pantry'
import { buildSite, createNodeHost } from 'zinc-pantry/engine'
import { type Backlinks, type Collection, openCollection, openSingle, type Single } from 'zinc-pantry/query'
import { makeFolder, openFiles, readFolder, runs } from './helpers.ts'

const site = pantry({
  severities: { 'page-unlinked': 'off' },
  collections: {
    about: {
      files: 'about.md',
      single: true,
      body: true,
      backlinks: true,
      address: '/{slug}/',
      fields: { title: text() },
    },
    huts: { files: 'huts.json', fields: { name: text(), near: ref('pages', { optional: true }) } },
    pages: {
      files: 'pages/*.{md,mdx}',
      body: true,
      backlinks: true,
      address: '/pages/{slug}/',
      publication: { draft: 'draft' },
      fields: {
        title: text(),
        draft: flag({ default: false }),
        see: list(ref('pages'), { default: [] }),
        kept: ref('pages', { optional: true, private: true }),
        secret: markdown({ optional: true, private: true }),
        note: markdown({ optional: true }),
      },
    },
  },
})

type Kept = Collection<{ readonly id: string }, unknown, string> & Backlinks<[id: string]>

async function open(files: Readonly<Record<string, string>>) {
  const opened = await openFiles(files, site)
  expect(opened.diagnostics.filter(({ severity }) => severity === 'error')).toEqual([])
  return opened.site
}

/** A page, as front matter and body. */
const page = (body: string, fields: object = {}): string =>
  `---\n${JSON.stringify({ title: 'Page', ...fields })}\n---\n${body}\n`

const ABOUT = { 'about.md': page('Read [the first page](/pages/a/).') }

describe('What leads to an entry', () => {
  test('is told with the text around, from bodies, fields of Markdown and references, with the entry it stands in', async () => {
    const long = 'word '.repeat(60)
    const opened = await open({
      ...ABOUT,
      'huts.json': JSON.stringify([{ id: 'gable', name: 'Gable Hut', near: 'a' }]),
      'pages/a.md': page('Of [itself](a.md), and [about](../about.md).'),
      'pages/b.md': page(`${long}and *then* [the **first** page](a.md#top) again, [twice](./a.md). ${long}`, {
        see: ['a', 'a'],
      }),
      'pages/c.mdx': page('A cell [here][x], in <a href="/pages/a/">HTML</a>.\n\n[x]: a.md\n'),
      'pages/d.md': page('', { note: 'In a note: [a](/pages/a/).', kept: 'a', secret: '[a](/pages/a/)' }),
      'pages/e.md': page('See [a](a.md).', { draft: true }),
    })
    const pages = openCollection(opened, 'pages') as Kept
    const found = (await pages.backlinks('a')).map(({ collection, entry, ...rest }) => ({
      from: `${collection}/${entry.id}`,
      ...rest,
    }))
    const cut = `…${'word '.repeat(15).slice(4)}`
    expect(found.map(({ from, path }) => `${from} ${path}`)).toEqual([
      'about/about body',
      'huts/gable near',
      'pages/b see',
      'pages/b body',
      'pages/b body',
      'pages/c body',
      'pages/c body',
      'pages/d note',
    ])
    expect(found[0]).toMatchObject({ before: 'Read ', label: 'the first page', after: '.' })
    expect(found[1]).toMatchObject({ before: '', label: '', after: '' })
    expect(found[3]).toMatchObject({ label: 'the first page', before: expect.stringMatching(/^… word .*and then $/) })
    expect(found[3]?.before.length).toBeLessThan(90)
    expect(found[3]?.after).toMatch(/^ again, twice\. word .* …$/)
    expect(found[5]).toMatchObject({ before: 'A cell ', label: 'here', after: ', in HTML.' })
    expect(found[6]).toMatchObject({ before: 'A cell here, in ', label: 'HTML', after: '.' })
    expect(found[7]).toMatchObject({ before: 'In a note: ', label: 'a', after: '.' })
    expect(cut).toContain('word')
    const about = openSingle(opened, 'about') as Single<unknown> & Backlinks<[]>
    expect((await about.backlinks()).map(({ entry }) => entry.id)).toEqual(['a'])
    expect(await pages.backlinks('b')).toEqual([])
    await expect(pages.backlinks('zzz')).rejects.toThrow('There is no entry "zzz" in pages')
    expect('backlinks' in openCollection(opened, 'huts')).toBe(false)
  })

  test('is what a look at each page finds', async () => {
    const ids = ['a', 'b', 'c', 'd', 'e']
    const id = fc.constantFrom(...ids)
    const written = fc.record({
      links: fc.array(id, { maxLength: 5 }),
      see: fc.array(id, { maxLength: 3 }),
      isMdx: fc.boolean(),
    })
    await fc.assert(
      fc.asyncProperty(fc.array(written, { minLength: 5, maxLength: 5 }), async (all) => {
        const files = all.map(({ links, see, isMdx }, at) => [
          `pages/${ids[at]}.${isMdx ? 'mdx' : 'md'}`,
          page(links.map((to) => `To [page ${to}](/pages/${to}/).`).join('\n\n'), { see }),
        ])
        const opened = await open({ ...ABOUT, 'huts.json': '[]', ...Object.fromEntries(files) })
        const pages = openCollection(opened, 'pages') as Kept
        for (const to of ids) {
          const found = (await pages.backlinks(to)).map(({ entry, path, label }) => `${entry.id} ${path} ${label}`)
          const expected = all.flatMap(({ links, see }, at) => {
            if (ids[at] === to) return []
            return [
              ...(see.includes(to) ? [`${ids[at]} see `] : []),
              ...(links.includes(to) ? [`${ids[at]} body page ${to}`] : []),
            ]
          })
          expect(found.toSorted()).toEqual(
            [...expected, ...(to === 'a' ? ['about body the first page'] : [])].toSorted(),
          )
        }
      }),
      { numRuns: runs(25, 500) },
    )
  })
})

test('A site that begins or ceases to keep backlinks gives what one does that always did, whatever was kept before', async () => {
  const configurationOf = (backlinks: boolean): string => `
    import { pantry, text } from 'zinc-pantry'
    export default pantry({
      severities: { 'page-unlinked': 'off' },
      collections: {
        pages: { files: 'pages/*.md', body: true, backlinks: ${backlinks}, address: '/pages/{slug}/', fields: { title: text() } },
        notes: { files: 'notes/*.{md,mdx}', body: true, address: '/notes/{slug}/', fields: { title: text() } },
      },
    })`
  const content = {
    'content/pages/a.md': page('The *first*.'),
    'content/notes/b.md': page('Read [the first page](/pages/a/) before.'),
    'content/notes/c.mdx': page('Then [the **first** page](/pages/a/) again.'),
  }
  const outputOf = async (root: string): Promise<Readonly<Record<string, string>>> => {
    const { diagnostics } = await buildSite({ host: createNodeHost(root), configurationFile: 'pantry.config.mjs' })
    expect(diagnostics).toEqual([])
    return readFolder(join(root, 'generated'))
  }
  const [without, keeping] = [configurationOf(false), configurationOf(true)]
  const fresh = await outputOf(makeFolder({ ...content, 'pantry.config.mjs': keeping }))
  expect(Object.values(fresh).join()).toContain('the first page')
  const root = makeFolder({ ...content, 'pantry.config.mjs': without })
  const first = await outputOf(root)
  writeFileSync(join(root, 'pantry.config.mjs'), keeping)
  // What pages that are open may still ask for stays beside it.
  expect(await outputOf(root)).toMatchObject(fresh)
  writeFileSync(join(root, 'pantry.config.mjs'), without)
  expect(await outputOf(root)).toMatchObject(first)
})

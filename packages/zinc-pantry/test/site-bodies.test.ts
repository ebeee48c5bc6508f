import { describe, expect, test } from 'vitest'
import { block, flag, group, int, list, pantry, ref, text } from 'zinc-pantry'
import { messageOf } from 'zinc-pantry/engine'
import { openCollection } from 'zinc-pantry/query'
import { bodyOfBlocks, renderHtml, renderNodes, toTree } from 'zinc-pantry/render'
import { openFiles } from './helpers.ts'

type Loose = Readonly<Record<string, unknown>>

/** Opens texts, and gives their bodies and what was found. */
async function open(files: Readonly<Record<string, string>>, settings: object, site: object = {}) {
  const configuration = pantry({
    ...site,
    collections: {
      texts: { files: '*.{md,mdx}', body: true, fields: { title: text({ optional: true }) }, ...settings },
    },
  } as never)
  const opened = await openFiles(files, configuration)
  const texts = openCollection<Loose & { id: string }, unknown, string>(opened.site, 'texts')
  return {
    codes: opened.diagnostics.map(({ code }) => code),
    said: opened.diagnostics.map(messageOf),
    entries: await texts.toArray(),
    body: async (id: string) => (await texts.loadBody(id)) as NonNullable<Awaited<ReturnType<typeof texts.loadBody>>>,
  }
}

describe('Components that the page supplies', () => {
  const mdx = '<Tabs kind="a" count={2}>\n  <TabItem label="One" on={later}>In *it*.</TabItem>\n</Tabs>\n'
  const md = ':::tabs{kind=a}\nIn *it*.\n:::\n'
  const asText = {
    Tabs: ({ kind, count, children }: Loose) => `<b ${kind} ${count}>${children}</b>`,
    TabItem: ({ label, children }: Loose) => `<i ${label}>${children}</i>`,
    tabs: ({ kind, children }: Loose) => `<b ${kind}>${children}</b>`,
  }
  test('are all allowed where the collection says so, with what is written', async () => {
    const files = { 'a.mdx': `export const later = 1\n\n${mdx}`, 'b.md': md }
    expect((await open(files, {})).codes).toContain('component-unknown')
    const { codes, entries, body } = await open(files, { body: { components: 'any' } })
    expect(codes).toEqual([])
    expect((entries[0]?.body as { blocks: string[] } | undefined)?.blocks).toEqual(['Tabs', 'TabItem'])
    expect(await renderHtml(await body('a'), { blocks: asText })).toContain('<b a 2><i One>In <em>it</em>.</i></b>')
    expect(await renderHtml(await body('b'), { blocks: asText })).toBe('<b a>\n<p>In <em>it</em>.</p>\n</b>\n')
  })
  test('or named without their properties, or with some of them', async () => {
    const site = {
      blocks: { tabs: {}, tabItem: { fields: { label: text(), size: int({ default: 3 }) }, unknownKeys: 'keep' } },
    }
    const files = {
      'a.mdx': `export const later = 1\n\n${mdx}`,
      'b.mdx': '<TabItem label="x" other="y" />\n\n<Other />\n',
    }
    const { codes, body } = await open(files, {}, site)
    expect(codes).toEqual(['component-unknown'])
    const items = {
      tabs: asText.Tabs,
      tabItem: (given: Loose) => `<i>${JSON.stringify({ ...given, children: 0 })}</i>`,
    }
    expect(await renderHtml(await body('a'), { blocks: items })).toContain(
      '<i>{"on":1,"label":"One","size":3,"children":0}</i>',
    )
    expect((await open({ 'a.mdx': '<TabItem other="y" />\n' }, {}, site)).codes).toEqual(['field-missing'])
    expect((await open({ 'a.mdx': '<Tabs a="y" />\n' }, {}, { blocks: { tabs: { fields: {} } } })).codes).toEqual([
      'field-unknown',
    ])
  })
  test('blocks in data that allow more keep it, and are drawn by the same components in every runtime', async () => {
    const configuration = pantry({
      blocks: { map: { fields: { centre: text() }, unknownKeys: 'keep' }, note: {} },
      collections: { pages: { files: 'p.json', fields: { panels: list(block({ key: 'type' }, 'map', 'note')) } } },
    })
    const panels = [
      { type: 'map', centre: 'Gable "x" <b>', zoom: 3 },
      { type: 'note', says: '&amp;' },
    ]
    const { site, diagnostics } = await openFiles({ 'p.json': JSON.stringify([{ id: 'a', panels }]) }, configuration)
    expect(diagnostics).toEqual([])
    const [page] = await openCollection<{ panels: readonly Loose[] }, unknown, string>(site, 'pages').toArray()
    expect(page?.panels).toEqual(panels)
    const body = bodyOfBlocks(page?.panels ?? null, 'type')
    const blocks = {
      map: (given: Loose) => `[map ${JSON.stringify(given)}]`,
      note: ({ says }: Loose) => `[note ${says}]`,
    }
    expect(await renderHtml(body, { blocks })).toBe(
      '[map {"centre":"Gable \\"x\\" <b>","zoom":3,"children":""}][note &amp;]',
    )
    const jsx = (type: unknown, given: Loose): unknown =>
      typeof type === 'function' ? (type as (given: Loose) => unknown)(given) : { type, given }
    const nodes = await renderNodes(body, { Fragment: 'f', jsx, jsxs: jsx }, { blocks: { map: 'Map', note: 'Note' } })
    expect(nodes).toMatchObject({
      given: {
        children: [
          { type: 'Map', given: { zoom: 3 } },
          { type: 'Note', given: { says: '&amp;' } },
        ],
      },
    })
    expect(
      (await toTree(body)).children.map((node) => (node as unknown as { properties: Loose }).properties.dataBlock),
    ).toEqual(['map', 'note'])
  })
})

test.each(['md', 'mdx'])('ids of headings can be made by the site: %s', async (ending) => {
  const source = '## Getting there!\n\n## Getting there\n\nSee [it](#gt).\n'
  const headingId = (heading: string) =>
    heading
      .split(' ')
      .map((word) => word[0]?.toLowerCase())
      .join('')
  const { codes, entries } = await open({ [`a.${ending}`]: source }, { body: { headingId } })
  expect(codes).toEqual([])
  expect((entries[0]?.body as { outline: { id: string }[] } | undefined)?.outline.map(({ id }) => id)).toEqual([
    'gt',
    'gt-1',
  ])
  const usual = await open({ [`a.${ending}`]: source.replace('#gt', '#getting-there-1') }, {})
  expect(usual.codes).toEqual([])
  const failing = await open(
    { [`a.${ending}`]: source },
    {
      body: {
        headingId: () => {
          throw new Error('no id')
        },
      },
    },
  )
  expect(failing.codes).toContain('plugin-failed')
})

describe('Functions of the configuration', () => {
  test.each(['md', 'mdx'])('see what a body says of itself: %s', async (ending) => {
    const configuration = pantry({
      collections: {
        texts: {
          files: '*.{md,mdx,json}',
          body: true,
          fields: {},
          derive: {
            words: { field: int(), from: ({ body }) => body?.words ?? 0 },
            first: { field: text({ optional: true }), from: ({ body }) => body?.outline[0]?.id ?? null },
          },
          rules: [
            ({ body }, { report }) => {
              for (const href of body?.links ?? [])
                if (href.startsWith('http:')) report('', { code: 'link-plain', message: href })
            },
          ],
        },
      },
    })
    const files = { [`a.${ending}`]: '## Two words\n\n[One](http://fells.example)\n', 'b.json': '{}' }
    const { site, diagnostics } = await openFiles(files, configuration)
    expect(diagnostics.map(messageOf)).toEqual(['http://fells.example'])
    const texts = await openCollection<Loose, unknown, string>(site, 'texts').toArray()
    expect(texts.map(({ words, first }) => [words, first])).toEqual([
      [3, 'two-words'],
      [0, null],
    ])
  })
  test('have typed access to the entries of other collections, whatever their order', async () => {
    const site = pantry({
      collections: {
        notes: {
          files: 'n.json',
          fields: { hut: ref('huts') },
          derive: {
            label: {
              field: text(),
              from: ({ hut }, { entry, entries }) => {
                const found = entry('huts', hut)
                // @ts-expect-error: a hut has no such field
                found?.bedz
                const most: number = Math.max(...entries('huts').map(({ beds }) => beds))
                return `${found?.name.toUpperCase()} ${found?.twice} of ${most}`
              },
            },
          },
          rules: [
            ({ hut }, { entry, report }) => {
              if ((entry('huts', hut)?.beds ?? 0) > 5) report('hut', { code: 'hut-large', message: 'The hut is large' })
            },
          ],
        },
        huts: {
          files: 'h.json',
          fields: { name: text(), beds: int() },
          derive: { twice: { field: int(), from: ({ beds }) => 2 * beds } },
        },
      },
    })
    const { site: content, diagnostics } = await openFiles(
      {
        'n.json': '[{"id":"1","hut":"a"}]',
        'h.json': '[{"id":"a","name":"Gable","beds":4},{"id":"b","name":"B","beds":9}]',
      },
      site,
    )
    expect(diagnostics).toEqual([])
    const [note] = await openCollection<Loose, unknown, string>(content, 'notes').toArray()
    expect(note?.label).toBe('GABLE 8 of 9')
  })
  test('rules run on every entry whose fields they ask for are right', async () => {
    const site = pantry({
      collections: {
        huts: {
          files: 'h.json',
          fields: {
            beds: int(),
            open: flag(),
            at: group({ x: int() }),
            near: ref('huts', { by: 'slug', optional: true }),
          },
          derive: { twice: { field: int(), from: ({ beds }) => 2 * beds } },
          rules: [
            ({ beds }, { report }) => {
              if (beds > 5) report('beds', { code: 'beds-many', message: `Many: ${beds}` })
            },
            ({ at, beds }, { report }) => report('at.x', { code: 'at-seen', message: `At ${at.x} of ${beds}` }),
            ({ twice }, { report }) => report('', { code: 'twice-seen', message: `Twice ${twice}` }),
            ({ near }, { report }) => {
              if (near !== null) report('near', { code: 'near-seen', message: `Near ${near}` })
            },
          ],
        },
      },
    })
    const file =
      '[{"id":"A","beds":9,"open":"x","at":{"x":1},"near":"a"},{"id":"b","beds":"x","open":true,"at":{"x":"y"}},{"id":"c","beds":7,"open":true,"at":{"x":2}}]'
    const { diagnostics } = await openFiles({ 'h.json': file }, site)
    const told = diagnostics.flatMap((one) =>
      one.code.includes('-') && /many|seen/.test(one.code) ? [messageOf(one)] : [],
    )
    expect(told).toEqual(['Many: 9', 'At 1 of 9', 'Near A', 'Twice 14', 'Many: 7', 'At 2 of 7'])
  })
})

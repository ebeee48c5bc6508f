import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { adapt, choice, group, int, list, pantry, ref, text } from 'zinc-pantry'
import { buildSite, createMemoryHost } from 'zinc-pantry/engine'
import { openCollection } from 'zinc-pantry/query'
import { openFiles, runs } from './helpers.ts'

/** What is said of a configuration, or of content by it. */
async function saidOf(configuration: unknown, files: Readonly<Record<string, string>> = {}) {
  const { diagnostics } = await openFiles({ 'h.json': '{}', ...files }, configuration)
  return diagnostics.map(({ code, parameters, file, span }) => ({ code, parameters, file, span }))
}

describe('Hints', () => {
  const hints = {
    width: choice(['half', 'full'], { default: 'full' }),
    placeholder: text({ optional: true }),
    rows: int({ optional: true }),
  }
  const name = text({ hints: { placeholder: 'Gable' } })

  test('are declared once, with defaults, added to by each use, and read by pages', async () => {
    const site = pantry({
      hints,
      collections: {
        huts: {
          files: 'h.json',
          section: 'Places',
          description: 'A roof for the night',
          fields: {
            name: adapt(name, { section: 'Main', hints: { width: 'half' } }),
            at: group({ x: int({ hints: { rows: 2 } }) }, { optional: true }),
            plain: int({ optional: true }),
          },
        },
      },
    })
    const opened = await openFiles({ 'h.json': '[]' }, site)
    expect(opened.diagnostics).toEqual([])
    const huts = openCollection<unknown, unknown, string>(opened.site, 'huts')
    expect(await huts.loadNotes()).toEqual({
      '': { section: 'Places', description: 'A roof for the night' },
      name: { section: 'Main', hints: { width: 'half', placeholder: 'Gable', rows: null } },
      at: { hints: { width: 'full', placeholder: null, rows: null } },
      'at.x': { hints: { width: 'full', placeholder: null, rows: 2 } },
      plain: { hints: { width: 'full', placeholder: null, rows: null } },
    })
    const host = createMemoryHost({ 'content/h.json': '[]' }, site)
    await buildSite({ host, configurationFile: 'pantry.config.ts' })
    const types = String(host.files.get('generated/pantry/index.d.ts'))
    expect(types).toContain('readonly width: "half" | "full"')
    expect(types).toContain('$.WithHints<PantryHints> & $.Collection<')
  })
  test.each([
    [hints, { width: 'wide' }, 'collections.huts.fields.name.hints'],
    [hints, { widht: 'half' }, 'collections.huts.fields.name.hints'],
    [{ near: ref('huts', { optional: true }) }, {}, 'hints.near'],
    [{ rows: int() }, {}, 'hints.rows'],
  ])('that do not fit are refused: %#', async (declared, own, setting) => {
    const site = pantry({
      hints: declared,
      collections: { huts: { files: 'h.json', fields: { name: text({ hints: own }) } } },
    })
    const said = await saidOf(site)
    expect(said.map(({ parameters }) => parameters.setting)).toContain(setting)
  })
})

describe('A field of another kind in the place of a shared one is told', () => {
  const item = { title: text(), summary: text({ optional: true }) }
  const told = async (huts: object, notes: object) => {
    const site = pantry({
      collections: { huts: { files: 'h.json', fields: huts }, notes: { files: 'n.json', fields: notes } },
    } as never)
    return (await saidOf(site, { 'n.json': '[]' })).flatMap(({ code, parameters }) =>
      code === 'config-field-loosened' ? [parameters.setting] : [],
    )
  }
  test('where a set is spread', async () => {
    expect(await told({ ...item }, { ...item, title: int() })).toEqual(['collections.notes.fields.title'])
    expect(await told({ ...item, more: int() }, { inner: group({ ...item, summary: int() }) })).toEqual([
      'collections.notes.fields.inner.summary',
    ])
  })
  test('and nowhere else', async () => {
    expect(await told({ ...item }, { ...item, other: int() })).toEqual([])
    expect(await told({ ...item }, { title: int(), note: text() })).toEqual([])
    expect(await told({ ...item }, { ...item, title: text({ maxLength: 5 }) })).toEqual([])
  })
})

test('labels that differ in nothing but their writing are listed together, by a plain model', async () => {
  const word = fc.constantFrom('Rope', 'rope', 'ropes', 'Réglage', 'reglage', 'ice axe', 'ice-axe', 'axe', 'bus', 'map')
  const FORMS: Readonly<Record<string, string>> = {
    ropes: 'rope',
    Rope: 'rope',
    Réglage: 'reglage',
    'ice-axe': 'ice axe',
  }
  const site = pantry({
    collections: {
      huts: {
        files: 'h.json',
        fields: {
          tags: list(text()),
          kind: text({ optional: true }),
          code: text({ unique: true, optional: true }),
          grade: choice(['Rope', 'rope']),
        },
      },
    },
  })
  await fc.assert(
    fc.asyncProperty(
      fc.array(fc.record({ tags: fc.array(word), kind: fc.option(word), grade: fc.constantFrom('Rope', 'rope') }), {
        maxLength: 6,
      }),
      async (huts) => {
        const all = huts.map((one, at) => ({ id: `h${at}`, ...one }))
        const said = await saidOf(site, { 'h.json': JSON.stringify(all) })
        const told = said.map(({ parameters }) =>
          (parameters.labels as { text: string; count: number }[])
            .map(({ text: label, count }) => `${label} ${count}`)
            .sort(),
        )
        const expected = [
          { labels: huts.flatMap(({ tags }) => tags), isList: true },
          { labels: huts.flatMap(({ kind }) => kind ?? []), isList: false },
        ].flatMap(({ labels, isList }) => {
          const forms = new Set(labels.map((one) => FORMS[one] ?? one))
          return [...forms].flatMap((form) => {
            const own = labels.filter((one) => (FORMS[one] ?? one) === form)
            const ways = [...new Set(own)].map((one) => `${one} ${own.filter((other) => other === one).length}`).sort()
            const isUsedAgain = ways.some((one) => !one.endsWith(' 1'))
            return ways.length > 1 && (isList || isUsedAgain) ? [ways] : []
          })
        })
        expect(told.map(String).sort()).toEqual(expected.map(String).sort())
      },
    ),
    { numRuns: runs(40, 1000) },
  )
})

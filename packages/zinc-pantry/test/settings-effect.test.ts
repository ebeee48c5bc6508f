import { describe, expect, test } from 'vitest'
import {
  anything,
  choice,
  colour,
  date,
  duration,
  email,
  type FieldLike,
  flag,
  group,
  instant,
  int,
  list,
  map,
  markdown,
  pantry,
  ref,
  reverse,
  text,
  time,
  url,
  variant,
} from 'zinc-pantry'
import { runQuery } from 'zinc-pantry/query'
import { openFiles } from './helpers.ts'

/** Fields of every form, with a low and a high value as they are written. */
const FORMS: Readonly<Record<string, readonly [field: FieldLike, low: unknown, high: unknown]>> = {
  text: [text(), 'alder', 'birch'],
  'text of a choice': [choice(['alder', 'birch']), 'alder', 'birch'],
  markdown: [markdown(), 'alder', 'birch'],
  int: [int(), 9, 10],
  flag: [flag(), false, true],
  date: [date(), '2026-01-09', '2026-01-10'],
  time: [time(), '09:00', '10:00'],
  instant: [instant(), '2026-01-09T00:00:00Z', '2026-01-10T00:00:00Z'],
  duration: [duration(), 'PT9H', 'PT10H'],
  url: [url(), 'https://alder.example/', 'https://birch.example/'],
  email: [email(), 'alder@fells.example', 'birch@fells.example'],
  colour: [colour(), '#000009', '#000010'],
  ref: [ref('others'), 'alder', 'birch'],
  'ref to several': [ref(['others', 'more']), 'others/alder', 'others/birch'],
  list: [list(text()), ['alder'], ['birch']],
  group: [group({ inner: text() }), { inner: 'alder' }, { inner: 'birch' }],
  map: [map(text()), { k: 'alder' }, { k: 'birch' }],
  anything: [anything(), 'alder', 'birch'],
}

/** The slug that a title gives, in the plainest words. */
const slugOf = (title: unknown): string =>
  String(title)
    .toLowerCase()
    .replace(/[^a-z0-9./]+/g, '-')
    .replace(/^-|-$/g, '')
    .replaceAll('-/', '/')

type Way = 'written' | 'derived' | 'in a variant'
const WAYS: readonly Way[] = ['written', 'derived', 'in a variant']

/** Opens two entries, the high one first, with the field `it` in the given form, and some settings of their collection. */
async function open(form: string, way: Way, settings: object, values?: readonly [unknown, unknown]) {
  const [field, low, high] = FORMS[form] as (typeof FORMS)[string]
  const [first, second] = values ?? [high, low]
  const fields: Record<Way, object> = {
    written: { fields: { it: field } },
    derived: { fields: { raw: anything() }, derive: { it: { field, from: (entry: { raw: unknown }) => entry.raw } } },
    'in a variant': { fields: { kind: variant({ one: { it: field }, two: {} }) } },
  }
  const entry = (value: unknown) =>
    JSON.stringify(way === 'derived' ? { raw: value } : { it: value, ...(way === 'written' ? {} : { kind: 'one' }) })
  const { reads = false, ...own } = settings as { reads?: boolean }
  const configuration = pantry({
    collections: {
      many: { files: 'many/*.json', ...fields[way], ...own },
      others: { files: 'others/*.json', fields: reads ? { back: reverse('many', 'it', { optional: true }) } : {} },
      more: { files: 'more/*.json', fields: {} },
    },
  } as never)
  const opened = await openFiles(
    {
      'many/a.json': entry(first),
      'many/b.json': entry(second),
      'others/alder.json': '{}',
      'others/birch.json': '{}',
      'more/oak.json': '{}',
    },
    configuration,
  )
  const codes = opened.diagnostics.map(({ code }) => code)
  return { ...opened, codes, isRefused: codes.some((code) => code.startsWith('config-')) }
}

const idsOf = async ({ site }: { readonly site: Parameters<typeof runQuery>[0] }, request: object = {}) =>
  (await runQuery(site, { collection: 'many', ...request })).entries.map(({ id }) => id)

describe.each(WAYS)('A setting that names a field works, or is refused: a field that is %s', (way) => {
  test.each(Object.keys(FORMS))('%s', async (form) => {
    const [, low, high] = FORMS[form] as (typeof FORMS)[string]
    const plain = await open(form, way, {})
    expect(plain.codes).toEqual([])

    const unique = await open(form, way, { unique: [['it']] }, [low, low])
    if (!unique.isRefused) expect(unique.codes).toEqual(['value-duplicate'])

    const ordered = await open(form, way, { order: 'it' })
    if (!ordered.isRefused) expect(await idsOf(ordered)).toEqual(['b', 'a'])

    const searched = await open(form, way, { search: { it: 1 } })
    const isWord = JSON.stringify(high).includes('birch')
    if (!searched.isRefused && isWord) expect(await idsOf(searched, { search: 'birch' })).toEqual(['a'])

    const addressed = await open(form, way, { address: 'it' })
    if (!addressed.isRefused) expect(typeof high).toBe('string')

    const hidden = await open(form, way, { publication: { draft: 'it' } })
    if (!hidden.isRefused) expect(await idsOf(hidden)).toEqual(['b'])

    const later = await open(form, way, { publication: { from: 'it' } }, [
      '2999-01-01T00:00:00Z'.slice(0, String(low).length),
      low,
    ])
    if (!later.isRefused) expect(await idsOf(later)).toEqual(['b'])

    const backwards = await open(form, way, { reads: true })
    if (!backwards.isRefused) {
      const { entries } = await runQuery(backwards.site, { collection: 'others' })
      expect(entries.map((entry) => (entry as unknown as { back: unknown }).back)).toEqual([['b'], ['a']])
    }

    const slug = await open(form, way, { slug: 'it' })
    if (!slug.isRefused && slug.codes.length === 0) {
      const { entries } = await runQuery(slug.site, { collection: 'many' })
      expect(entries.map((one) => one.slug)).toEqual([high, low].map(slugOf))
    }

    const made = await open(form, way, { createFrom: 'it' })
    if (!made.isRefused) expect(form).toBe('text')
  })
})

test('unique, private and the like inside of other fields are refused', async () => {
  const inside = [
    group({ inner: text({ unique: true }) }),
    list(text({ unique: true })),
    map(group({ inner: int({ unique: true }) })),
  ]
  for (const field of inside) {
    const { codes } = await openOne(field)
    expect(codes).toEqual(['config-setting-invalid'])
  }
})

async function openOne(field: FieldLike) {
  const configuration = pantry({ collections: { many: { files: 'many/*.json', fields: { it: field } } } } as never)
  const { diagnostics } = await openFiles({ 'many/a.json': '{}' }, configuration)
  return { codes: diagnostics.map(({ code }) => code) }
}

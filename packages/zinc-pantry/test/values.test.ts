import fc from 'fast-check'
import { describe, expect, expectTypeOf, test } from 'vitest'
import {
  choice,
  date,
  type EntryOf,
  either,
  flag,
  group,
  int,
  list,
  markdown,
  pantry,
  ref,
  text,
  url,
} from 'zinc-pantry'
import { readCondition, runQuery } from 'zinc-pantry/query'
import { openFiles, runs, textOf } from './helpers.ts'

/** Opens files and gives what was found, and what a question in text form finds. */
async function open(files: Readonly<Record<string, string>>, configuration: unknown) {
  const opened = await openFiles(files, configuration)
  const idsOf = async (collection: string, condition: string) => {
    const read = readCondition(condition, collection, opened.site.shapes)
    if ('problem' in read) throw new Error(read.problem.message)
    return (await runQuery(opened.site, { collection, condition: read.condition })).entries.map(({ id }) => id)
  }
  const entriesOf = async (collection: string) =>
    (await runQuery(opened.site, { collection })).entries as unknown as readonly Record<string, unknown>[]
  const told = opened.diagnostics.map(({ code, span, file }) => [
    code,
    files[file.slice('content/'.length)]?.slice(...span),
  ])
  return { ...opened, idsOf, entriesOf, told, codes: opened.diagnostics.map(({ code }) => code) }
}

describe('Either of several fields', () => {
  const person = group({ name: text(), page: url({ optional: true }) }, { label: 'a person' })
  const company = group({ name: text(), company: text(), place: text() }, { label: 'a company' })
  const site = pantry({
    collections: {
      huts: {
        files: 'huts.yaml',
        fields: {
          credit: either([text({ maxLength: 5 }), person, company]),
          count: either([int(), choice(['many'])], { default: 'many' }),
          when: either([date(), choice(['soon'])], { optional: true }),
          near: either([ref('huts'), list(ref('huts'))], { optional: true }),
          note: either([markdown(), group({ by: text(), secret: text({ optional: true, private: true }) })], {
            optional: true,
          }),
        },
      },
    },
  })

  test('the first that takes a value has it, in values and in types', async () => {
    const file =
      'a: { credit: Ann, count: 3, near: b }\nb: { credit: { name: Bo }, when: soon, near: [a, b] }\nc: { credit: { name: Co, company: Co, place: X }, when: 2026-05-01, note: { by: me, secret: hush } }\nd: { credit: Do, note: "*so*" }\n'
    const { codes, entriesOf, idsOf } = await open({ 'huts.yaml': file }, site)
    expect(codes).toEqual([])
    const entries = await entriesOf('huts')
    expect(entries.map(({ credit }) => credit)).toEqual([
      'Ann',
      { name: 'Bo', page: null },
      { name: 'Co', company: 'Co', place: 'X' },
      'Do',
    ])
    expect(entries.map(({ note }) => note)).toEqual([
      null,
      null,
      { by: 'me' },
      { text: '*so*', html: '<p><em>so</em></p>\n' },
    ])
    expect(await idsOf('huts', 'count = many')).toEqual(['b', 'c', 'd'])
    expect(await idsOf('huts', 'count >= 2')).toEqual(['a'])
    expect(await idsOf('huts', 'when >= "2026"')).toEqual(['b', 'c'])
    expect(await idsOf('huts', 'credit = Ann')).toEqual(['a'])
    type Hut = EntryOf<typeof site, 'huts'>
    expectTypeOf<Hut['count']>().toEqualTypeOf<number | 'many'>()
    expectTypeOf<Hut['near']>().toEqualTypeOf<string | readonly string[] | null>()
    expectTypeOf<Exclude<Hut['credit'], string>['name']>().toEqualTypeOf<string>()
  })
  test('what fits none is told of the nearest, at its place; of the only one of its type like any other', async () => {
    const file =
      'a: { credit: { nmae: Bo }, count: 3 }\nb: { credit: { name: 1, company: Co, place: 2 }, count: x }\nc: { credit: Anneliese, count: 1.5 }\nd: { credit: [1], near: [nobody, a] }\n'
    const { told, report } = await open({ 'huts.yaml': file }, site).then((all) => ({ ...all, report: textOf(all) }))
    expect(told).toEqual([
      ['either-unmatched', 'nmae'],
      ['either-unmatched', '1'],
      ['choice-unknown', 'x'],
      ['text-too-long', 'Anneliese'],
      ['value-type', '1.5'],
      ['value-type', '[1]'],
      ['ref-dangling', 'nobody'],
    ])
    expect(report).toContain('nearest is a person (number 2): ')
  })
  test('alternatives that could not be told apart are refused', async () => {
    for (const field of [
      either([text()]),
      either([markdown(), text()]),
      either([text({ optional: true }), int()]),
      either([text({ private: true }), int()]),
    ]) {
      const { codes } = await open(
        { 'h.json': '{}' },
        pantry({ collections: { huts: { files: 'h.json', fields: { field } } } } as never),
      )
      expect(codes).toContain('config-setting-invalid')
    }
  })
})

test('A group takes a default, and an empty one gives its fields theirs', async () => {
  const site = pantry({
    collections: {
      huts: {
        files: '*.json',
        fields: {
          size: group({ beds: int({ default: 2 }), open: flag({ optional: true }) }, { default: {} }),
          at: group({ x: int() }, { default: { x: 5 } }),
        },
      },
    },
  })
  const { entriesOf, codes } = await open({ 'a.json': '{}', 'b.json': '{"size":{"beds":3},"at":{"x":1}}' }, site)
  expect(codes).toEqual([])
  expect((await entriesOf('huts')).map(({ size, at }) => [size, at])).toEqual([
    [{ beds: 2, open: null }, { x: 5 }],
    [{ beds: 3, open: null }, { x: 1 }],
  ])
  const wrong = pantry({
    collections: { huts: { files: '*.json', fields: { at: group({ x: int() }, { default: { y: 1 } }) } } },
  })
  expect((await open({ 'a.json': '{}' }, wrong)).codes).toEqual(['config-default-invalid'])
})

describe('References', () => {
  test('compare with a derived field, which sees its own entry', async () => {
    const site = pantry({
      collections: {
        huts: {
          files: 'huts.json',
          fields: { name: text(), beds: int() },
          derive: { key: { field: text(), from: (hut) => `${hut.name}-${hut.beds}` } },
        },
        notes: { files: 'notes.json', fields: { hut: ref('huts', { by: 'key' }) } },
      },
    })
    const notes = '[{"id":"1","hut":"Gable-4"},{"id":"2","hut":"Gable-5"}]'
    const { told, entriesOf } = await open(
      { 'huts.json': '[{"id":"a","name":"Gable","beds":4}]', 'notes.json': notes },
      site,
    )
    expect(told).toEqual([['ref-dangling', '"Gable-5"']])
    expect((await entriesOf('notes'))[0]).toMatchObject({ hut: 'a' })
  })
  test('say themselves whether they create what is missing', async () => {
    const site = pantry({
      collections: {
        tags: { files: 'tags.json', createFrom: 'name', fields: { name: text() } },
        notes: {
          files: 'n.json',
          fields: { tags: list(ref('tags')), main: ref('tags', { create: false, optional: true }) },
        },
      },
    })
    const notes = '[{"id":"1","tags":["wind"],"main":"wnid"},{"id":"2","tags":[],"main":"known"}]'
    const { told, entriesOf } = await open({ 'tags.json': '[{"id":"known","name":"Known"}]', 'n.json': notes }, site)
    expect(told).toEqual([['ref-dangling', '"wnid"']])
    expect((await entriesOf('tags')).map(({ id }) => id)).toEqual(['known', 'wind'])
  })
  test('that a derived list gives are told at the values that they come from', async () => {
    const site = pantry({
      collections: {
        huts: { files: 'huts.json', fields: {} },
        notes: {
          files: 'n.yaml',
          fields: { words: list(text()), line: text({ optional: true }) },
          derive: {
            huts: { field: list(ref('huts')), from: ({ words, line }) => [...words, ...(line?.split(' ') ?? [])] },
          },
        },
      },
    })
    const file = 'a: { words: [gable, gabel], line: peak pekk }\nb: { words: [none] }\n'
    const { told } = await open({ 'huts.json': '[{"id":"gable"},{"id":"peak"}]', 'n.yaml': file }, site)
    expect(told).toEqual([
      ['ref-dangling', 'gabel'],
      ['ref-dangling', 'peak pekk'],
      ['ref-dangling', 'none'],
    ])
  })
  test('to several collections are followed where all have the field, by a plain filter', async () => {
    const site = pantry({
      collections: {
        huts: { files: 'huts.json', fields: { name: text(), beds: int() } },
        peaks: { files: 'peaks.json', fields: { name: text(), height: int() } },
        notes: {
          files: 'n.json',
          fields: { about: ref(['huts', 'peaks'], { optional: true }), all: list(ref(['huts', 'peaks'])) },
        },
      },
    })
    const names = ['alder', 'birch']
    const places = [...names.map((id) => `huts/${id}`), ...names.map((id) => `peaks/${id}`)]
    const nameOf = (place: string): string => (place.startsWith('huts') ? 'Hut ' : 'Peak ') + place.split('/')[1]
    await fc.assert(
      fc.asyncProperty(
        fc.array(
          fc.record({ about: fc.option(fc.constantFrom(...places)), all: fc.array(fc.constantFrom(...places)) }),
          { minLength: 1, maxLength: 6 },
        ),
        async (notes) => {
          const named = notes.map((one, at) => ({ id: `n${at}`, ...one }))
          const {
            codes,
            idsOf,
            site: content,
          } = await open(
            {
              'huts.json': JSON.stringify(names.map((id) => ({ id, name: `Hut ${id}`, beds: 1 }))),
              'peaks.json': JSON.stringify(names.map((id) => ({ id, name: `Peak ${id}`, height: 1 }))),
              'n.json': JSON.stringify(named),
            },
            site,
          )
          expect(codes).toEqual([])
          const matching = (holds: (note: (typeof named)[number]) => boolean) => named.filter(holds).map(({ id }) => id)
          expect(await idsOf('notes', 'about.name = "Hut alder"')).toEqual(
            matching(({ about }) => about === 'huts/alder'),
          )
          expect(await idsOf('notes', 'about.name startsWith Peak')).toEqual(
            matching(({ about }) => about?.startsWith('peaks') === true),
          )
          expect(await idsOf('notes', 'about.name != "Hut alder"')).toEqual(
            matching(({ about }) => about !== 'huts/alder'),
          )
          expect(await idsOf('notes', 'all some (name = "Peak birch")')).toEqual(
            matching(({ all }) => all.includes('peaks/birch')),
          )
          expect(await idsOf('notes', 'all.name includes alder')).toEqual(
            matching(({ all }) => all.some((one) => one.endsWith('alder'))),
          )
          const sorted = await runQuery(content, {
            collection: 'notes',
            sort: [{ path: ['about', 'name'], direction: 'ascending' }],
          })
          const expected = [...named].sort((a, b) => {
            const [one, other] = [a, b].map(({ about }) => (about === null ? '~' : nameOf(about))) as [string, string]
            return one < other ? -1 : +(one > other)
          })
          expect(sorted.entries.map(({ id }) => id)).toEqual(expected.map(({ id }) => id))
          expect(readCondition('about.beds = 1', 'notes', content.shapes)).toHaveProperty('problem')
        },
      ),
      { numRuns: runs(15, 200) },
    )
  })
})

test('A date is one where the calendar has that day', async () => {
  const pad = (number: number, length: number): string => String(number).padStart(length, '0')
  const years = fc.oneof(fc.integer({ min: 1895, max: 2105 }), fc.integer({ min: 0, max: 9999 }))
  const day = fc.tuple(years, fc.integer({ min: 0, max: 13 }), fc.integer({ min: 0, max: 32 }))
  const lastDays = fc.tuple(years, fc.integer({ min: 1, max: 12 }), fc.integer({ min: 28, max: 31 }))
  const isDay = (text: string): boolean => {
    const midnight = new Date(`${text}T00:00Z`)
    return !Number.isNaN(midnight.getTime()) && midnight.toISOString().startsWith(text)
  }
  await fc.assert(
    fc.asyncProperty(fc.array(fc.oneof(day, lastDays), { minLength: 20, maxLength: 200 }), async (days) => {
      const texts = days.map(([year, month, of]) => `${pad(year, 4)}-${pad(month, 2)}-${pad(of, 2)}`)
      const rows = JSON.stringify(texts.map((on, at) => ({ id: `d${at}`, on })))
      const configuration = pantry({ collections: { days: { files: 'days.json', fields: { on: date() } } } })
      const { told } = await open({ 'content/days.json': rows, 'days.json': rows }, configuration)
      const refused = texts.filter((text) => !isDay(text)).map((text) => `"${text}"`)
      expect(told.map(([, seen]) => seen)).toEqual(refused)
    }),
    { numRuns: runs(20, 500) },
  )
})

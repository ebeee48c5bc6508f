import fc from 'fast-check'
import { expect, expectTypeOf, test } from 'vitest'
import { int, list, pantry, ref, text } from 'zinc-pantry'
import {
  type Collection,
  type ListHandle,
  type NumberHandle,
  type Optional,
  openCollection,
  type RefHandle,
  type TextHandle,
} from 'zinc-pantry/query'
import { openFiles } from './helpers.ts'

const LOCALES = ['en', 'no', 'se'] as const
const IDS = ['bield', 'fell', 'ford', 'hut', 'tarn'] as const

const site = pantry({
  locales: [...LOCALES],
  collections: {
    words: {
      files: 'words/*.yaml',
      locales: 'suffix',
      search: { word: 1 },
      fields: {
        word: text(),
        size: int(),
        near: ref('words', { optional: true }),
        kin: list(ref('words')),
      },
    },
  },
})

interface Version {
  readonly word: string
  readonly size: number
  readonly near: string | null
  readonly kin: readonly string[]
}
interface Word extends Version {
  readonly id: string
  readonly locale: string
}
interface WordFields {
  readonly id: TextHandle
  readonly word: TextHandle
  readonly size: NumberHandle
  readonly near: Optional<RefHandle<string> & WordFields>
  readonly kin: ListHandle<RefHandle<string> & WordFields>
}

/** All ids have a version in the first language, so that all references lead somewhere in every language. */
const version: fc.Arbitrary<Version> = fc.record({
  word: fc.constantFrom('fjord', 'hytte', 'moor', 'Tjern', 'øy'),
  size: fc.integer({ min: 0, max: 4 }),
  near: fc.option(fc.constantFrom(...IDS)),
  kin: fc.uniqueArray(fc.constantFrom(...IDS), { maxLength: 3 }),
})
const versions = fc.tuple(...IDS.map(() => fc.record({ en: version, no: fc.option(version), se: fc.option(version) })))

async function open(data: readonly (readonly [id: string, versions: Readonly<Record<string, Version | null>>])[]) {
  const files = data.flatMap(([id, own]) =>
    Object.entries(own).flatMap(([locale, one]) => (one ? [[`words/${id}.${locale}.yaml`, JSON.stringify(one)]] : [])),
  )
  const opened = await openFiles(Object.fromEntries(files), site)
  expect(opened.diagnostics.filter(({ code }) => code !== 'locale-missing')).toEqual([])
  return openCollection<Word, WordFields, string>(opened.site, 'words')
}

/** The slow and obvious model: the entries of one language, as an array. */
function viewOf(data: Parameters<typeof open>[0], locale: string) {
  const entries = data.map(([id, own]): Word => {
    const found = own[locale] ? locale : 'en'
    return { id, locale: found, ...(own[found] as Version) }
  })
  const byId = (id: string | null): Word | undefined => entries.find((one) => one.id === id)
  return { entries, byId }
}

const plain = ({ id, locale, word, size, near, kin }: Word): Word => ({ id, locale, word, size, near, kin })
const idsOf = (entries: readonly { readonly id: string }[]): string[] => entries.map(({ id }) => id).sort()

test('Every language is a collection of its own, those that lack it standing in the first', async () => {
  await fc.assert(
    fc.asyncProperty(versions, fc.integer({ min: 0, max: 4 }), async (drawn, size) => {
      const data = IDS.map((id, at) => [id, drawn[at] as (typeof drawn)[number]] as const)
      const words = await open(data)
      for (const locale of LOCALES) {
        const own = words.inLocale(locale)
        const { entries, byId } = viewOf(data, locale)
        await agree(own, { entries, byId, size })
      }
      // Without a language it is the first.
      expect((await words.toArray()).map(plain)).toEqual(viewOf(data, 'en').entries)
    }),
    { numRuns: 60 },
  )
})

async function agree(
  own: Collection<Word, WordFields, string>,
  { entries, byId, size }: ReturnType<typeof viewOf> & { readonly size: number },
): Promise<void> {
  expect((await own.toArray()).map(plain)).toEqual(entries)
  for (const entry of entries) expect(plain((await own.byId(entry.id)) as Word)).toEqual(entry)
  // Asked twice: what is there at once must not see the versions of other languages.
  for (let round = 0; round < 2; round++) {
    expect(idsOf(await own.where((word) => word.size.is(size)).toArray())).toEqual(
      idsOf(entries.filter((entry) => entry.size === size)),
    )
    expect(idsOf(await own.where((word) => word.size.atLeast(size)).toArray())).toEqual(
      idsOf(entries.filter((entry) => entry.size >= size)),
    )
  }
  // References lead to the version of the same language.
  expect(idsOf(await own.where((word) => word.near.size.below(size)).toArray())).toEqual(
    idsOf(entries.filter(({ near }) => (byId(near)?.size ?? size) < size)),
  )
  expect(idsOf(await own.where((word) => word.kin.every((one) => one.word.is('fjord'))).toArray())).toEqual(
    idsOf(entries.filter(({ kin }) => kin.every((id) => byId(id)?.word === 'fjord'))),
  )
  const picked = await own
    .pick((word) => ({ id: word.id, near: word.near.word, kin: word.kin.each((one) => one.size) }))
    .toArray()
  expectTypeOf(picked).toEqualTypeOf<
    readonly { readonly id: string; readonly near: string | null; readonly kin: readonly number[] }[]
  >()
  expect(picked).toEqual(
    entries.map(({ id, near, kin }) => ({
      id,
      near: byId(near)?.word ?? null,
      kin: kin.map((one) => byId(one)?.size),
    })),
  )
  const facets = await own.facets((word) => ({ words: word.word, near: word.near.word }))
  expect(countsOf(facets.words)).toEqual(tally(entries.map(({ word }) => word)))
  expect(countsOf(facets.near)).toEqual(tally(entries.flatMap(({ near }) => byId(near)?.word ?? [])))
  expect(await own.count()).toBe(entries.length)
  expect(await own.range((word) => word.size)).toEqual({
    minimum: Math.min(...entries.map((entry) => entry.size)),
    maximum: Math.max(...entries.map((entry) => entry.size)),
  })
  const sorted = [...entries].sort((a, b) => b.size - a.size || entries.indexOf(a) - entries.indexOf(b))
  expect((await own.sort((word) => word.size.descending()).toArray()).map(plain)).toEqual(sorted)
  expect(idsOf(await own.search('tjern').toArray())).toEqual(idsOf(entries.filter(({ word }) => word === 'Tjern')))
  const { previous, next } = await own.neighbours('ford')
  expect([previous?.id, next?.id]).toEqual(['fell', 'hut'])
  expect([previous?.locale, next?.locale]).toEqual([byId('fell')?.locale, byId('hut')?.locale])
}

const countsOf = (counts: readonly { readonly value: string; readonly count: number }[]): Map<string, number> =>
  new Map(counts.map(({ value, count }) => [value, count]))

function tally(values: readonly string[]): Map<string, number> {
  const counts = new Map<string, number>()
  for (const value of values) counts.set(value, (counts.get(value) ?? 0) + 1)
  return counts
}

test('What is unique is so within a language', async () => {
  const names = { files: '*.yaml', locales: 'suffix', fields: { name: text({ unique: true }) } } as const
  const codesOf = async (files: Readonly<Record<string, string>>) => {
    const configuration = pantry({ locales: ['en', 'no'], collections: { names } })
    return (await openFiles(files, configuration)).diagnostics.map(({ code, file }) => `${code} ${file}`)
  }
  const same = { 'a.yaml': 'name: A\n', 'a.no.yaml': 'name: A\n', 'b.yaml': 'name: B\n' }
  expect(await codesOf({ ...same, 'b.no.yaml': 'name: B\n' })).toEqual([])
  expect(await codesOf({ ...same, 'b.no.yaml': 'name: A\n' })).toEqual(['value-duplicate content/b.no.yaml'])
})

test('What is searched behind a reference is found in the language, or in the first where it lacks it', async () => {
  const configuration = pantry({
    locales: ['en', 'no'],
    severities: { 'locale-missing': 'off' },
    collections: {
      huts: { files: 'huts/*.yaml', locales: 'suffix', fields: { name: text() } },
      trails: {
        files: 'trails/*.yaml',
        locales: 'suffix',
        search: { 'hut.name': 1 },
        fields: { hut: ref('huts') },
      },
    },
  })
  const files = {
    'huts/gable.yaml': 'name: Gable House\n',
    'huts/ridge.yaml': 'name: Ridge House\n',
    'huts/ridge.no.yaml': 'name: Eggstova\n',
    'trails/a.yaml': 'hut: gable\n',
    'trails/a.no.yaml': 'hut: gable\n',
    'trails/b.yaml': 'hut: ridge\n',
    'trails/b.no.yaml': 'hut: ridge\n',
  }
  const { site: opened, diagnostics } = await openFiles(files, configuration)
  expect(diagnostics).toEqual([])
  const trails = openCollection<{ id: string }, never, string>(opened, 'trails')
  const found = async (words: string, locale: string) =>
    (await trails.inLocale(locale).search(words).toArray()).map(({ id }) => id)
  expect(await found('house', 'en')).toEqual(['a', 'b'])
  expect(await found('house', 'no')).toEqual(['a'])
  expect(await found('eggstova', 'no')).toEqual(['b'])
})

import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { choice, group, int, list, map, pantry, ref, reverse, text } from 'zinc-pantry'
import {
  type Collection,
  type Condition,
  type ListHandle,
  type MapHandle,
  type NumberHandle,
  openCollection,
  readCondition,
  runQuery,
  type TextHandle,
  writeCondition,
} from 'zinc-pantry/query'
import { openFiles, runs } from './helpers.ts'

const site = (indexes: readonly string[] = []) =>
  pantry({
    collections: {
      huts: {
        files: 'huts.json',
        indexes,
        search: { 'labels.no': 1, 'labels.keys()': 2 },
        fields: {
          labels: map(text(), { propertyNames: choice(['en', 'no', 'se']), default: {} }),
          sizes: map(int(), { optional: true }),
          near: map(group({ hours: int() }), { propertyNames: ref('huts'), default: {} }),
          tags: list(text(), { default: [] }),
          nearBack: reverse('huts', 'near.keys()'),
        },
      },
    },
  })

interface Hut {
  readonly id: string
  readonly labels: Readonly<Partial<Record<'en' | 'no' | 'se', string>>>
  readonly sizes: Readonly<Record<string, number>> | null
  readonly near: Readonly<Record<string, { readonly hours: number }>>
  readonly tags: readonly string[]
}
interface HutFields {
  readonly labels: MapHandle<
    TextHandle,
    'en' | 'no' | 'se',
    ListHandle<TextHandle> & { includes(value: string): Condition },
    unknown
  >
  readonly sizes: MapHandle<NumberHandle, string, ListHandle<TextHandle>, unknown>
  readonly near: MapHandle<
    { readonly hours: NumberHandle },
    string,
    ListHandle<TextHandle & { readonly tags: ListHandle<TextHandle> }>,
    unknown
  >
  readonly tags: ListHandle<TextHandle>
}

const ids = ['a', 'b', 'c', 'd', 'e', 'f']
const word = fc.constantFrom('alder', 'birch', 'cedar')
const hut = fc.record({
  labels: fc.dictionary(fc.constantFrom('en', 'no', 'se'), word),
  sizes: fc.option(
    fc.dictionary(fc.constantFrom('__proto__', 'EUR', 'count()', 'x y', '1'), fc.integer({ min: 0, max: 3 })),
  ),
  near: fc.dictionary(fc.constantFrom(...ids), fc.record({ hours: fc.integer({ min: 0, max: 3 }) })),
  tags: fc.array(word, { maxLength: 3 }),
})

/** Conditions in both forms, and as plain functions. */
const QUESTIONS: readonly (readonly [text: string, (fields: HutFields) => Condition, (hut: Hut) => boolean])[] = [
  ['labels.no = alder', (one) => one.labels.at('no').is('alder'), ({ labels }) => labels.no === 'alder'],
  ['labels.no present', (one) => one.labels.at('no').isPresent(), ({ labels }) => labels.no !== undefined],
  ['labels.no absent', (one) => one.labels.at('no').isAbsent(), ({ labels }) => labels.no === undefined],
  ['labels.se >= birch', (one) => one.labels.at('se').atLeast('birch'), ({ labels }) => (labels.se ?? '') >= 'birch'],
  ['labels.no != alder', (one) => one.labels.at('no').isNot('alder'), ({ labels }) => labels.no !== 'alder'],
  ['labels.keys() includes en', (one) => one.labels.keys().includes('en'), ({ labels }) => labels.en !== undefined],
  ['labels.count() = 2', (one) => one.labels.count().is(2), ({ labels }) => Object.keys(labels).length === 2],
  ['sizes."x y" >= 2', (one) => one.sizes.at('x y').atLeast(2), ({ sizes }) => (sizes?.['x y'] ?? -1) >= 2],
  ['sizes.EUR < 2', (one) => one.sizes.at('EUR').below(2), ({ sizes }) => (sizes?.EUR ?? 9) < 2],
  ['near.b.hours > 1', (one) => one.near.at('b').hours.above(1), ({ near }) => (near.b?.hours ?? 0) > 1],
  ['tags.count() > 1', (one) => one.tags.count().above(1), ({ tags }) => tags.length > 1],
  ['not tags.count() = 0', (one) => one.tags.count().is(0).not(), ({ tags }) => tags.length > 0],
  ['tags absent', (one) => one.tags.isAbsent(), ({ tags }) => tags.length === 0],
  [
    'near.keys() some (tags.count() = 2)',
    (one) => one.near.keys().some((other) => other.tags.count().is(2)),
    () => false, // filled in where all huts are known
  ],
]

async function open(huts: readonly Omit<Hut, 'id'>[], indexes?: readonly string[]) {
  const named = huts.map((one, at): Hut => ({ id: ids[at] as string, ...one }))
  const known = new Set(named.map(({ id }) => id))
  // References lead to huts that are there.
  const all = named.map((one) => ({
    ...one,
    near: Object.fromEntries(Object.entries(one.near).filter(([id]) => known.has(id))),
  }))
  const opened = await openFiles({ 'huts.json': JSON.stringify(all) }, site(indexes))
  expect(opened.diagnostics).toEqual([])
  return { ...opened, all, huts: openCollection(opened.site, 'huts') as unknown as Collection<Hut, HutFields, string> }
}

describe('Maps and numbers of items, in both forms of a condition, by a plain filter', () => {
  test('conditions', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.array(hut, { minLength: 1, maxLength: ids.length }),
        fc.boolean(),
        async (some, isIndexed) => {
          const opened = await open(some, isIndexed ? ['labels.no', 'sizes.EUR', 'near.b.hours'] : [])
          const { all, huts, site: content } = opened
          for (const [written, build, holds] of QUESTIONS) {
            const filter = written.startsWith('near.keys()')
              ? ({ near }: Hut) => Object.keys(near).some((id) => all.find((one) => one.id === id)?.tags.length === 2)
              : holds
            const expected = all.filter(filter).map(({ id }) => id)
            expect([written, (await huts.where(build).toArray()).map(({ id }) => id)]).toEqual([written, expected])
            const read = readCondition(written, 'huts', content.shapes)
            if ('problem' in read) throw new Error(read.problem.message)
            const { entries } = await runQuery(content, { collection: 'huts', condition: read.condition })
            expect([written, entries.map(({ id }) => id)]).toEqual([written, expected])
            expect(readCondition(writeCondition(read.condition), 'huts', content.shapes)).toEqual(read)
          }
        },
      ),
      { numRuns: runs(15, 300) },
    )
  })
  test('orders, picks, facets and the other side', async () => {
    await fc.assert(
      fc.asyncProperty(fc.array(hut, { minLength: 1, maxLength: ids.length }), async (some) => {
        const { all, huts, site: content } = await open(some)
        const byCount = [...all].sort((a, b) => b.tags.length - a.tags.length)
        expect((await huts.sort((one) => one.tags.count().descending()).toArray()).map(({ id }) => id)).toEqual(
          byCount.map(({ id }) => id),
        )
        const picked = await huts
          .pick((one) => ({
            tags: one.tags.count(),
            no: one.labels.at('no'),
            near: one.near.keys(),
            eur: one.sizes.at('EUR'),
          }))
          .toArray()
        expect(picked).toEqual(
          all.map(({ tags, labels, near, sizes }) => ({
            tags: tags.length,
            no: labels.no ?? null,
            near: Object.keys(near),
            eur: sizes?.EUR ?? null,
          })),
        )
        const facets = await huts.facets((one) => ({ keys: one.labels.keys(), tags: one.tags.count() }))
        const count = (of: readonly (string | number)[]) =>
          new Map([...new Set(of)].map((one) => [one, of.filter((other) => other === one).length]))
        expect(new Map(facets.keys.map(({ value, count: number }) => [value, number]))).toEqual(
          count(all.flatMap(({ labels }) => Object.keys(labels))),
        )
        expect(new Map(facets.tags.map(({ value, count: number }) => [value, number]))).toEqual(
          count(all.map(({ tags }) => tags.length)),
        )
        const backwards = (await runQuery(content, { collection: 'huts' })).entries as unknown as {
          id: string
          nearBack: string[]
        }[]
        for (const { id, nearBack } of backwards)
          expect(nearBack).toEqual(all.filter(({ near }) => Object.hasOwn(near, id)).map((one) => one.id))
        const searched = await runQuery(content, { collection: 'huts', search: 'alder' })
        expect(new Set(searched.entries.map(({ id }) => id))).toEqual(
          new Set(all.filter(({ labels }) => labels.no === 'alder').map(({ id }) => id)),
        )
      }),
      { numRuns: runs(15, 200) },
    )
  })
})

test('a plan says that a key of a map was found in an index', async () => {
  const some = ids.map((_, at) => ({ labels: at === 0 ? { no: 'alder' } : {}, sizes: null, near: {}, tags: [] }))
  const { huts } = await open(some)
  const plan = await huts.where((one) => one.labels.at('no').is('alder')).plan()
  expect(plan.steps.map(({ index }) => index)).toEqual(['huts.labels.keys()'])
  expect(plan.examined).toBe(1)
})

test('wrong keys are told at the key', async () => {
  const file = '[{"id":"a","labels":{"de":"x"},"near":{"z":{"hours":1},"a":{"hours":"1"}}}]'
  const { diagnostics } = await openFiles({ 'huts.json': file }, site())
  expect(diagnostics.map(({ code, span }) => [code, file.slice(...span)])).toEqual([
    ['choice-unknown', '"de"'],
    ['ref-dangling', '"z"'],
    ['value-type', '"1"'],
  ])
})

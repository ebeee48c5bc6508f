import fc from 'fast-check'
import { beforeAll, describe, expect, test } from 'vitest'
import { group, int, list, pantry, ref, text } from 'zinc-pantry'
import { type Collection, openCollection, openSite, type SortKey } from 'zinc-pantry/query'
import { openFiles, runs } from './helpers.ts'
import { COUNT, conditions, data, GRADES, hutOf, huts, idsOf, type Note, type NoteFields } from './notes-model.ts'

const site = pantry({
  collections: {
    huts: { files: 'huts.json', fields: { name: text(), region: text({ optional: true }) } },
    notes: {
      files: 'notes.json',
      clustered: ['-stars,height', 'hut.region', 'grade,-stars,height', { order: 'title', collation: 'no' }],
      fields: {
        title: text(),
        grade: text(),
        height: int(),
        stars: int({ optional: true }),
        hut: ref('huts'),
        tags: list(text()),
        legs: list(group({ hut: ref('huts'), hours: int() })),
      },
    },
  },
})

/** The requests of a visitor since the last look. */
let requests: string[] = []

/** Opens the notes as a visitor has them who has loaded nothing yet, and counts what is loaded. */
async function openFresh(): Promise<Collection<Note, NoteFields, string>> {
  const stored = ['huts', 'notes'].map((name) => opened.site.stored(name))
  const counting = stored.map((one) => ({
    ...one,
    catalogue() {
      requests.push('catalogue')
      return one.catalogue()
    },
    chunk(kind: 'rows' | 'indexes' | 'bodies', name: string) {
      requests.push(`${kind} ${name}`)
      return one.chunk(kind, name)
    },
  }))
  requests = []
  return openCollection(openSite(counting), 'notes')
}

let opened: Awaited<ReturnType<typeof openFiles>>
beforeAll(async () => {
  opened = await openFiles({ 'huts.json': JSON.stringify(huts), 'notes.json': JSON.stringify(data) }, site)
  expect(opened.diagnostics).toEqual([])
})

/** Compares by a value, nothing last. */
const by =
  <Value extends string | number>(read: (note: Note) => Value | null, compare: (a: Value, b: Value) => number) =>
  (a: Note, b: Note): number => {
    const [left, right] = [read(a), read(b)]
    if (left === null || right === null) return left === right ? 0 : left === null ? 1 : -1
    return compare(left, right)
  }
const norwegian = new Intl.Collator('no')
interface Order {
  readonly name: string
  readonly keys: (note: NoteFields) => readonly SortKey[]
  readonly compare: (a: Note, b: Note) => number
}
const ORDERS: readonly Order[] = [
  {
    name: '-stars,height',
    keys: (note) => [note.stars.descending(), note.height.ascending()],
    compare: (a, b) =>
      by(
        ({ stars }) => stars,
        (x, y) => y - x,
      )(a, b) || a.height - b.height,
  },
  {
    name: 'hut.region',
    keys: (note) => [note.hut.region.ascending()],
    compare: by(
      (note) => hutOf(note).region,
      (x, y) => (x < y ? -1 : +(x > y)),
    ),
  },
  {
    name: 'title@no',
    keys: (note) => [note.title.ascending({ collation: 'no' })],
    compare: by(({ title }) => title, norwegian.compare),
  },
]

describe('Rows that are stored once more in an order', () => {
  test('give what a sorted array gives: pages, those behind them, neighbours, under any condition', async () => {
    const limits = fc.integer({ min: 1, max: 40 })
    const options = [fc.constantFrom(...ORDERS), fc.option(conditions), fc.nat(COUNT), limits] as const
    await fc.assert(
      fc.asyncProperty(...options, async ({ keys, compare, name }, condition, offset, limit) => {
        const plain = condition === null ? data : data.filter(condition.plain)
        const expected = idsOf(plain.toSorted(compare))
        const fresh = await openFresh()
        const query = (condition === null ? fresh : fresh.where(condition.typed)).sort((note) => [...keys(note)])
        const start = offset % (expected.length + 2)
        expect(idsOf(await query.offset(start).limit(limit).toArray())).toEqual(expected.slice(start, start + limit))
        if (condition === null) expect((await query.limit(limit).plan()).order).toBe(`notes.${name}`)
        const id = expected[start]
        if (id === undefined) return
        const { previous, next } = await query.neighbours(id)
        expect([previous?.id, next?.id]).toEqual([expected[start - 1], expected[start + 1]])
        const first = await query.page({ size: limit })
        const second = first.next === null ? undefined : await query.page({ size: limit, after: first.next })
        expect(idsOf([...first.entries, ...(second?.entries ?? [])])).toEqual(expected.slice(0, 2 * limit))
      }),
      { numRuns: runs(60, 600) },
    )
  })

  test('A page is the catalogue and two files, wherever it stands; neighbours take at most two more', async () => {
    for (const { keys } of ORDERS)
      for (const offset of [0, 25, COUNT / 2, COUNT - 20]) {
        const query = (await openFresh()).sort((note) => [...keys(note)])
        const found = await query.offset(offset).limit(20).toArray()
        expect(found.length).toBe(20)
        expect(requests.length).toBeLessThanOrEqual(3)
        requests = []
        const again = (await openFresh()).sort((note) => [...keys(note)])
        await again.neighbours(found[0]?.id as string)
        expect(requests.length).toBeLessThanOrEqual(5)
      }
    const pages = (await openFresh()).sort((note) => note.title.ascending({ collation: 'no' }))
    let after: string | undefined
    for (let number = 0; number < 4; number++) after = (await pages.page({ size: 20, after })).next ?? undefined
    expect(requests.length).toBeLessThanOrEqual(1 + 4)
  })

  test('What asks for values of its first keys lies together: a page and its counts are few requests', async () => {
    const stars = fc.option(fc.nat(5), { freq: 3 })
    const some = [fc.constantFrom(...GRADES), stars, fc.nat(COUNT), fc.integer({ min: 1, max: 30 })] as const
    await fc.assert(
      fc.asyncProperty(...some, async (grade, star, offset, limit) => {
        const both = data.filter((note) => note.grade === grade && (star === null || note.stars === star))
        const byHeight = (a: Note, b: Note): number => a.height - b.height
        const expected = idsOf(both.toSorted(star === null ? ORDERS[0]?.compare : byHeight))
        const start = offset % (expected.length + 2)
        const fresh = await openFresh()
        const narrowed = fresh.where((note) => note.grade.is(grade))
        const asked = star === null ? narrowed : narrowed.where((note) => note.stars.is(star))
        const sorted = asked.sort((note) =>
          star === null ? [note.stars.descending(), note.height.ascending()] : [note.height.ascending()],
        )
        expect(idsOf(await sorted.offset(start).limit(limit).toArray())).toEqual(expected.slice(start, start + limit))
        expect(requests.length).toBeLessThanOrEqual(4)
        expect(await asked.count()).toBe(both.length)
        const facets = await asked.facets((note) => ({ grade: note.grade, stars: note.stars, hut: note.hut }))
        const count = (value: (note: Note) => unknown, among: readonly Note[]): Map<unknown, number> => {
          const counts = new Map<unknown, number>()
          for (const note of among)
            if (value(note) !== null) counts.set(value(note), (counts.get(value(note)) ?? 0) + 1)
          return counts
        }
        const found = (all: readonly { readonly value: unknown; readonly count: number }[]) =>
          new Map(all.map((one) => [one.value, one.count]))
        expect(found(facets.hut)).toEqual(count(({ hut }) => hut, both))
        const aside = data.filter((note) => star === null || note.stars === star)
        expect(found(facets.grade)).toEqual(count((note) => note.grade, aside))
        const ofGrade = data.filter((note) => note.grade === grade)
        expect(found(facets.stars)).toEqual(count((note) => note.stars, ofGrade))
        // All counts are one request.
        expect(requests.length).toBeLessThanOrEqual(4)
      }),
      { numRuns: runs(60, 600) },
    )
  })

  test('What a reference leads to is none of the values that are counted together', async () => {
    const many = Array.from({ length: 150 }, (_, at) => ({ id: `h${at}`, name: `Hut ${at}`, region: `r${at % 3}` }))
    const few = Array.from({ length: 600 }, (_, at) => ({
      id: `n${at}`,
      grade: `g${at % 4}`,
      stars: at % 5,
      hut: `h${at % 150}`,
    }))
    const configuration = pantry({
      collections: {
        huts: { files: 'huts.json', fields: { name: text(), region: text() } },
        notes: {
          files: 'notes.json',
          indexes: 'hut.region',
          fields: { grade: text(), stars: int(), hut: ref('huts') },
        },
      },
    })
    const all = await openFiles({ 'huts.json': JSON.stringify(many), 'notes.json': JSON.stringify(few) }, configuration)
    const notes = openCollection<Note, NoteFields, string>(all.site, 'notes')
    expect(await notes.where((note) => note.hut.region.is('r1')).count()).toBe(200)
    const { grade, region } = await notes
      .where((note) => note.hut.region.is('r1').and(note.stars.is(2)))
      .facets((note) => ({ grade: note.grade, region: note.hut.region }))
    expect(grade.map(({ count }) => count)).toEqual([10, 10, 10, 10])
    expect(region.map(({ value, count }) => [value, count])).toEqual([
      ['r0', 40],
      ['r1', 40],
      ['r2', 40],
    ])
  })

  test('How many entries have each of many values takes no rows', async () => {
    const notes = await openFresh()
    const { hut } = await notes.facets((note) => ({ hut: note.hut }))
    expect(requests.length).toBeLessThanOrEqual(2)
    expect(hut.reduce((sum, { count }) => sum + count, 0)).toBe(COUNT)
  })

  test('An order must be one of single values that everybody may see', async () => {
    const fields = { title: text(), kept: text({ private: true }), tags: list(text()) }
    const collection = (clustered: never) => ({ notes: { files: 'notes.json', clustered, fields } })
    for (const [clustered, code] of [
      ['-titel', 'config-field-unfit'],
      ['title,kept', 'config-field-unfit'],
      [['tags'], 'config-field-unfit'],
      [[{ order: 'title', collation: 'no such language' }], 'config-setting-invalid'],
      [[{ collation: 'no' }], 'config-setting-invalid'],
      [7, 'config-setting-invalid'],
    ] as const) {
      const { diagnostics } = await openFiles(
        { 'notes.json': '[]' },
        pantry({ collections: collection(clustered as never) }),
      )
      expect([clustered, ...diagnostics.map((one) => one.code)]).toEqual([clustered, code])
    }
  })
})

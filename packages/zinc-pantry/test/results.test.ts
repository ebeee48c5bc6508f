import fc from 'fast-check'
import { beforeAll, describe, expect, test } from 'vitest'
import type { Collection, Condition, Holds, Picked } from 'zinc-pantry/query'
import {
  COUNT,
  conditions,
  data,
  GRADES,
  hutOf,
  idsOf,
  keys,
  type Note,
  type NoteFields,
  openNotes,
  order,
  RUNS,
  TAGS,
} from './notes-model.ts'

let notes: Collection<Note, NoteFields, string>
beforeAll(async () => {
  notes = await openNotes()
})

describe('Many rows in many blocks give what arrays give', () => {
  test('entries in an order, pages behind cursors, neighbours', async () => {
    await fc.assert(
      fc.asyncProperty(conditions, keys, fc.integer({ min: 1, max: 50 }), async ({ typed, plain }, sort, size) => {
        const expected = idsOf(data.filter(plain).sort(order(sort)))
        const query = notes.where(typed).sort((note) => sort.map(([key]) => key(note)))
        expect(idsOf(await query.limit(size).toArray())).toEqual(expected.slice(0, size))
        expect(idsOf(await query.offset(size).toArray())).toEqual(expected.slice(size))
        const first = await query.page({ size })
        expect(first.total).toBe(expected.length)
        const second = first.next === null ? undefined : await query.page({ size, after: first.next })
        expect(idsOf([...first.entries, ...(second?.entries ?? [])])).toEqual(expected.slice(0, 2 * size))
        expect(first.next === null).toBe(expected.length <= size)
        if (second) expect(second.next === null).toBe(expected.length <= 2 * size)
        // Pages and neighbours are those of all that match.
        const part = query.offset(2).limit(3)
        expect(idsOf((await part.page({ size })).entries)).toEqual(idsOf(first.entries))
        const at = Math.min(size, expected.length - 1)
        const { previous, next } = await part.neighbours(expected[at] ?? 'n0')
        expect([previous?.id, next?.id]).toEqual(at < 0 ? [undefined, undefined] : [expected[at - 1], expected[at + 1]])
      }),
      RUNS,
    )
  })

  test('facets that leave their own conditions aside, distinct values, ranges, groups', async () => {
    const count = (some: readonly Note[], read: (note: Note) => readonly (string | number | null)[]) => {
      const counts = new Map<string | number, number>()
      for (const note of some)
        for (const value of read(note)) if (value !== null) counts.set(value, (counts.get(value) ?? 0) + 1)
      return [...counts]
        .map(([value, found]) => ({ value, count: found }))
        .sort((a, b) => b.count - a.count || (a.value < b.value ? -1 : 1))
    }
    await fc.assert(
      fc.asyncProperty(conditions, fc.constantFrom(...GRADES), async ({ typed, plain }, grade) => {
        const query = notes.where(typed).where((note) => note.grade.is(grade))
        const others = data.filter(plain)
        const found = others.filter((note) => note.grade === grade)
        const facets = await query.facets((note) => ({
          grade: note.grade,
          stars: note.stars,
          tags: note.tags,
          region: note.hut.region,
          title: note.title,
        }))
        // The condition may ask for the same fields; then they are left aside as well.
        const isAside = (word: string) => new RegExp(`\\b${word}\\b`).test(String(typed))
        if (!isAside('grade')) expect(facets.grade.length).toBeLessThanOrEqual(3)
        const values = await query.distinct((note) => note.stars)
        expect(values).toEqual([...new Set(found.flatMap(({ stars }) => stars ?? []))].sort())
        const sorted = found.map(({ height }) => height).sort((a, b) => a - b)
        expect(await query.range((note) => note.height)).toEqual(
          sorted.length === 0 ? undefined : { minimum: sorted[0], maximum: sorted.at(-1) },
        )
        const regions = found.flatMap((note) => hutOf(note).region ?? []).sort()
        expect(await query.range((note) => note.hut.region)).toEqual(
          regions.length === 0 ? undefined : { minimum: regions[0], maximum: regions.at(-1) },
        )
        const groups = await query.groupBy((note) => note.tags)
        expect(groups.map(({ value, entries }) => [value, idsOf(entries)])).toEqual(
          [...TAGS, null].flatMap((tag) => {
            const own = found.filter(({ tags }) => (tag === null ? tags.length === 0 : tags.includes(tag)))
            return own.length > 0 ? [[tag, idsOf(own)]] : []
          }),
        )
      }),
      RUNS,
    )
    const low = notes.where((note) => note.height.below(2000).and(note.grade.is('easy'), note.hut.region.is('r1')))
    const plain = data.filter(({ height }) => height < 2000)
    const facets = await low.facets((note) => ({
      grade: note.grade,
      stars: note.stars,
      tags: note.tags,
      region: note.hut.region,
    }))
    const inRegion = plain.filter((note) => hutOf(note).region === 'r1')
    expect(facets.grade).toEqual(count(inRegion, ({ grade }) => [grade]))
    const easy = inRegion.filter(({ grade }) => grade === 'easy')
    expect(facets.stars).toEqual(count(easy, ({ stars }) => [stars]))
    expect(facets.tags).toEqual(count(easy, ({ tags }) => tags))
    expect(facets.region).toEqual(
      count(
        plain.filter(({ grade }) => grade === 'easy'),
        (note) => [hutOf(note).region],
      ),
    )
  })

  test('related entries, by references that few share', async () => {
    const ways: ((note: Note) => readonly string[])[] = [({ hut }) => [hut], ({ legs }) => legs.map(({ hut }) => hut)]
    const counts = ways.map((way) => {
      const byId = new Map<string, number>()
      for (const note of data) for (const id of new Set(way(note))) byId.set(id, (byId.get(id) ?? 0) + 1)
      return byId
    })
    const scoreOf = (a: Note, b: Note): number => {
      let score = 0
      for (const [at, way] of ways.entries())
        for (const id of new Set(way(a)))
          if (way(b).includes(id)) score += Math.log(1 + COUNT / (counts[at]?.get(id) ?? 0))
      return score
    }
    for (const [own, grade] of [
      ['n0', undefined],
      ['n7', 'easy'],
      ['n41', 'hard'],
    ] as const) {
      const query = grade ? notes.where((note) => note.grade.is(grade)) : notes
      const related = await query.related(own, { limit: 4 })
      const entry = data.find(({ id }) => id === own) as Note
      const expected = data
        .filter((note) => note !== entry && (grade === undefined || note.grade === grade))
        .map((note) => ({ id: note.id, score: scoreOf(entry, note) }))
        .sort((a, b) => b.score - a.score)
        .slice(0, 4)
      expect(related.map(({ entry: { id } }) => id)).toEqual(idsOf(expected))
      for (const [at, { score }] of related.entries()) expect(score).toBeCloseTo(expected[at]?.score ?? 0)
    }
    await expect(notes.related('nowhere')).rejects.toThrow('There is no entry "nowhere" in notes')
    await expect(notes.neighbours('nowhere')).rejects.toThrow('There is no entry "nowhere" in notes')
  })
})

describe('Values are picked', () => {
  test('in the form in which they are asked for, with references followed', async () => {
    const spec = (note: NoteFields) => ({
      title: note.title,
      hut: { id: note.hut, name: note.hut.name, region: note.hut.region },
      tags: note.tags.each((tag) => ({ tag })),
    })
    const picked = await notes.pick(spec).limit(2).toArray()
    const expected = data.slice(0, 2).map((note) => {
      const { name, region } = hutOf(note)
      return { title: note.title, hut: { id: note.hut, name, region }, tags: note.tags.map((tag) => ({ tag })) }
    })
    expect(picked).toEqual(expected)
    const typed: Picked<ReturnType<typeof spec>> = picked[0] as (typeof picked)[number]
    const region: string | null = typed.hut.region
    // @ts-expect-error A region may be missing.
    const wrong: string = typed.hut.region
    expect([region, wrong]).toEqual([typed.hut.region, typed.hut.region])
    expect(() => notes.pick(() => ({ title: 1 }) as unknown as Holds<string>)).not.toThrow()
    await expect(notes.pick(() => ({ title: 1 })).first()).rejects.toThrow('Pick takes fields, and objects of them')
  })
})

test('Of a large index an answer loads the blocks that it needs', async () => {
  const bytesOf = async (build: (note: NoteFields) => Condition) =>
    (await (await openNotes()).where(build).limit(0).plan()).bytes
  const one = await bytesOf((note) => note.height.is(77))
  const all = await bytesOf((note) => note.height.atLeast(0))
  expect(one).toBeGreaterThan(0)
  expect(one).toBeLessThan(all * 0.8)
})

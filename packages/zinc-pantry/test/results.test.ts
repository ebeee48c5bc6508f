import fc from 'fast-check'
import { beforeAll, describe, expect, test } from 'vitest'
import { choice, int, list, pantry, ref, text } from 'zinc-pantry'
import {
  type ChoiceHandle,
  type Collection,
  type Holds,
  type ListHandle,
  type NumberHandle,
  type Optional,
  openCollection,
  type Picked,
  type RefHandle,
  type SortKey,
  type TextHandle,
} from 'zinc-pantry/query'
import { openFiles } from './helpers.ts'

/** Enough notes for many blocks of rows and of indexes. */
const COUNT = 9000
const GRADES = ['easy', 'fair', 'hard'] as const
const TAGS = ['bog', 'fog', 'ice', 'wind']

interface Hut {
  readonly id: string
  readonly name: string
  readonly region: string | null
}
interface Note {
  readonly id: string
  readonly title: string
  readonly grade: (typeof GRADES)[number]
  readonly height: number
  readonly stars: number | null
  readonly hut: string
  readonly tags: readonly string[]
}
interface HutFields {
  readonly id: TextHandle
  readonly name: TextHandle
  readonly region: Optional<TextHandle>
}
interface NoteFields {
  readonly id: TextHandle
  readonly title: TextHandle
  readonly grade: ChoiceHandle<Note['grade']>
  readonly height: NumberHandle
  readonly stars: Optional<NumberHandle>
  readonly hut: RefHandle<string> & HutFields
  readonly tags: ListHandle<TextHandle>
}

const site = pantry({
  collections: {
    huts: { files: 'huts.json', fields: { name: text(), region: text({ optional: true }) } },
    notes: {
      files: 'notes.json',
      fields: {
        title: text(),
        grade: choice(GRADES),
        height: int(),
        stars: int({ optional: true }),
        hut: ref('huts'),
        tags: list(text()),
      },
    },
  },
})

/** The same numbers every time. */
function createRandom(): (below: number) => number {
  let state = 7
  return (below) => {
    state = (Math.imul(state, 1103515245) + 12345) >>> 0
    return Math.floor((state / 2 ** 32) * below)
  }
}

const random = createRandom()
const huts: Hut[] = Array.from({ length: 60 }, (_, at) => ({
  id: `h${at}`,
  name: `Hut ${at % 40}`,
  region: at % 7 === 0 ? null : `r${at % 5}`,
}))
const data: Note[] = Array.from({ length: COUNT }, (_, at) => ({
  id: `n${at}`,
  title: `Note ${random(COUNT)} ${random(2) ? 'Ålesund' : 'ås'}`,
  grade: GRADES[random(3)] as Note['grade'],
  height: random(4000),
  stars: random(4) === 0 ? null : random(5),
  hut: `h${random(60)}`,
  tags: TAGS.filter(() => random(3) === 0),
}))
const hutOf = ({ hut }: Note): Hut => huts.find(({ id }) => id === hut) as Hut

let notes: Collection<Note, NoteFields, string>
beforeAll(async () => {
  const files = { 'huts.json': JSON.stringify(huts), 'notes.json': JSON.stringify(data) }
  const opened = await openFiles(files, site)
  expect(opened.diagnostics).toEqual([])
  notes = openCollection(opened.site, 'notes')
})

/** A condition in both forms. */
interface Both {
  readonly typed: (note: NoteFields) => ReturnType<NumberHandle['atLeast']>
  readonly plain: (note: Note) => boolean
}
const heights = fc.integer({ min: -10, max: 4010 })
const simple: fc.Arbitrary<Both> = fc.oneof(
  fc.constantFrom(...GRADES).map((grade) => ({
    typed: (note: NoteFields) => note.grade.is(grade),
    plain: (note: Note) => note.grade === grade,
  })),
  fc.tuple(heights, heights).map(([low, high]) => ({
    typed: (note: NoteFields) => note.height.between(low, high),
    plain: ({ height }: Note) => height >= low && height <= high,
  })),
  fc.nat(5).map((stars) => ({
    typed: (note: NoteFields) => note.stars.isNot(stars),
    plain: (note: Note) => note.stars !== stars,
  })),
  fc.constantFrom(...TAGS).map((tag) => ({
    typed: (note: NoteFields) => note.tags.some((one) => one.is(tag)),
    plain: ({ tags }: Note) => tags.includes(tag),
  })),
  fc.nat(4).map((region) => ({
    typed: (note: NoteFields) => note.hut.region.is(`r${region}`),
    plain: (note: Note) => hutOf(note).region === `r${region}`,
  })),
  fc.nat(59).map((at) => ({
    typed: (note: NoteFields) => note.hut.name.startsWith(`Hut ${at}`),
    plain: (note: Note) => hutOf(note).name.startsWith(`Hut ${at}`),
  })),
  fc.nat(COUNT).map((at) => ({
    typed: (note: NoteFields) => note.title.startsWith(`Note ${at}`),
    plain: ({ title }: Note) => title.startsWith(`Note ${at}`),
  })),
)
const conditions: fc.Arbitrary<Both> = fc
  .tuple(fc.array(simple, { minLength: 1, maxLength: 3 }), fc.constantFrom('and', 'or', 'not'))
  .map(([parts, join]) => ({
    typed: (note) => {
      const [first, ...others] = parts.map(({ typed }) => typed(note))
      if (join === 'or') return (first as never as { or: (...all: unknown[]) => never }).or(...others)
      const all = (first as never as { and: (...all: unknown[]) => { not(): never } }).and(...others)
      return join === 'not' ? all.not() : (all as never)
    },
    plain: (note) => {
      const answers = parts.map(({ plain }) => plain(note))
      if (join === 'or') return answers.includes(true)
      return answers.includes(false) === (join === 'not')
    },
  }))

type Key = readonly [typed: (note: NoteFields) => SortKey, plain: (note: Note) => string | number | null, sign: number]
const keys: fc.Arbitrary<Key[]> = fc.uniqueArray(
  fc.constantFrom<Key>(
    [(note) => note.height.ascending(), ({ height }) => height, 1],
    [(note) => note.height.descending(), ({ height }) => height, -1],
    [(note) => note.grade.descending(), ({ grade }) => grade, -1],
    [(note) => note.stars.ascending(), ({ stars }) => stars, 1],
    [(note) => note.hut.name.descending(), (note) => hutOf(note).name, -1],
    [(note) => note.id, ({ id }) => id, 1],
  ),
  { maxLength: 3 },
)
const order =
  (sort: readonly Key[]) =>
  (a: Note, b: Note): number => {
    for (const [, read, sign] of sort) {
      const [left, right] = [read(a), read(b)]
      if (left === right) continue
      if (left === null || right === null) return left === null ? 1 : -1
      return (left < right ? -1 : 1) * sign
    }
    return 0
  }

const RUNS = { numRuns: 60 }
const idsOf = (entries: readonly { readonly id: string }[]) => entries.map(({ id }) => id)

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
        const at = Math.min(size, expected.length - 1)
        const { previous, next } = await query.neighbours(expected[at] ?? '')
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
        const groups = await query.groupBy((note) => note.tags)
        expect(groups.map(({ value, entries }) => [value, idsOf(entries)])).toEqual(
          TAGS.flatMap((tag) => {
            const own = found.filter(({ tags }) => tags.includes(tag))
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
    const [first] = data
    const related = await notes.related('n0', { limit: 3 })
    const sharing = data.filter(({ id, hut }) => id !== 'n0' && hut === first?.hut)
    expect(related.map(({ entry }) => entry.id)).toEqual(idsOf(sharing.slice(0, 3)))
    expect(new Set(related.map(({ score }) => score))).toEqual(new Set([Math.log(1 + COUNT / (sharing.length + 1))]))
    expect(await notes.related('nowhere')).toEqual([])
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

describe('Orders', () => {
  test('by the rules of a language, and with nothing first', async () => {
    const titles = async (collation?: string) => {
      const few = notes.where((note) => note.height.below(20))
      const found = await few.sort((note) => note.title.ascending(collation ? { collation } : {})).toArray()
      return found.map(({ title }) => title)
    }
    const plain = data.flatMap(({ height, title }) => (height < 20 ? [title] : []))
    expect(await titles()).toEqual(plain.toSorted())
    expect(await titles('no')).toEqual(plain.toSorted(new Intl.Collator('no').compare))
    const [first] = await notes
      .sort((note) => note.stars.descending({ absent: 'first' }))
      .limit(1)
      .toArray()
    expect(first?.stars).toBeNull()
  })

  test('A cursor stays good when content changes, and is refused where it means nothing', async () => {
    const query = notes.sort((note) => note.height)
    const { next, entries } = await query.page({ size: 3 })
    const gone = entries[2]
    const changed = data.filter(({ id }) => id !== gone?.id && id !== entries[0]?.id)
    const files = { 'huts.json': JSON.stringify(huts), 'notes.json': JSON.stringify(changed) }
    const { site: later } = await openFiles(files, site)
    const again: typeof notes = openCollection(later, 'notes')
    const page = await again.sort((note) => note.height).page({ size: 2, after: next ?? '' })
    const expected = changed.toSorted((a, b) => a.height - b.height)
    const start = expected.findIndex(({ height }) => height >= (gone?.height ?? 0))
    expect(idsOf(page.entries)).toEqual(idsOf(expected.slice(start, start + 2)))
    await expect(notes.page({ size: 3, after: next ?? '' })).rejects.toThrow('This cursor is none of a query')
    await expect(query.page({ size: 0 })).rejects.toThrow('size must be a whole number from 1, not 0')
  })

  test('Static pages: the first rendered, the others as parts that lead to each other', async () => {
    const query = notes.where((note) => note.height.below(40)).pick((note) => ({ id: note.id }))
    const all = idsOf(await query.toArray())
    const { pages, parts } = await query.pages({ size: 20, first: 2, base: '/more/' })
    expect(pages.map(({ number, more }) => [number, more !== null])).toEqual([
      [1, false],
      [2, true],
    ])
    const found = pages.flatMap(({ entries }) => idsOf(entries))
    let more = pages.at(-1)?.more
    while (more) {
      const part = parts.find(({ path }) => `/more/${path}` === more)
      const page = JSON.parse(part?.text ?? '') as (typeof pages)[number]
      found.push(...idsOf(page.entries))
      expect(page.total).toBe(all.length)
      more = page.more
    }
    expect(found).toEqual(all)
  })
})

import fc from 'fast-check'
import { beforeAll, describe, expect, test } from 'vitest'
import { int, pantry, text } from 'zinc-pantry'
import { type Collection, type NumberHandle, openCollection, type SortKey, type TextHandle } from 'zinc-pantry/query'
import { openFiles, runs } from './helpers.ts'
import { data, GRADES, heights, hutOf, idsOf, type Note, type NoteFields, openNotes } from './notes-model.ts'

let notes: Collection<Note, NoteFields, string>
beforeAll(async () => {
  notes = await openNotes()
})

/** Compares notes by a value, nothing last. */
const by =
  (read: (note: Note) => string | null, collation?: string, sign = 1) =>
  (a: Note, b: Note): number => {
    const [left, right] = [read(a), read(b)]
    if (left === right) return 0
    if (left === null || right === null) return left === null ? 1 : -1
    return (collation ? new Intl.Collator(collation).compare(left, right) : left < right ? -1 : 1) * sign
  }

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

  test('that the site names are kept: the plan says so, and entries are those of a sort', async () => {
    const few = (note: NoteFields) => note.height.below(3000)
    const orders: readonly [string, (note: NoteFields) => SortKey, (a: Note, b: Note) => number][] = [
      ['title@no', (note) => note.title.ascending({ collation: 'no' }), by((note) => note.title, 'no')],
      ['title@no', (note) => note.title.descending({ collation: 'no' }), by((note) => note.title, 'no', -1)],
      ['hut.region', (note) => note.hut.region, by((note) => hutOf(note).region)],
      [
        'hut.name@en',
        (note) => note.hut.name.descending({ collation: 'en' }),
        by((note) => hutOf(note).name, 'en', -1),
      ],
    ]
    for (const [name, key, compare] of orders) {
      const query = notes.where(few).sort(key)
      const { order, isScan, sorted } = await query.limit(20).plan()
      expect([name, order, isScan, sorted]).toEqual([name, `notes.${name}`, false, 0])
      const expected = data.filter(({ height }) => height < 3000).toSorted(compare)
      expect(idsOf(await query.limit(50).toArray())).toEqual(idsOf(expected.slice(0, 50)))
    }
    const { order, isScan } = await notes
      .sort((note) => note.title.ascending({ collation: 'en' }))
      .limit(20)
      .plan()
    expect([order, isScan]).toEqual([undefined, true])
  })

  test('A cursor stays good when content changes, and is refused where it means nothing', async () => {
    const query = notes.sort((note) => note.height)
    const { next, entries } = await query.page({ size: 3 })
    const gone = entries[2]
    const changed = data.filter(({ id }) => id !== gone?.id && id !== entries[0]?.id)
    const again = await openNotes(changed)
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

/** A question for one field, as a condition and as a function. */
interface Asked {
  readonly ask: (note: NoteFields) => ReturnType<NoteFields['height']['is']>
  readonly holds: (note: Note) => boolean
}
const both = (ask: Asked['ask'], holds: Asked['holds']): Asked => ({ ask, holds })
const between = ([low, high]: readonly [number, number]): Asked =>
  both(
    (note) => note.height.between(low, high),
    ({ height }) => height >= low && height <= high,
  )
const asked: fc.Arbitrary<Asked> = fc.oneof(
  fc.tuple(heights, heights).map(between),
  heights.map((at) =>
    both(
      (note) => note.height.is(at),
      ({ height }) => height === at,
    ),
  ),
  heights.map((at) =>
    both(
      (note) => note.height.above(at),
      ({ height }) => height > at,
    ),
  ),
  heights.map((at) =>
    both(
      (note) => note.height.atMost(at),
      ({ height }) => height <= at,
    ),
  ),
  fc.array(heights, { maxLength: 4 }).map((some) =>
    both(
      (note) => note.height.isOneOf(some),
      ({ height }) => some.includes(height),
    ),
  ),
  fc.constantFrom(...GRADES).map((at) =>
    both(
      (note) => note.grade.is(at),
      ({ grade }) => grade === at,
    ),
  ),
  fc.nat(59).map((at) =>
    both(
      (note) => note.hut.is(`h${at}`),
      ({ hut }) => hut === `h${at}`,
    ),
  ),
  fc.constantFrom('Note 1', 'Note 12', 'N', 'x').map((at) =>
    both(
      (note) => note.title.startsWith(at),
      ({ title }) => title.startsWith(at),
    ),
  ),
  fc.nat(5).map((at) =>
    both(
      (note) => note.stars.isNot(at),
      ({ stars }) => stars !== at,
    ),
  ),
)

/** Orders, most of them that of an index. */
const sorts = fc.constantFrom<readonly [key: ((note: NoteFields) => SortKey) | undefined, sign: number]>(
  [undefined, 1],
  [(note) => note.height, 1],
  [(note) => note.height.ascending(), 1],
  [(note) => note.height.ascending({ absent: 'first' }), 1],
  [(note) => note.height.descending(), -1],
)

describe('Asked again', () => {
  test('a question has the same answer, whatever was done with the last', async () => {
    const limits = fc.option(fc.nat(20), { freq: 2 })
    const offsets = fc.option(fc.constantFrom(0, 1, 7), { freq: 2 })
    await fc.assert(
      fc.asyncProperty(asked, sorts, offsets, limits, async ({ ask, holds }, [key, sign], offset, limit) => {
        const found = data.filter(holds)
        if (key) found.sort((a, b) => (a.height - b.height) * sign)
        const start = offset ?? 0
        const expected = idsOf(found.slice(start, limit === null ? undefined : start + limit))
        for (let round = 0; round < 3; round++) {
          let query = notes.where(ask)
          if (key) query = query.sort(key)
          if (offset !== null) query = query.offset(offset)
          const entries = await (limit === null ? query : query.limit(limit)).toArray()
          expect(idsOf(entries)).toEqual(expected)
          // Answers are read-only in types; a program in JavaScript may still try.
          try {
            ;(entries as Note[]).reverse().splice(0, 1)
          } catch (error) {
            expect(error).toBeInstanceOf(TypeError)
          }
          expect(() => Object.assign(entries[0] ?? Object.freeze({}), { title: 'other' })).toThrow(TypeError)
        }
      }),
      { numRuns: runs(120, 2500) },
    )
  })

  test('Pages while content is edited, moved, added and deleted: what did not change is seen exactly once', async () => {
    const few = data.slice(0, 60)
    const orders: readonly ((note: NoteFields) => SortKey[])[] = [
      (note) => [note.height, note.id],
      (note) => [note.grade.descending()],
      (note) => [note.stars.ascending({ absent: 'first' }), note.title.ascending({ collation: 'en' })],
      () => [],
    ]
    const edit = fc.record({
      kind: fc.constantFrom('edit', 'move', 'add', 'delete'),
      at: fc.nat(1000),
      to: fc.nat(1000),
    })
    const steps = fc.array(
      fc.record({ edits: fc.array(edit, { maxLength: 2 }), size: fc.integer({ min: 1, max: 9 }) }),
      { minLength: 1, maxLength: 12 },
    )
    await fc.assert(
      fc.asyncProperty(steps, fc.constantFrom(...orders), fc.boolean(), async (all, order, isLast) => {
        let present = [...few]
        const changed = new Set<string>()
        const seen: string[] = []
        let after: string | undefined
        const read = async (size: number): Promise<boolean> => {
          const page = await (await openNotes(present)).sort(order).page({ size, after })
          expect(page.total).toBe(present.length)
          seen.push(...idsOf(page.entries))
          after = page.next ?? undefined
          return after !== undefined
        }
        const change = ({ kind, at, to }: { kind: string; at: number; to: number }): void => {
          // The last entry that was seen is the one that a cursor has most to do with.
          const last = present.findIndex(({ id }) => id === seen.at(-1))
          const place = isLast && last !== -1 ? last : at % present.length
          const note = present[place] as Note
          const other = data[1000 + to] as Note
          const others = present.filter((one) => one !== note)
          const target = to % (others.length + 1)
          // Of two equal neighbours that changed places nobody can tell which one moved.
          if (kind === 'move' && Math.abs(target - place) < 20) return
          if (kind === 'add') present.splice(to % present.length, 0, { ...other, id: `x${seen.length}-${to}-${at}` })
          else {
            changed.add(note.id)
            present = others
            if (kind === 'edit') present.splice(place, 0, { ...other, id: note.id })
            if (kind === 'move') present.splice(target, 0, note)
          }
        }
        let goesOn = true
        for (const { edits, size } of all) {
          if (!goesOn) break
          goesOn = await read(size)
          // Of several that moved at once it may be that nobody can tell either.
          for (const [at, one] of edits.entries()) if (at === 0 || one.kind !== 'move') change(one)
        }
        while (goesOn) goesOn = await read(20)
        const stayed = few.filter(({ id }) => !changed.has(id)).map(({ id }) => id)
        expect(seen.filter((id) => stayed.includes(id)).toSorted()).toEqual(stayed.toSorted())
      }),
      { numRuns: runs(25, 1000) },
    )
  })
})

test('Texts that a language does not tell apart are one step of an order, and the next key decides', async () => {
  // An é of one and of two code points, and a sign that no language sorts by.
  const spellings = ['\u00e9', 'e\u0301', '\u00e9\u200b']
  const names = Array.from({ length: 60 }, (_, at) => ({
    id: `n${at}`,
    name: `${spellings[at % 3]}${at % 2}`,
    number: (at * 7) % 60,
  }))
  const { compare } = new Intl.Collator('en')
  expect(compare(spellings[0] as string, spellings[1] as string)).toBe(0)
  const open = async (indexes: object) => {
    const fields = { name: text(), number: int() }
    const configuration = pantry({ collections: { names: { files: 'names.json', fields, ...indexes } } })
    const { site } = await openFiles({ 'names.json': JSON.stringify(names) }, configuration)
    return openCollection<{ id: string }, { name: TextHandle; number: NumberHandle }, string>(site, 'names')
  }
  const expected = names.toSorted((a, b) => compare(a.name, b.name) || a.number - b.number)
  for (const indexes of [{}, { indexes: [{ field: 'name', collation: 'en' }] }]) {
    const query = (await open(indexes)).sort(({ name, number }) => [name.ascending({ collation: 'en' }), number])
    expect(idsOf(await query.toArray())).toEqual(idsOf(expected))
    expect(idsOf(await query.limit(7).toArray())).toEqual(idsOf(expected.slice(0, 7)))
  }
})

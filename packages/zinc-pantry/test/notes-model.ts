import fc from 'fast-check'
import { expect } from 'vitest'
import { choice, group, int, list, pantry, ref, text } from 'zinc-pantry'
import {
  type ChoiceHandle,
  type Collection,
  type GroupHandle,
  type ListHandle,
  type NumberHandle,
  type Optional,
  openCollection,
  type RefHandle,
  type SortKey,
  type TextHandle,
} from 'zinc-pantry/query'
import { createRandom, openFiles } from './helpers.ts'

/** Notes with huts, and what may be asked of them, in the form of queries and of functions on arrays. */

/** Enough notes for many blocks of rows and of indexes. */
export const COUNT = 9000
export const GRADES = ['easy', 'fair', 'hard'] as const
export const TAGS = ['bog', 'fog', 'ice', 'wind']

export interface Hut {
  readonly id: string
  readonly name: string
  readonly region: string | null
}
export interface Note {
  readonly id: string
  readonly title: string
  readonly grade: (typeof GRADES)[number]
  readonly height: number
  readonly stars: number | null
  readonly hut: string
  readonly tags: readonly string[]
  readonly legs: readonly { readonly hut: string; readonly hours: number }[]
}
export interface HutFields {
  readonly id: TextHandle
  readonly name: TextHandle
  readonly region: Optional<TextHandle>
}
export interface NoteFields {
  readonly id: TextHandle
  readonly title: TextHandle
  readonly grade: ChoiceHandle<Note['grade']>
  readonly height: NumberHandle
  readonly stars: Optional<NumberHandle>
  readonly hut: RefHandle<string> & HutFields
  readonly tags: ListHandle<TextHandle>
  readonly legs: ListHandle<GroupHandle & { readonly hut: RefHandle<string> & HutFields; readonly hours: NumberHandle }>
}

const site = pantry({
  collections: {
    huts: { files: 'huts.json', fields: { name: text(), region: text({ optional: true }) } },
    notes: {
      files: 'notes.json',
      indexes: [{ field: 'title', collation: 'no' }, 'hut.region', { field: 'hut.name', collation: 'en' }],
      fields: {
        title: text(),
        grade: choice(GRADES),
        height: int(),
        stars: int({ optional: true }),
        hut: ref('huts'),
        tags: list(text()),
        legs: list(group({ hut: ref('huts'), hours: int() })),
      },
    },
  },
})

const random = createRandom()
export const huts: Hut[] = Array.from({ length: 60 }, (_, at) => ({
  id: `h${at}`,
  name: `Hut ${at % 40}`,
  region: at % 7 === 0 ? null : `r${at % 5}`,
}))
export const data: Note[] = Array.from({ length: COUNT }, (_, at) => ({
  id: `n${at}`,
  title: `Note ${random(COUNT)} ${random(2) ? 'Ålesund' : 'ås'}`,
  grade: GRADES[random(3)] as Note['grade'],
  height: random(4000),
  stars: random(4) === 0 ? null : random(5),
  hut: `h${random(60)}`,
  tags: TAGS.filter(() => random(3) === 0),
  legs: Array.from({ length: random(4) }, () => ({ hut: `h${random(6)}`, hours: random(4) })),
}))
export const hutOf = ({ hut }: Note): Hut => huts.find(({ id }) => id === hut) as Hut

/** The notes in another state. */
export async function openNotes(some: readonly Note[] = data): Promise<Collection<Note, NoteFields, string>> {
  const files = { 'huts.json': JSON.stringify(huts), 'notes.json': JSON.stringify(some) }
  const opened = await openFiles(files, site)
  expect(opened.diagnostics).toEqual([])
  return openCollection(opened.site, 'notes')
}

/** A condition in both forms. */
export interface Both {
  readonly typed: (note: NoteFields) => ReturnType<NumberHandle['atLeast']>
  readonly plain: (note: Note) => boolean
}
export const heights = fc.integer({ min: -10, max: 4010 })
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
  fc.tuple(fc.nat(5), fc.nat(3), fc.constantFrom('some', 'every', 'none')).map(([at, hours, kind]) => ({
    // Both must hold for the same leg.
    typed: (note: NoteFields) => note.legs[kind]((leg) => leg.hut.is(`h${at}`).and(leg.hours.atLeast(hours))),
    plain: ({ legs }: Note) => {
      const holds = (leg: Note['legs'][number]): boolean => leg.hut === `h${at}` && leg.hours >= hours
      return kind === 'some' ? legs.some(holds) : kind === 'every' ? legs.every(holds) : !legs.some(holds)
    },
  })),
  fc.nat(COUNT).map((at) => ({
    typed: (note: NoteFields) => note.title.startsWith(`Note ${at}`),
    plain: ({ title }: Note) => title.startsWith(`Note ${at}`),
  })),
)
export const conditions: fc.Arbitrary<Both> = fc
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

export type Key = readonly [
  typed: (note: NoteFields) => SortKey,
  plain: (note: Note) => string | number | null,
  sign: number,
]
export const keys: fc.Arbitrary<Key[]> = fc.uniqueArray(
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
export const order =
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

export const RUNS = { numRuns: 60 }
export const idsOf = (entries: readonly { readonly id: string }[]) => entries.map(({ id }) => id)

import { describe, expectTypeOf, test } from 'vitest'
import { choice, date, type EntryOf, flag, group, int, list, number, pantry, ref, text, url } from 'zinc-pantry'
import type { Condition } from 'zinc-pantry/query'
import type { Hut, HutId, Trail, trails } from './fixtures/emitted/index.d.ts'

const site = pantry({
  collections: {
    huts: {
      files: 'huts/*.yaml',
      entry: 'Hut',
      fields: { name: text({ maxLength: 12 }), beds: int({ default: 4 }), booking: url({ optional: true }) },
    },
    trails: {
      files: 'trails/*.md',
      entry: 'Trail',
      body: true,
      fields: {
        title: text(),
        grade: choice(['easy', 'hard']),
        opened: date({ optional: true }),
        draft: flag({ default: false }),
        tags: list(text(), { optional: true }),
        start: group({ hut: ref('huts'), note: text({ optional: true }) }),
        legs: list(group({ hut: ref('huts', { optional: true }), hours: number() })),
        near: list(ref('trails'), { default: [] }),
      },
    },
  },
})

describe('Entry types are inferred from the configuration', () => {
  test('Every kind of field, required, optional and with a default', () => {
    type Inferred = EntryOf<typeof site, 'trails'>
    expectTypeOf<Inferred['title']>().toEqualTypeOf<string>()
    expectTypeOf<Inferred['grade']>().toEqualTypeOf<'easy' | 'hard'>()
    expectTypeOf<Inferred['opened']>().toEqualTypeOf<string | null>()
    expectTypeOf<Inferred['draft']>().toEqualTypeOf<boolean>()
    expectTypeOf<Inferred['tags']>().toEqualTypeOf<readonly string[] | null>()
    expectTypeOf<Inferred['start']>().toEqualTypeOf<{ readonly hut: string; readonly note: string | null }>()
    expectTypeOf<Inferred['legs']>().toEqualTypeOf<readonly { readonly hut: string | null; readonly hours: number }[]>()
    expectTypeOf<Inferred['near']>().toEqualTypeOf<readonly string[]>()
    expectTypeOf<EntryOf<typeof site, 'huts'>['beds']>().toEqualTypeOf<number>()
    expectTypeOf<EntryOf<typeof site, 'nothing'>>().toBeNever()
  })

  test('Generated types are those of the configuration, with the ids known', () => {
    type Fields = Omit<Hut, 'id'>
    expectTypeOf<Fields>().toEqualTypeOf<Omit<EntryOf<typeof site, 'huts'>, 'id'>>()
    expectTypeOf<HutId>().toEqualTypeOf<'cairnfoot' | 'gable'>()
    expectTypeOf<Trail['start']>().toEqualTypeOf<{ readonly hut: HutId; readonly note: string | null }>()
    expectTypeOf<Trail['legs'][number]['hut']>().toEqualTypeOf<HutId | null>()
    expectTypeOf<Trail['grade']>().toEqualTypeOf<'easy' | 'hard'>()
  })
})

describe('Wrong configurations are type errors', () => {
  test('A reference to no collection, a misspelt option, a default of the wrong type', () => {
    pantry({
      collections: {
        // @ts-expect-error There is no collection named hutts
        trails: { files: 'a', fields: { hut: ref('hutts') } },
      },
    })
    pantry({
      collections: {
        // @ts-expect-error There is no collection named places, deep in a list of groups
        trails: { files: 'a', fields: { legs: list(group({ at: ref('places') })) } },
      },
    })
    // @ts-expect-error The option is called maxLength
    text({ maxlength: 3 })
    // @ts-expect-error A number is no default of a text
    text({ default: 3 })
    // @ts-expect-error The default is one of the choices
    choice(['easy', 'hard'], { default: 'medium' })
    // @ts-expect-error A collection has files
    pantry({ collections: { huts: { fields: {} } } })
  })
})

describe('Queries offer only what suits a field', () => {
  /** Only compiled, never run. */
  const typed = (all: typeof trails): unknown[] => [
    all.where((trail) => trail.start.hut.beds.atLeast(20).and(trail.legs.some((leg) => leg.hut.name.startsWith('G')))),
    all.where((trail) => trail.near.some((other) => other.near.some((third) => third.grade.is('easy')))),
    all.sort((trail) => [trail.opened.descending(), trail.start.hut.name]),
    all.where((trail) => trail.tags.includes('ridge').not().or(trail.tags.isAbsent())),
    // @ts-expect-error A flag has no order
    all.where((trail) => trail.draft.atLeast(true)),
    // @ts-expect-error It is never medium
    all.where((trail) => trail.grade.is('medium')),
    // @ts-expect-error There is no such hut
    all.where((trail) => trail.start.hut.is('gabel')),
    // @ts-expect-error There is no such field
    all.where((trail) => trail.titel.is('x')),
    // @ts-expect-error A list is entered by some, every or none
    all.where((trail) => trail.legs.hours.is(2)),
    // @ts-expect-error A list has no order
    all.sort((trail) => trail.legs),
    // @ts-expect-error A condition is wanted, not a boolean
    all.where((trail) => trail.title === 'x'),
  ]

  test('Results are typed', () => {
    expectTypeOf(typed).toBeFunction()
    expectTypeOf<Awaited<ReturnType<(typeof trails)['first']>>>().toEqualTypeOf<Trail | undefined>()
    expectTypeOf<Awaited<ReturnType<(typeof trails)['toArray']>>>().toEqualTypeOf<readonly Trail[]>()
    const find = (all: typeof trails) => ({
      known: all.byId('high'),
      unknown: all.byId('other'),
      text: all.byId(String(1)),
    })
    expectTypeOf<Awaited<ReturnType<typeof find>['known']>>().toEqualTypeOf<Trail>()
    expectTypeOf<Awaited<ReturnType<typeof find>['unknown']>>().toEqualTypeOf<Trail | undefined>()
    expectTypeOf<Awaited<ReturnType<typeof find>['text']>>().toEqualTypeOf<Trail | undefined>()
    expectTypeOf<ReturnType<Parameters<(typeof trails)['where']>[0]>>().toEqualTypeOf<Condition>()
  })
})

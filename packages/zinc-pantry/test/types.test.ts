import { describe, expectTypeOf, test } from 'vitest'
import {
  adapt,
  anything,
  block,
  choice,
  date,
  type EntryOf,
  flag,
  group,
  type ImageValue,
  image,
  int,
  list,
  map,
  number,
  pantry,
  ref,
  reverse,
  type SizedImageValue,
  type StandardValidator,
  text,
  url,
  variant,
} from 'zinc-pantry'
import type { Condition } from 'zinc-pantry/query'
import type { Hut, HutId, Trail, trails } from './fixtures/emitted/index.d.ts'

const site = pantry({
  collections: {
    huts: {
      files: 'huts/*.yaml',
      entry: 'Hut',
      fields: {
        name: text({ maxLength: 12 }),
        beds: int({ default: 4 }),
        old: text({ optional: true, deprecated: true }),
        booking: url({ optional: true }),
      },
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

describe('Larger models', () => {
  const fells = pantry({
    blocks: {
      map: { fields: { zoom: int({ default: 10 }) } },
      gallery: { fields: { parts: list(block('map'), { optional: true }) } },
    },
    collections: {
      huts: {
        files: 'huts/*.yaml',
        fields: {
          name: text(),
          state: choice({ open: 'Open', shut: 'Shut for good' }),
          trails: reverse('news', 'at'),
          seen: list(block({ key: 'type' }, 'map')),
        },
        derive: {
          label: { field: text(), from: (hut) => `${hut.name.toUpperCase()} ${hut.state === 'open'}` },
          size: { field: int({ optional: true }), from: (hut) => hut.trails.length },
        },
        rules: [
          (hut, { report, all }) => all[0]?.name === hut.name && report('name', { code: 'hut-first', message: 'x' }),
        ],
      },
      news: {
        files: 'news/*.md',
        fields: {
          title: adapt(text({ optional: true }), { optional: false }),
          at: ref('huts'),
          about: ref(['huts', 'news']),
          photo: image({ optional: true }),
          large: image({ sources: { kinds: ['avif'] } }),
          words: map(list(int())),
          free: anything(),
          parts: list(block('map', 'gallery')),
          kind: variant({ article: { author: text() }, event: { on: date() } }),
          checked: {
            '~standard': { version: 1, vendor: 'x', validate: (value: unknown) => ({ value: Number(value) }) },
          } as StandardValidator<number>,
        },
      },
    },
  })
  type News = EntryOf<typeof fells, 'news'>
  type Hut = EntryOf<typeof fells, 'huts'>

  test('Derived fields, blocks, variants and references to several collections', () => {
    expectTypeOf<Hut['label']>().toEqualTypeOf<string>()
    expectTypeOf<Hut['size']>().toEqualTypeOf<number | null>()
    expectTypeOf<Hut['state']>().toEqualTypeOf<'open' | 'shut'>()
    expectTypeOf<Hut['trails']>().toEqualTypeOf<readonly string[]>()
    expectTypeOf<Hut['seen']>().toEqualTypeOf<readonly { readonly type: 'map'; readonly zoom: number }[]>()
    expectTypeOf<News['title']>().toEqualTypeOf<string>()
    expectTypeOf<News['photo']>().toEqualTypeOf<ImageValue | null>()
    expectTypeOf<News['large']>().toEqualTypeOf<SizedImageValue>()
    expectTypeOf<News['words']>().toEqualTypeOf<{ readonly [key: string]: readonly number[] }>()
    expectTypeOf<News['free']>().toBeUnknown()
    expectTypeOf<News['checked']>().toEqualTypeOf<number>()
    expectTypeOf<News['about']['collection']>().toEqualTypeOf<'huts' | 'news'>()
    type Gallery = Extract<News['parts'][number], { block: 'gallery' }>
    expectTypeOf<Gallery['parts']>().toEqualTypeOf<readonly { readonly block: 'map'; readonly zoom: number }[] | null>()
    expectTypeOf<Extract<News, { kind: 'event' }>['on']>().toEqualTypeOf<string>()
    const text = (news: News): string => (news.kind === 'article' ? news.author : news.on)
    expectTypeOf(text).toBeFunction()
  })

  test('A function that computes the wrong type is an error', () => {
    pantry({
      collections: {
        huts: {
          files: 'a',
          fields: { name: text() },
          derive: {
            // @ts-expect-error A text is no number
            size: { field: int(), from: (hut) => hut.name },
          },
        },
      },
    })
    pantry({
      collections: {
        huts: {
          files: 'a',
          fields: { name: text() },
          // @ts-expect-error There is no such field
          parent: 'abvoe',
        },
      },
    })
    // @ts-expect-error A number is no label
    choice({ open: 1 })
    // @ts-expect-error It is not among the choices
    choice({ open: 'Open' }, { default: 'shut' })
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
    // @ts-expect-error A collection has fields
    pantry({ collections: { huts: { files: 'a' } } })
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

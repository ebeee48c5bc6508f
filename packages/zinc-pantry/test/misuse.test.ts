import { expect, test } from 'vitest'
import { date, flag, instant, int, list, pantry, ref, text } from 'zinc-pantry'
import { fieldOf, openCollection, QueryError, readCondition, runQuery } from 'zinc-pantry/query'
import { openFiles } from './helpers.ts'

const site = pantry({
  collections: {
    huts: {
      files: 'huts.json',
      search: { name: 1 },
      fields: {
        name: text(),
        beds: int(),
        open: flag(),
        built: date({ optional: true }),
        seen: instant({ optional: true }),
        tags: list(text(), { default: [] }),
        above: ref('huts', { optional: true }),
        'Height (m)': int({ default: 0 }),
      },
    },
  },
})

// biome-ignore lint/suspicious/noExplicitAny: handles as plain JavaScript sees them
type Handle = any
const open = async () => {
  const content = [
    { id: 'gable', name: 'Gable', beds: 24, open: true, tags: ['old'], 'Height (m)': 700 },
    { id: 'ford', name: 'Ford', beds: 8, open: false, above: 'gable' },
  ]
  const opened = await openFiles({ 'huts.json': JSON.stringify(content) }, site)
  return { site: opened.site, huts: openCollection<{ id: string }, Handle, string>(opened.site, 'huts') }
}

/** What a plain JavaScript program may write: everything that TypeScript would have refused. */
const slips: readonly [string, (hut: Handle) => unknown][] = Object.entries({
  and: (hut) => hut.beds.is(24) && hut.open.is(false),
  or: (hut) => hut.beds.is(8) || hut.open.is(true),
  'or behind and': (hut) => hut.beds.is(8).and(hut.open.is(true)) || hut.name.is('Gable'),
  'or within': (hut) => (hut.beds.is(8) || hut.name.is('Gable')).and(hut.open.is(true)),
  'nothing else': (hut) => hut.beds.is(8) ?? hut.open.is(true),
  choice: (hut) => (hut.beds.is(8) ? hut.open.is(true) : hut.name.is('x')),
  not: (hut) => !hut.beds.is(8),
  more: (hut) => (hut.beds as never as number) > 3,
  // biome-ignore lint/suspicious/noDoubleEquals: the slip that is looked for
  'equal loosely': (hut) => (hut.beds as never as number) == 3,
  equal: (hut) => (hut.id as never as string) === 'gable',
  'no condition': () => false,
  nothing: () => undefined,
  object: () => ({}),
  'a field': (hut) => hut.open,
  'an operator': (hut) => hut.beds.is,
  'a promise': async (hut) => hut.beds.is(8),
  'sum of conditions': (hut) => (hut.beds.is(8) as never as number) + (hut.open.is(true) as never as number),
  'a list of conditions': (hut) => [hut.beds.is(8), hut.open.is(true)],
  'and of nothing': (hut) => hut.beds.is(8).and(undefined),
  'lost in a list': (hut) => hut.tags.some((tag: Handle) => (tag.is('old') && tag.is('new')) as Handle),
  undefined: (hut) => hut.beds.is(undefined),
  null: (hut) => hut.name.is(null),
  'a flag for a text': (hut) => hut.name.is(true),
  'no number': (hut) => hut.beds.atLeast(Number.NaN),
  'a Date for a date': (hut) => hut.built.atLeast(new Date(0)),
  'a Date for an instant': (hut) => hut.seen.atLeast(new Date(0)),
  'a day that there is not': (hut) => hut.built.is('2026-02-31'),
  'a word for an instant': (hut) => hut.seen.atLeast('yesterday'),
  'an instant without a zone': (hut) => hut.seen.atLeast('2026-05-01T10:00'),
  'one value too many': (hut) => hut.beds.is(1, 2),
  'half a stretch': (hut) => hut.beds.between(1),
  'a list with a hole': (hut) => hut.beds.isOneOf([1, undefined]),
  'the order of a flag': (hut) => hut.open.atLeast(true),
  'a beginning of a number': (hut) => hut.beds.startsWith('2'),
  'a value of a list': (hut) => hut.tags.is('old'),
  'no text in a list': (hut) => hut.tags.includes(undefined),
} satisfies Record<string, (hut: Handle) => unknown>)

test('What plain JavaScript makes of conditions is refused in a sentence that names the method to use', async () => {
  const { huts } = await open()
  const told = slips.map(([name, build]) => {
    try {
      huts.where(build as never)
    } catch (error) {
      expect(error).toBeInstanceOf(QueryError)
      return `${name}: ${(error as Error).message}`
    }
    return `${name}: not noticed`
  })
  expect(`\n${told.join('\n')}\n`).toMatchInlineSnapshot(`
    "
    and: The condition on beds is lost: write a.and(b) for a && b, a.or(b) for a || b, and a.not() for !a
    or: The condition on open is lost: write a.and(b) for a && b, a.or(b) for a || b, and a.not() for !a
    or behind and: The condition on name is lost: write a.and(b) for a && b, a.or(b) for a || b, and a.not() for !a
    or within: The condition on name is lost: write a.and(b) for a && b, a.or(b) for a || b, and a.not() for !a
    nothing else: The condition on open is lost: write a.and(b) for a && b, a.or(b) for a || b, and a.not() for !a
    choice: The condition on beds is lost: write a.and(b) for a && b, a.or(b) for a || b, and a.not() for !a
    not: The function must return a condition, not false: write a.and(b) for a && b, a.or(b) for a || b, and a.not() for !a
    more: beds is a field and no value: write beds.above(…) for >, .atLeast(…) for >=, .below(…) for <, .is(…) for ==
    equal loosely: beds is a field and no value: write beds.above(…) for >, .atLeast(…) for >=, .below(…) for <, .is(…) for ==
    equal: The function must return a condition, not false: write entry.beds.above(3) for entry.beds > 3, and entry.id.is("a") for entry.id === "a"
    no condition: The function must return a condition, not false: write entry.beds.above(3) for entry.beds > 3, and entry.id.is("a") for entry.id === "a"
    nothing: The function must return a condition, not undefined: write entry.beds.above(3) for entry.beds > 3, and entry.id.is("a") for entry.id === "a"
    object: The function must return a condition, not an object: write entry.beds.above(3) for entry.beds > 3, and entry.id.is("a") for entry.id === "a"
    a field: The function must return a condition, not the field open: write entry.beds.above(3) for entry.beds > 3, and entry.id.is("a") for entry.id === "a"
    an operator: The function must return a condition, not a function: write entry.beds.above(3) for entry.beds > 3, and entry.id.is("a") for entry.id === "a"
    a promise: The function must return a condition, not an object: write a.and(b) for a && b, a.or(b) for a || b, and a.not() for !a
    sum of conditions: A condition has no value: conditions are joined by .and() and .or(), and turned around by .not()
    a list of conditions: The function must return a condition, not a list: write a.and(b) for a && b, a.or(b) for a || b, and a.not() for !a
    and of nothing: .and() takes conditions, not undefined
    lost in a list: The condition on the item is lost: write a.and(b) for a && b, a.or(b) for a || b, and a.not() for !a
    undefined: beds.is takes a number, not undefined
    null: name.is takes a text, not null
    a flag for a text: name.is takes a text, not true
    no number: beds.atLeast takes a number, not NaN
    a Date for a date: built.atLeast takes a date as YYYY-MM-DD, not a Date, whose text toISOString() gives
    a Date for an instant: seen.atLeast takes a date, or an instant as YYYY-MM-DDTHH:MM:SSZ, not a Date, whose text toISOString() gives
    a day that there is not: built.is takes a date as YYYY-MM-DD, not "2026-02-31"
    a word for an instant: seen.atLeast takes a date, or an instant as YYYY-MM-DDTHH:MM:SSZ, not "yesterday"
    an instant without a zone: seen.atLeast takes a date, or an instant as YYYY-MM-DDTHH:MM:SSZ, not "2026-05-01T10:00"
    one value too many: beds.is takes one value, not 2
    half a stretch: beds.between takes a number, not undefined
    a list with a hole: beds.isOneOf takes a number, not undefined
    the order of a flag: There is no field or operator atLeast on open; there are is, isNot, isOneOf, isNoneOf, isPresent, isAbsent
    a beginning of a number: There is no field or operator startsWith on beds; there are is, isNot, isOneOf, isNoneOf, isPresent, isAbsent, atLeast, atMost, above, below, between, band
    a value of a list: There is no field or operator is on tags; there are isPresent, isAbsent, sum, mean, minimum, maximum, each, includes, some, every, none, count
    no text in a list: tags.includes takes a text, not undefined
    "
  `)
})

test('Conditions that are made in loops, by helpers and with choices of the program are none of these', async () => {
  const { huts } = await open()
  const beds: number | undefined = undefined
  const few = (hut: Handle) => hut.beds.below(beds || 10)
  const found = async (build: (hut: Handle) => unknown) =>
    (await huts.where(build as never).toArray()).map(({ id }) => id)
  expect(await found((hut) => few(hut))).toEqual(['ford'])
  expect(await found((hut) => (beds ? hut.beds.is(beds) : hut.open.is(true)))).toEqual(['gable'])
  expect(
    await found((hut) => {
      let all: Handle | undefined
      for (const one of [hut.beds.above(1), hut.open.is(true)]) all = all ? all.and(one) : one
      return all
    }),
  ).toEqual(['gable'])
  expect(await found((hut) => ['old', 'new'].map((tag) => hut.tags.includes(tag)).reduce((a, b) => a.or(b)))).toEqual([
    'gable',
  ])
})

test('Every field can be asked for, whatever its name', async () => {
  const { site: opened, huts } = await open()
  const found = async (build: (hut: Handle) => unknown) =>
    (await huts.where(build as never).toArray()).map(({ id }) => id)
  expect(await found((hut) => hut.above.above.isAbsent().and(hut.above.name.is('Gable')))).toEqual(['ford'])
  expect(await found((hut) => fieldOf(fieldOf(hut, 'above'), 'name').is('Gable'))).toEqual(['ford'])
  expect(await found((hut) => hut['Height (m)'].atLeast(700))).toEqual(['gable'])
  for (const [where, ids] of [
    ['"Height (m)" > 5', ['gable']],
    ['above."Height (m)" = 700', ['ford']],
    ["not 'Height (m)' = 0", ['gable']],
    ['above.above absent and above.beds between 20 and 30', ['ford']],
    ['tags absent', ['ford']],
    ['tags present', ['gable']],
  ] as const) {
    const read = readCondition(where, 'huts', opened.shapes)
    if ('problem' in read) throw new Error(`${where}: ${read.problem.message}`)
    const { entries } = await runQuery(opened, { collection: 'huts', condition: read.condition })
    expect([where, entries.map(({ id }) => id)]).toEqual([where, ids])
  }
})

test('Wrong use of the other methods is refused as well, or means what the documents say', async () => {
  const { site: opened, huts } = await open()
  const wrong = huts as never as Record<string, (...given: unknown[]) => never>
  const told = async (run: () => unknown): Promise<string> => {
    try {
      await run()
    } catch (error) {
      expect(error).toBeInstanceOf(QueryError)
      return (error as Error).message
    }
    return 'not noticed'
  }
  const all = [
    () => wrong.search?.(undefined),
    () => wrong.where?.('beds > 3'),
    () => wrong.sort?.((hut: Handle) => hut.tags),
    () => wrong.sort?.((hut: Handle) => hut.name.descending),
    () => wrong.sort?.(() => undefined),
    () => wrong.sort?.('name'),
    () => wrong.pick?.(() => undefined),
    () => wrong.facets?.((hut: Handle) => hut.tags),
    () => wrong.facets?.(() => undefined),
    () => wrong.distinct?.((hut: Handle) => hut),
    () => wrong.groupBy?.(undefined),
    () => wrong.page?.(),
    () => wrong.pages?.({ size: 0 }),
    () => huts.search('a').hits({ length: Number.NaN }),
    () => wrong.sort?.((hut: Handle) => hut.name.ascending({ collation: 'klingon' })),
    () => wrong.sort?.((hut: Handle) => hut.name.ascending({ collation: 'not a language' })),
    () => wrong.sort?.((hut: Handle) => hut.name.ascending({ absent: 'never' })),
    () => huts.neighbours('nope'),
    () => huts.related('nope'),
    () => huts.byId(undefined as never),
    () => huts.inLocale('xx'),
    () => huts.page({ size: 2, after: 'x' }),
    () => runQuery(opened, { collection: 'huts', locale: 'xx' }),
    () => runQuery(opened, { collection: 'nope' }),
    () => runQuery(opened, { collection: 'huts', sort: [{ path: ['tags'], direction: 'ascending' }] }),
    () => runQuery(opened, { collection: 'huts', condition: { kind: 'all' } as never }),
    () => runQuery(opened, { collection: 'huts', condition: { kind: 'and' } as never }),
    () =>
      runQuery(opened, {
        collection: 'huts',
        condition: { kind: 'test', path: 'beds', operator: 'is', values: [1] } as never,
      }),
    () => runQuery(opened, { collection: 'huts', sort: 'beds' as never }),
  ]
  expect(`\n${(await Promise.all(all.map(told))).join('\n')}\n`).toMatchInlineSnapshot(`
    "
    search takes a text, not undefined
    A condition is made by a function, not "beds > 3"
    tags has no single value to sort by
    sort takes fields, such as trail.title or trail.title.descending(), not a function
    sort takes fields, such as trail.title or trail.title.descending(), not undefined
    Fields are named by a function, such as (trail) => trail.title
    pick takes fields, and objects of them, not undefined
    facets takes an object of fields, such as { grade: trail.grade }
    facets takes an object of fields, such as { grade: trail.grade }
    The entry has no single value
    Fields are named by a function, such as (trail) => trail.title
    size must be a whole number from 1, not undefined
    size must be a whole number from 1, not 0
    length must be a whole number from 1, not NaN
    There are no rules of order here for the language "klingon"
    There are no rules of order here for the language "not a language"
    name cannot be sorted by "never", only by ascending, descending, first, last
    There is no entry "nope" in huts
    There is no entry "nope" in huts
    huts has texts as id, not undefined
    There is no language xx in this site; there is none
    This cursor is none of a query in this order: x
    There is no language xx in this site; there is none
    There is no collection nope; there are huts
    tags has no single value to sort by
    A condition has a kind: test, compare, and, or, not, some, every or none
    parts is a list, not undefined
    path is a list, not "beds"
    sort is a list, not "beds"
    "
  `)
  const ids = async (query: { toArray(): Promise<readonly { id: string }[]> }) =>
    (await query.toArray()).map(({ id }) => id)
  // A second one takes the place of the first.
  expect(await ids(huts.sort(((hut: Handle) => hut.beds) as never).sort(((hut: Handle) => hut.name) as never))).toEqual(
    ['ford', 'gable'],
  )
  expect(await ids(huts.search('ford').search('gable'))).toEqual(['gable'])
  expect(await ids(huts.where(((hut: Handle) => hut.beds.isNoneOf([8, 9])) as never))).toEqual(['gable'])
})

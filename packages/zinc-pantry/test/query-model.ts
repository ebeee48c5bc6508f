import fc from 'fast-check'
import { expect } from 'vitest'
import { choice, date, flag, group, instant, int, list, number, pantry, ref, text, time } from 'zinc-pantry'
import {
  type Comparison,
  type ConditionTree,
  type Operator,
  openSite,
  type Scalar,
  type Site,
  type SortKey,
  type StoredCollection,
} from 'zinc-pantry/query'
import { openFiles } from './helpers.ts'

/** Random content, conditions and orders, and the slow and obvious model of what they give. */

/** The zone of the field of instants. */
const ZONE = 'Europe/Oslo'

/** Huts and trails, with all that an output keeps to answer soon. */
export const site = pantry({
  // Labels are chosen at random, to be near to each other.
  severities: { 'label-near': 'off' },
  collections: {
    huts: {
      files: 'huts.json',
      backlinks: true,
      fields: { name: text(), beds: int({ optional: true }), open: flag(), parent: ref('huts', { optional: true }) },
    },
    trails: {
      files: 'trails.json',
      indexes: 'longer',
      clustered: ['grade,-ascent', 'start.height,title', 'title'],
      fields: {
        title: text(),
        long: text({ optional: true }),
        longer: text({ default: 'x'.repeat(130) }),
        grade: choice(['easy', 'hard']),
        ascent: number({ optional: true }),
        opened: date({ optional: true }),
        at: instant({ optional: true, zone: ZONE }),
        from: time({ optional: true }),
        loop: flag(),
        start: group({ hut: ref('huts', { optional: true }), height: int({ optional: true }) }, { optional: true }),
        tags: list(text(), { optional: true }),
        legs: list(group({ hut: ref('huts'), hours: number(), stops: list(ref('huts'), { optional: true }) })),
        huts: list(ref('huts')),
      },
    },
  },
})

export type Plain = Record<string, unknown>

const ids = ['a', 'b', 'c', 'd', 'e']
const words = fc.constantFrom('', 'fell', 'fells', 'Fell', 'tarn', 'x'.repeat(130), '🏔', '~', 'Fëll', 'å', '7 x')
const numbers = fc.constantFrom(-1, 0, 0.5, 1, 2, 10, 1e21)
const dates = fc.constantFrom('2025-12-31', '2026-01-01', '2026-06-30')
/** Around the ends of a day of the zone, one of which has 23 hours. */
const moments = fc.constantFrom(
  '2026-03-28T23:00:00Z',
  '2026-03-28T22:59:59.999Z',
  '2026-03-29T00:00',
  '2026-03-29 21:59:59.5Z',
  '2026-03-29T22:00:00+00:00',
  '2026-03-29T12:00:00.250Z',
  '2026-03-29T12:00:00Z',
)
const days = fc.constantFrom('2026-03-28', '2026-03-29', '2026-03-30')
const times = fc.constantFrom('09:30', '09:30:00', '09:30:01', '23:59')
const hutIds = fc.constantFrom(...ids)
const maybe = <Value>(value: fc.Arbitrary<Value>) => fc.option(value, { freq: 3 })

const hut = fc.record({
  name: words,
  beds: maybe(fc.integer({ min: 0, max: 3 })),
  open: fc.boolean(),
  parent: maybe(hutIds),
})
const trail = fc.record({
  title: words,
  long: maybe(words),
  grade: fc.constantFrom('easy', 'hard'),
  ascent: maybe(numbers),
  opened: maybe(dates),
  at: maybe(moments),
  from: maybe(times),
  loop: fc.boolean(),
  start: maybe(fc.record({ hut: maybe(hutIds), height: maybe(fc.integer({ min: 0, max: 3 })) })),
  tags: maybe(fc.array(words, { maxLength: 3 })),
  legs: fc.array(fc.record({ hut: hutIds, hours: numbers, stops: maybe(fc.array(hutIds, { maxLength: 2 })) }), {
    maxLength: 3,
  }),
  huts: fc.array(hutIds, { maxLength: 3 }),
})
const fiveHuts = fc.tuple(hut, hut, hut, hut, hut)
export const content = fc.record({ huts: fiveHuts, trails: fc.array(trail, { maxLength: 12 }) })
/** So much that its rows, their orders and their indexes have files of their own. */
export const muchContent = fc.record({ huts: fiveHuts, trails: fc.array(trail, { minLength: 160, maxLength: 160 }) })

const EQUALITY: Operator[] = ['is', 'isNot', 'isOneOf', 'isNoneOf', 'isPresent', 'isAbsent']
const ORDER: Operator[] = [...EQUALITY, 'atLeast', 'atMost', 'above', 'below', 'between']
const WORDS: Operator[] = [...ORDER, 'startsWith', 'includes', 'hasWords', 'matches']

function testOf(path: string[], values: fc.Arbitrary<Scalar>, operators: Operator[]): fc.Arbitrary<ConditionTree> {
  return fc.constantFrom(...operators).chain((operator) => {
    const counts: Partial<Record<Operator, [number, number]>> = {
      isPresent: [0, 0],
      isAbsent: [0, 0],
      between: [2, 2],
      isOneOf: [0, 3],
      isNoneOf: [0, 3],
    }
    const [minLength, maxLength] = counts[operator] ?? [1, 1]
    return fc
      .array(values, { minLength, maxLength })
      .map((list) => ({ kind: 'test', path, operator, values: list }) as const)
  })
}

const compared = (path: string[], other: string[], operators: readonly Comparison[]): fc.Arbitrary<ConditionTree> =>
  fc.constantFrom(...operators).map((operator) => ({ kind: 'compare', path, operator, other }))
const COMPARED: readonly Comparison[] = ['is', 'isNot', 'above', 'atLeast', 'below', 'atMost']

/** Tests on a hut, reached by a path. */
const onHut = (path: string[]): fc.Arbitrary<ConditionTree>[] => [
  testOf([...path, 'name'], words, WORDS),
  testOf([...path, 'beds'], numbers, ORDER),
  testOf([...path, 'open'], fc.boolean(), EQUALITY),
  testOf([...path, 'parent'], hutIds, EQUALITY),
  testOf([...path, 'parent', 'name'], words, WORDS),
  testOf([...path, 'parent', 'parent', 'beds'], numbers, ORDER),
]

const within = (kind: 'some' | 'every' | 'none', path: string[], part: fc.Arbitrary<ConditionTree>) =>
  part.map((inner): ConditionTree => ({ kind, path, part: inner }))
const anyWithin = (path: string[], ...parts: fc.Arbitrary<ConditionTree>[]) =>
  fc.constantFrom('some', 'every', 'none').chain((kind) => within(kind as 'some', path, fc.oneof(...parts)))

/** Tests on what a path of plain names leads to. */
const onFields = [
  testOf(['title'], words, WORDS),
  testOf(['long'], words, WORDS),
  testOf(['grade'], fc.constantFrom('easy', 'hard'), EQUALITY),
  testOf(['ascent'], numbers, ORDER),
  testOf(['opened'], dates, ORDER),
  testOf(['at'], fc.oneof(moments, days), ORDER),
  testOf(['from'], times, ORDER),
  testOf(['loop'], fc.boolean(), EQUALITY),
  testOf(['id'], fc.constantFrom('t0', 't1', 't9'), WORDS),
  testOf(['start', 'height'], numbers, ORDER),
  testOf(['start'], numbers, ['isPresent', 'isAbsent']),
  testOf(['tags'], numbers, ['isPresent', 'isAbsent']),
  ...onHut(['start', 'hut']),
]

const leaf = fc.oneof(
  ...onFields,
  anyWithin(['tags'], testOf([], words, WORDS)),
  anyWithin(['huts'], testOf([], hutIds, EQUALITY), ...onHut([])),
  anyWithin(['legs'], testOf(['hours'], numbers, ORDER), ...onHut(['hut']), anyWithin(['stops'], ...onHut([]))),
  testOf(['opened', 'year()'], fc.constantFrom(2025, 2026), ORDER),
  testOf(['at', `month(${ZONE})`], fc.constantFrom('2026-03', '2026-04'), WORDS),
  testOf(['title', 'folded()'], fc.constantFrom('fell', 'a', 'x', ''), WORDS),
  testOf(['long', 'initial()'], fc.constantFrom('F', 'A', '#'), EQUALITY),
  testOf(['ascent', 'band(0,1,5)'], fc.constantFrom(0, 1, 5), ORDER),
  testOf(['start', 'hut', 'beds', 'band(1,3)'], fc.constantFrom(1, 3), ORDER),
  ...['sum(hours)', 'mean(hours)', 'minimum(hours)', 'maximum(hours)', 'count()'].map((step) =>
    testOf(['legs', step], numbers, ORDER),
  ),
  compared(['ascent'], ['start', 'height'], COMPARED),
  compared(['title'], ['long'], COMPARED),
  compared(['start', 'hut', 'beds'], ['start', 'height'], COMPARED),
  compared(['title'], ['start', 'hut', 'parent', 'name'], COMPARED),
  anyWithin(['legs'], compared(['hours'], ['hut', 'beds'], COMPARED)),
  anyWithin(['huts'], compared(['beds'], ['parent', 'beds'], COMPARED)),
)
export const { tree: condition } = fc.letrec<{ tree: ConditionTree }>((tie) => ({
  tree: fc.oneof(
    { maxDepth: 3, withCrossShrink: true },
    leaf,
    fc
      .array(tie('tree'), { minLength: 1, maxLength: 3 })
      .chain((parts) => fc.constantFrom('and', 'or').map((kind): ConditionTree => ({ kind: kind as 'and', parts }))),
    tie('tree').map((part): ConditionTree => ({ kind: 'not', part })),
  ),
}))
/** Values that a field may have and that none can, for any operator on any path. */
const wild = fc.oneof(
  fc.constantFrom<unknown>(undefined, null, Number.NaN, Infinity, 5, true, '', 'hard', 'medium', '2026-02-31', '9:30'),
  fc.constantFrom<unknown>('09:30', '2026-03-29', '2026-03-29T25:00Z', 'fell', 'a'),
  fc.constant(new Date(0)),
  fc.constant([]),
  fc.constant({ a: 1 }),
)
/** Conditions that may be wrong in every way: as plain data, and as a function of handles makes them. */
const anyTest = fc
  .tuple(
    fc.constantFrom(...WORDS, 'isnt'),
    fc.constantFrom(
      'title',
      'grade',
      'ascent',
      'opened',
      'at',
      'from',
      'loop',
      'tags',
      'start',
      'huts',
      'start.hut',
      'start.hut.beds',
      'legs.hours',
      'nope',
    ),
    fc.array(wild, { maxLength: 3 }),
  )
  .map(([operator, name, values]) => ({ operator, path: name.split('.'), values }))
/** As many that are right, so that a few runs have both. */
export const wildTest = fc.oneof(
  anyTest,
  fc.oneof(...onFields).map((tree) => tree as unknown as { operator: string; path: string[]; values: unknown[] }),
)
export const sorts = fc.array(
  fc.record({
    path: fc.constantFrom(
      ['title'],
      ['ascent'],
      ['opened'],
      ['at'],
      ['from'],
      ['loop'],
      ['id'],
      ['start', 'height'],
      ['start', 'hut', 'name'],
      ['start', 'hut', 'parent', 'beds'],
      ['legs', 'sum(hours)'],
      ['title', 'folded()'],
      ['opened', 'year()'],
    ),
    direction: fc.constantFrom<SortKey['direction']>('ascending', 'descending'),
  }),
  { maxLength: 2 },
)

/** The slow and obvious model: a filter over arrays. */
export function createModel(huts: readonly Plain[]) {
  /** Names that lead from a hut's id into the hut. */
  const read = (value: unknown, path: readonly string[]): unknown => {
    let at = value
    for (const name of path) {
      if (typeof at === 'string' && !name.endsWith(')')) at = huts.find(({ id }) => id === at)
      if (at === null || at === undefined) return null
      at = name.endsWith(')') ? compute(at, name) : (at as Plain)[name]
    }
    return at ?? null
  }
  const holds = (tree: ConditionTree, value: unknown): boolean => {
    if ('parts' in tree) {
      const answers = tree.parts.map((part) => holds(part, value))
      return tree.kind === 'and' ? !answers.includes(false) : answers.includes(true)
    }
    if (tree.kind === 'not') return !holds(tree.part, value)
    const found = read(value, tree.path)
    if (tree.kind === 'compare') {
      const other = read(value, tree.other)
      const isAbsent = found === null || other === null
      if (isAbsent) return tree.operator === 'isNot'
      return holdsValue(tree.operator, found as Scalar, [other as Scalar])
    }
    if (tree.kind !== 'test') {
      const count = ((found ?? []) as unknown[]).filter((item) => holds(tree.part, item)).length
      if (tree.kind === 'some') return count > 0
      return tree.kind === 'none' ? count === 0 : count === ((found ?? []) as unknown[]).length
    }
    if (Array.isArray(found)) return (tree.operator === 'isPresent') === found.length > 0
    return holdsValue(tree.operator, found as Scalar | null, tree.values)
  }
  const compare =
    (keys: readonly SortKey[]) =>
    (a: Plain, b: Plain): number => {
      for (const { path, direction } of keys) {
        const [left, right] = [read(a, path), read(b, path)] as [Scalar | null, Scalar | null]
        if (left === right) continue
        if (left === null) return 1
        if (right === null) return -1
        return (left < right ? -1 : 1) * (direction === 'ascending' ? 1 : -1)
      }
      return 0
    }
  return { holds, compare, read, huts }
}

/** What a step computes of a value, written down case by case. */
function compute(value: unknown, step: string): unknown {
  const [, name, argument = ''] = /^(\w+)\((.*)\)$/.exec(step) ?? []
  const text = String(value)
  const day = argument === ZONE ? () => dayOf.format(Date.parse(text)) : () => text
  const list = (value as readonly Plain[]) ?? []
  const hours = Array.isArray(value) ? list.map((one) => one.hours as number) : []
  const sum = hours.reduce((all, one) => all + one, 0)
  const ofSome = (number: number): number | null => (hours.length === 0 ? null : number)
  const [letter] = text.match(/[a-zåë\d]/i) ?? []
  const bounds = argument.split(',').map(Number)
  switch (name) {
    case 'year':
      return Number(day().slice(0, 4))
    case 'month':
      return day().slice(0, 7)
    case 'folded':
      return text.toLowerCase().replace('ë', 'e').replace('å', 'a')
    case 'initial':
      return letter === undefined ? null : /\d/.test(letter) ? '#' : letter.toUpperCase().replace('Å', 'A')
    case 'band':
      return bounds.filter((bound) => bound <= Number(value)).at(-1) ?? null
    case 'count':
      return hours.length
    case 'sum':
      return sum
    case 'mean':
      return ofSome(sum / hours.length)
    case 'minimum':
      return ofSome(Math.min(...hours))
    default:
      return ofSome(Math.max(...hours))
  }
}

const dayOf = new Intl.DateTimeFormat('sv-SE', { timeZone: ZONE })
const isDay = (value: unknown): boolean => /^\d{4}-\d\d-\d\d$/.test(String(value))

/** Where a value lies beside one that is asked for: before it, in it or behind it. */
function sideOf(value: Scalar, asked: Scalar): number {
  const isMoment = typeof value === 'string' && /^\d{4}-\d\d-\d\dT/.test(value)
  const compare = (a: Scalar, b: Scalar): number => (a < b ? -1 : +(a > b))
  if (!isMoment) return compare(plainTime(value), plainTime(asked))
  if (isDay(asked)) return compare(dayOf.format(Date.parse(value)), asked)
  // A text without a zone counts in that of the field, which is two hours ahead of UTC that day; at midnight one.
  const zoned = String(asked) === '2026-03-29T00:00' ? '2026-03-28T23:00Z' : String(asked)
  return compare(Date.parse(value), Date.parse(zoned))
}

const plainTime = (value: Scalar): Scalar =>
  typeof value === 'string' && /^\d\d:\d\d(:\d\d)?$/.test(value) ? value.padEnd(8, ':00') : value

function holdsValue(operator: Operator, value: Scalar | null, values: readonly Scalar[]): boolean {
  if (operator === 'isAbsent') return value === null
  if (operator === 'isNot' || operator === 'isNoneOf')
    return value === null || !values.some((one) => sideOf(value, one) === 0)
  if (value === null) return false
  const [a, b = a] = values as [Scalar, Scalar?]
  if (operator === 'isOneOf') return values.some((one) => sideOf(value, one) === 0)
  if (operator === 'isPresent') return true
  const words = (text: unknown): string[] =>
    String(text)
      .toLowerCase()
      .replaceAll('ë', 'e')
      .replaceAll('å', 'a')
      .match(/[a-z\d]+/g) ?? []
  const answers: Partial<Record<Operator, () => boolean>> = {
    is: () => sideOf(value, a) === 0,
    atLeast: () => sideOf(value, a) >= 0,
    above: () => sideOf(value, a) > 0,
    atMost: () => sideOf(value, a) <= 0,
    below: () => sideOf(value, a) < 0,
    between: () => sideOf(value, a) >= 0 && sideOf(value, b) <= 0,
    startsWith: () => String(value).startsWith(String(a)),
    includes: () => String(value).includes(String(a)),
    matches: () => new RegExp(String(a), 'u').test(String(value)),
    hasWords: () => words(a).every((word) => words(value).includes(word)),
  }
  return answers[operator]?.() ?? false
}

/** The same site without its indexes, but for those of ids. */
export function withoutIndexes(opened: Site): Site {
  const collections = ['huts', 'trails'].map((name): StoredCollection => {
    const stored = opened.stored(name)
    const catalogue = async () => {
      const { default: content } = await stored.catalogue()
      const { id, slug } = content.indexes
      return { default: { ...content, indexes: { ...(id ? { id } : {}), ...(slug ? { slug } : {}) } } }
    }
    return { ...stored, catalogue }
  })
  return openSite(collections)
}

export interface SomeContent {
  readonly huts: readonly object[]
  readonly trails: readonly object[]
}

/** Content as files of the content folder. */
export const filesOf = ({ huts, trails }: SomeContent) => ({
  'huts.json': JSON.stringify(huts.map((one, at) => ({ id: ids[at], ...one }))),
  'trails.json': JSON.stringify(trails.map((one, at) => ({ id: `t${at}`, ...one }))),
})

/** The site with some content. */
export async function openTrails(some: SomeContent) {
  const opened = await openFiles(filesOf(some), site)
  expect(opened.diagnostics).toEqual([])
  return opened.site
}

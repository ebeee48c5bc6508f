import { createHash } from 'node:crypto'
import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { createMemo, FORGETFUL, type Memo } from '../dist/memo/memo.js'
import { openRecordStore } from '../dist/memo/record-store.js'
import type { Storage } from '../dist/memo/storage.js'
import { runs } from './helpers.ts'

interface Item {
  readonly name: number
  /** Names of values that its result reads, one of which may depend on another. */
  readonly reads: readonly number[]
}

/** What a result is made of in one run. */
interface World {
  readonly items: readonly Item[]
  readonly input: number
  readonly values: readonly number[]
  /** True where nobody asks for what is made of lists. */
  readonly isBrief?: boolean
}

const number = fc.integer({ min: 0, max: 5 })
const item = fc.record({ name: number, reads: fc.array(number, { maxLength: 3 }) })
const change = fc.oneof(
  fc.record({ kind: fc.constant('replace' as const), at: number, item }),
  fc.record({ kind: fc.constant('insert' as const), at: number, item }),
  fc.record({ kind: fc.constant('remove' as const), at: number }),
  fc.record({ kind: fc.constant('swap' as const), at: number }),
  fc.record({ kind: fc.constant('value' as const), at: number, value: number }),
  fc.record({ kind: fc.constant('input' as const), value: fc.integer({ min: 0, max: 1 }) }),
  fc.record({ kind: fc.constant('nothing' as const), isBrief: fc.boolean() }),
)

/** The next world; what is asked for stays, where nothing else is said. */
const applyTo = (world: World, one: typeof change extends fc.Arbitrary<infer C> ? C : never): World => ({
  isBrief: one.kind === 'nothing' ? one.isBrief : (world.isBrief ?? false),
  ...apply(world, one),
})

function apply({ items, input, values }: World, one: typeof change extends fc.Arbitrary<infer C> ? C : never): World {
  if (one.kind === 'replace') return { items: items.map((old, at) => (at === one.at ? one.item : old)), input, values }
  if (one.kind === 'insert') return { items: items.toSpliced(one.at, 0, one.item), input, values }
  if (one.kind === 'remove') return { items: items.toSpliced(one.at, 1), input, values }
  if (one.kind === 'swap')
    return { items: items.toSpliced(one.at, 2, ...items.slice(one.at, one.at + 2).reverse()), input, values }
  if (one.kind === 'value') return { items, input, values: values.map((old, at) => (at === one.at ? one.value : old)) }
  return one.kind === 'input' ? { items, input: one.value, values } : { items, input, values }
}

/** The outcome of a run. */
interface Outcome {
  readonly results: readonly object[]
  readonly sum: object
  /** Of what reads nothing: names that are odd are made anew each time, and all others with an equal name are one. */
  readonly names: readonly { readonly half: number }[]
  /** Of what is read from one list of values. */
  readonly answers: readonly number[]
  /** What is made of a list that was made of another one, and that of lists of several lengths. */
  readonly spread: readonly object[]
  readonly made: Item[]
  readonly odd: Item[]
}

/** A small graph: results of items, which read values, of which again a sum is made, and two that read nothing or of one source. */
function run(memo: Memo, { items, input, values, isBrief = false }: World): Outcome {
  const made: Item[] = []
  const odd: Item[] = []
  const names = memo.map('names', items, {
    inputs: [input],
    make(one) {
      const half = Math.floor(one.name / 2)
      if (half % 2 !== 0) odd.push(one)
      return { half }
    },
    isEqual: (one, other) => one.half === other.half,
    isKept: ({ half }) => half % 2 === 0,
  })
  const answers = memo.map('answers', items, {
    look: (_, name: number) => values[name] ?? 0,
    answeredFrom: [values],
    make: (one, read) => one.reads.reduce((sum, name) => sum + read(name), one.name),
  })
  const results = memo.map('results', items, {
    inputs: [input],
    look: (_, name: number) => values[name] ?? 0,
    make(one, read) {
      made.push(one)
      const total = one.reads.reduce((sum, name) => sum + read(name), one.name + input)
      // What is read can depend on what was read.
      return { total: total % 2 === 0 ? total + read(5) : total }
    },
  })
  const totals = memo.keepEqual(
    'totals',
    results.map(({ total }) => total),
    (one, other) => String(one) === String(other),
  )
  const sum = memo.value('sum', [totals], () => ({ sum: totals.reduce((all, one) => all + one, 0) }))
  const lists = memo.map('lists', answers, { make: (one) => Array.from({ length: one % 3 }, (_, at) => one + at) })
  const flat = memo.flat('flat', lists)
  const make = (one: number): object => ({ one: one * 2 })
  const spread = isBrief
    ? []
    : [...memo.map('spread', flat, { inputs: [input], make }), ...memo.map('doubled', answers, { make })]
  return { results, sum, names, answers, spread, made, odd }
}

describe('A memo', () => {
  test('gives what a graph gives without it, after any changes, and makes nothing again whose sources are the same', () => {
    const start = fc.record({
      items: fc.array(item, { maxLength: 8 }),
      input: fc.constant(0),
      values: fc.constant([0, 1, 2, 3, 4, 5]),
    })
    fc.assert(
      fc.property(start, fc.array(change, { maxLength: 30 }), (first, changes) => {
        const memo = createMemo()
        let world: World = first
        let last = run(memo, world)
        for (const one of changes) {
          const before = world
          world = applyTo(world, one)
          const next = run(memo, world)
          const clean = run(FORGETFUL, world)
          expect(next.results).toEqual(clean.results)
          expect(next.sum).toEqual(clean.sum)
          expect(next.names).toEqual(clean.names)
          expect(next.answers).toEqual(clean.answers)
          expect(next.spread).toEqual(clean.spread)
          expect(new Set(next.odd)).toEqual(new Set(clean.odd))
          const isAgain = !before.isBrief && !world.isBrief && before.input === world.input
          if (isAgain && String(next.answers) === String(last.answers))
            for (const [at, one] of next.spread.entries()) expect(one).toBe(last.spread[at])
          if (String(next.names.map(({ half }) => half)) === String(last.names.map(({ half }) => half)))
            expect(next.names).toBe(last.names)
          if (one.kind === 'nothing') expect(next.results).toBe(last.results)
          const isSame =
            String(next.results.map((one) => JSON.stringify(one))) ===
            String(last.results.map((one) => JSON.stringify(one)))
          if (isSame) expect(next.sum).toBe(last.sum)
          // The slow model: an item that stood anywhere before, none of whose reads changed, is not made again.
          const isTouched = (one: Item): boolean =>
            !before.items.includes(one) ||
            before.input !== world.input ||
            [...one.reads, 5].some((name) => before.values[name] !== world.values[name])
          const moved = before.items.length !== world.items.length || one.kind === 'swap'
          if (!moved) for (const made of next.made) expect(isTouched(made)).toBe(true)
          last = next
        }
      }),
      { numRuns: runs(300, 20_000) },
    )
  })

  test('keeps the last of equal values, forgets what it is told to, and knows what is read later', async () => {
    const memo = createMemo()
    const isEqual = (one: { id: number }, other: { id: number }): boolean => one.id === other.id
    const first = memo.value('node', ['a'], () => ({ id: 1 }), { isEqual })
    expect(memo.value('node', ['b'], () => ({ id: 1 }), { isEqual })).toBe(first)
    expect(memo.within('part').value('node', ['b'], () => ({ id: 2 }))).toEqual({ id: 2 })
    const failed = { isKept: ({ id }: { id: number }) => id !== 3 }
    const bad = memo.value('bad', [], () => ({ id: 3 }), failed)
    expect(memo.value('bad', [], () => ({ id: 3 }), failed)).not.toBe(bad)
    memo.clear()
    expect(memo.value('node', ['b'], () => ({ id: 1 }), { isEqual })).not.toBe(first)

    // What is made in the meantime reads after the list is given.
    let price = 1
    const late = (): readonly Promise<number>[] =>
      memo.map('late', ['tea'], {
        look: (_: string, _key: null) => price,
        readsLater: true,
        make: async (_, read) => {
          await Promise.resolve()
          return read(null)
        },
      })
    const made = late()
    expect(await made[0]).toBe(1)
    expect(late()).toBe(made)
    price = 2
    expect(await late()[0]).toBe(2)
  })
})

/** A place for records in memory. */
function createStorage(): Storage & { readonly files: Map<string, Uint8Array> } {
  const files = new Map<string, Uint8Array>()
  const write = (file: string, content: string | Uint8Array): void =>
    void files.set(file, typeof content === 'string' ? new TextEncoder().encode(content) : Uint8Array.from(content))
  return {
    files,
    list: (folder) => ({
      files: [...files.keys()]
        .filter((file) => file.startsWith(`${folder}/`))
        .map((file) => file.slice(folder.length + 1)),
    }),
    read(file) {
      const content = files.get(file)
      if (!content) throw new Error(file)
      return content
    },
    write,
    remove: (file) => void files.delete(file),
    startWriting: () => ({ write, settled: async () => undefined }),
    digest: (content) => createHash('md5').update(content).digest('hex'),
    checksum: (content, seed) => createHash('md5').update(seed).update(content).digest('hex').slice(0, 8),
    isFault: () => true,
    isLeftOver: () => false,
  }
}

const keyOf = (number: number): string => String(number).padStart(32, '0')
const sizeOf = ({ files }: ReturnType<typeof createStorage>): number =>
  [...files.values()].reduce((sum, content) => sum + content.length, 0)

describe('Records', () => {
  test('beyond their limit go, but for those that the last run used', async () => {
    const storage = createStorage()
    const open = () => openRecordStore(storage, 'cache', { isReread: false, maxBytes: 200_000 })
    const first = open()
    for (let number = 0; number < 100; number++)
      first.put(keyOf(number), [JSON.stringify({ number, text: 'x'.repeat(1_500) })])
    await first.save()
    const second = open()
    for (let number = 0; number < 100; number += 10) expect(second.get(keyOf(number))).toMatchObject({ number })
    for (let number = 100; number < 150; number++)
      second.put(keyOf(number), [JSON.stringify({ number, text: 'x'.repeat(1_500) })])
    await second.save()
    expect(sizeOf(storage)).toBeLessThan(100_000)
    const third = open()
    for (let number = 0; number < 150; number++)
      expect(third.get(keyOf(number)) !== undefined, String(number)).toBe(number >= 100 || number % 10 === 0)
  })

  test('that are damaged are not there, and the others are', async () => {
    const storage = createStorage()
    const store = openRecordStore(storage, 'cache', { isReread: false })
    for (let number = 0; number < 5; number++) store.put(keyOf(number), ['{"number":', String(number), '}'])
    await store.save()
    const [segment = ''] = [...storage.files.keys()].filter((file) => file.endsWith('.records'))
    const bytes = storage.files.get(segment) as Uint8Array
    const at = Buffer.from(bytes).indexOf('"number":3')
    bytes[at + 9] = 52
    const again = openRecordStore(storage, 'cache', { isReread: false })
    expect([0, 1, 2, 3, 4].map((number) => again.get(keyOf(number)) !== undefined)).toEqual([
      true,
      true,
      true,
      false,
      true,
    ])
  })
})

import { rmSync } from 'node:fs'
import { join } from 'node:path'
import fc from 'fast-check'
import { expect, test } from 'vitest'
import { buildSite, createMemoryHost, type MemoryHost, openContent } from 'zinc-pantry/engine'
import {
  type Collection,
  type Condition,
  type ConditionTree,
  fieldOf,
  readCondition,
  runQuery,
  type SortKey,
  writeCondition,
} from 'zinc-pantry/query'
import { run } from '../dist/bundle/cli.js'
import { linkPackages, makeFolder, runs } from './helpers.ts'
import { condition, createModel, filesOf, muchContent, type Plain, site, sorts } from './query-model.ts'

const configurationFile = 'pantry.config.ts'

/** Handles of which the compiler knows nothing: names and operators are put together here. */
type Handle = { readonly [name: string]: (...given: unknown[]) => Handle }

/** The handle at a path, whose last step may be computed. */
const follow = (handle: Handle, path: readonly string[]): Handle =>
  path.reduce((at, step) => {
    const [, method, given = ''] = /^(\w+)\((.*)\)$/.exec(step) ?? []
    if (method === undefined) return fieldOf(at as never, step as never) as Handle
    const call = at[method] as Handle[string]
    if (['sum', 'mean', 'minimum', 'maximum'].includes(method))
      return call.call(at, (item: Handle) => follow(item, [given]))
    return call.call(at, ...(method === 'band' ? given.split(',').map(Number) : []))
  }, handle)

/** A condition as a program writes it. */
function typed(tree: ConditionTree, handle: Handle): Handle {
  const apply = (at: Handle, operator: string, ...given: unknown[]): Handle =>
    (at[operator] as Handle[string]).call(at, ...given)
  if ('parts' in tree) {
    const [first, ...others] = tree.parts.map((part) => typed(part, handle))
    return others.reduce((one, other) => apply(one, tree.kind, other), first as Handle)
  }
  if (tree.kind === 'not') return apply(typed(tree.part, handle), 'not')
  const at = follow(handle, tree.path)
  if (tree.kind === 'compare') return apply(at, tree.operator, follow(handle, tree.other))
  if (tree.kind !== 'test') return apply(at, tree.kind, (item: Handle) => typed(tree.part, item))
  const isList = tree.operator === 'isOneOf' || tree.operator === 'isNoneOf'
  return apply(at, tree.operator, ...(isList ? [tree.values] : tree.values))
}

type Trails = Collection<Plain & { readonly id: string }, Handle, string>

/** The module that a build wrote, as a site loads it. */
async function loadOutput(host: MemoryHost) {
  const written = [...host.files].filter(([path]) => path.startsWith('generated/'))
  const root = makeFolder(Object.fromEntries(written))
  linkPackages(root)
  const module = (await import(join(root, 'generated/pantry/index.js'))) as {
    readonly trails: Trails
    readonly huts: { backlinks(id: string): Promise<readonly { readonly entry: Plain; readonly path: string }[]> }
  }
  return { ...module, close: () => rmSync(root, { recursive: true }) }
}

/** What the command prints, as JSON. */
async function ask(host: MemoryHost, ...args: readonly string[]): Promise<unknown> {
  let output = ''
  let problem = ''
  const stdout = { write: (text: string) => (output += text) }
  const stderr = { write: (text: string) => (problem += text) }
  const surroundings = { env: {}, folder: '/', stopped: async () => undefined, openHost: () => host }
  const streams = { stdout, stderr }
  const code = await run([...args, '--format', 'json'], { ...surroundings, ...streams } as never)
  expect([args, code, code === 0 ? '' : problem]).toEqual([args, 0, ''])
  return JSON.parse(output)
}

const idsOf = (entries: readonly Plain[]): unknown[] => entries.map(({ id }) => id)
const keyText = ({ path, direction }: SortKey): string => (direction === 'descending' ? '-' : '') + path.join('.')
/** Orders in which rows are kept once more, too. */
const someSort: fc.Arbitrary<readonly SortKey[]> = fc.oneof<fc.Arbitrary<readonly SortKey[]>[]>(
  sorts,
  fc.constantFrom<SortKey[]>(
    [
      { path: ['grade'], direction: 'ascending' },
      { path: ['ascent'], direction: 'descending' },
    ],
    [
      { path: ['start', 'height'], direction: 'ascending' },
      { path: ['title'], direction: 'ascending' },
    ],
    [{ path: ['title'], direction: 'ascending' }],
  ),
)
const question = fc.record({
  tree: condition,
  sort: someSort,
  start: fc.nat(40),
  size: fc.integer({ min: 1, max: 20 }),
})

const TITLE = 'A question has one answer: to the written module, as text and on the command line, whatever serves it'
test(TITLE, { timeout: runs(120_000, 3_600_000) }, async () => {
  await fc.assert(
    fc.asyncProperty(muchContent, fc.array(question, { minLength: 6, maxLength: 6 }), async (data, questions) => {
      const files = Object.entries(filesOf(data)).map(([path, content]) => [`content/${path}`, content] as const)
      const host = createMemoryHost({ [configurationFile]: '', ...Object.fromEntries(files) }, site)
      expect((await buildSite({ host, configurationFile })).diagnostics).toEqual([])
      const catalogue = [...host.files].find(([path]) => /catalogues\/trails/.test(path))?.[1]
      for (const part of ['"clusters"', '"cube"']) expect(String(catalogue)).toContain(part)
      const { trails, huts, close } = await loadOutput(host)
      const { site: opened } = await openContent({ host, configurationFile })
      const all = (await trails.toArray()) as readonly Plain[]
      const model = createModel((await runQuery(opened, { collection: 'huts' })).entries as readonly Plain[])
      for (const { tree, sort, start, size } of questions) {
        const expected = all.filter((entry) => model.holds(tree, entry)).sort(model.compare(sort))
        const page = idsOf(expected.slice(start, start + size))
        const matching = trails.where((trail) => typed(tree, trail) as unknown as Condition)
        const sorted = sort.length === 0 ? matching : matching.sort(() => sort as never)
        expect(idsOf(await sorted.offset(start).limit(size).toArray())).toEqual(page)
        expect(await matching.count()).toBe(expected.length)
        const text = writeCondition(tree)
        const read = readCondition(text, 'trails', opened.shapes)
        if ('problem' in read) throw new Error(`${read.problem.message} in ${text}`)
        const request = { collection: 'trails', condition: read.condition, sort, offset: start, limit: size }
        const byText = await runQuery(opened, request)
        expect([text, byText.total, idsOf(byText.entries)]).toEqual([text, expected.length, page])
        const where = ['query', 'trails', '--where', text]
        const order = sort.length === 0 ? [] : ['--sort', sort.map(keyText).join(',')]
        const told = await ask(host, ...where, ...order, '--offset', `${start}`, '--limit', `${size}`, '--fields', 'id')
        expect([text, idsOf(told as readonly Plain[])]).toEqual([text, page])

        const counts = new Map<string, number>()
        for (const { grade, loop } of expected)
          counts.set(`${grade} ${loop}`, (counts.get(`${grade} ${loop}`) ?? 0) + 1)
        const groups = await matching.groupBy((trail) => [trail.grade, trail.loop] as never)
        expect(new Map(groups.map(({ value, count }) => [(value as unknown[]).join(' '), count]))).toEqual(counts)
        const asked = (await ask(host, ...where, '--groups', 'grade,loop')) as readonly Plain[]
        expect(new Map(asked.map((one) => [`${one.grade} ${one.loop}`, one.count]))).toEqual(counts)

        const at = Math.min(start, expected.length - 1)
        const { previous, next } = await sorted.neighbours((expected[at]?.id ?? 't0') as string)
        const beside = at < 0 ? [undefined, undefined] : [expected[at - 1]?.id, expected[at + 1]?.id]
        expect([previous?.id, next?.id]).toEqual(beside)
      }
      for (const id of ['a', 'c']) {
        const found = (await huts.backlinks(id)).map(({ entry, path }) => `${entry.id} ${path}`)
        expect(found.toSorted()).toEqual(findBacklinks(id, [...all, ...model.huts]).toSorted())
      }
      close()
    }),
    { numRuns: runs(6, 300), endOnFailure: true },
  )
})

/** The references of entries to a hut, each field of an entry once. */
function findBacklinks(id: string, entries: readonly Plain[]): string[] {
  const pathsTo = (value: unknown, path: string): string[] => {
    if (value === id) return [path]
    if (Array.isArray(value)) return value.flatMap((item) => pathsTo(item, path))
    if (typeof value !== 'object' || value === null) return []
    return Object.entries(value).flatMap(([name, inner]) => pathsTo(inner, path === '' ? name : `${path}.${name}`))
  }
  return entries.flatMap(({ id: own, slug: _, collection: __, source: ___, ...values }) =>
    own === id ? [] : [...new Set(pathsTo(values, ''))].map((path) => `${own} ${path}`),
  )
}

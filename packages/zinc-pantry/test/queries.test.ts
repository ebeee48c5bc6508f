import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import {
  type ConditionTree,
  openCollection,
  QueryError,
  readCondition,
  runQuery,
  type Scalar,
  type Site,
  type SortKey,
  writeCondition,
} from 'zinc-pantry/query'
import { runs } from './helpers.ts'
import {
  condition,
  content,
  createModel,
  openTrails,
  type Plain,
  sorts,
  wildTest,
  withoutIndexes,
} from './query-model.ts'

test('An indexed query gives what a filter and a sort over arrays give', async () => {
  let tried = 0
  let indexed = 0
  await fc.assert(
    fc.asyncProperty(
      content,
      fc.array(condition, { minLength: 4, maxLength: 8 }),
      sorts,
      fc.nat(4),
      fc.option(fc.nat(6)),
      async (data, conditions, sort, offset, limit) => {
        const opened = await openTrails(data)
        const all = (await runQuery(opened, { collection: 'trails' })).entries as readonly Plain[]
        const model = createModel((await runQuery(opened, { collection: 'huts' })).entries as readonly Plain[])
        const scanned = withoutIndexes(opened)
        for (const tree of conditions) {
          tried++
          const request = { collection: 'trails', condition: tree, sort, offset, limit: limit ?? undefined }
          const result = await runQuery(opened, request)
          expect((await runQuery(scanned, request)).entries).toEqual(result.entries)
          const expected = all.filter((entry) => model.holds(tree, entry)).sort(model.compare(sort))
          expect(result.total).toBe(expected.length)
          expect(result.entries).toEqual(expected.slice(offset, limit === null ? undefined : offset + limit))
          if (result.plan.steps.length > 0) indexed++
        }
      },
    ),
    { numRuns: 250 },
  )
  expect(indexed).toBeGreaterThan(tried / 3)
})

test('A condition that may be wrong gives the same entries or the same error, with indexes and without, typed or plain', async () => {
  const counts = { found: 0, refused: 0 }
  await fc.assert(
    fc.asyncProperty(content, fc.array(wildTest, { minLength: 8, maxLength: 12 }), async (data, tests) => {
      const opened = await openTrails(data)
      const scanned = withoutIndexes(opened)
      for (const { operator, path, values } of tests) {
        const ask = async (run: () => Promise<readonly unknown[]>): Promise<unknown> => {
          try {
            return (await run()).map((entry) => (entry as Plain).id)
          } catch (error) {
            expect(error).toBeInstanceOf(QueryError)
            return (error as Error).message
          }
        }
        const condition = { kind: 'test', path, operator, values } as unknown as ConditionTree
        const plain = (site: Site) =>
          ask(async () => (await runQuery(site, { collection: 'trails', condition })).entries)
        type Handles = { [name: string]: Handles } & ((...given: unknown[]) => never)
        const typed = (site: Site) =>
          ask(() => {
            const all = openCollection<Plain, Handles, string>(site, 'trails')
            const handle = (fields: Handles) => path.reduce((at, name) => at[name] as Handles, fields)
            const given = operator === 'isOneOf' || operator === 'isNoneOf' ? [values] : values
            return all.where((fields) => (handle(fields)[operator] as Handles)(...given)).toArray()
          })
        const answer = await plain(opened)
        counts[typeof answer === 'string' ? 'refused' : 'found']++
        expect(await plain(scanned)).toEqual(answer)
        const handled = await typed(opened)
        // Handles of lists have an operator of their own with that name.
        if (operator === 'includes' && (path[0] === 'tags' || path[0] === 'huts')) continue
        // A wrong name is told with all that handles have, which is more.
        if (typeof answer === 'string' && /^There is no/.test(answer)) expect(handled).toEqual(expect.any(String))
        else expect(handled).toEqual(answer)
        expect(await typed(scanned)).toEqual(handled)
      }
    }),
    { numRuns: runs(40, 2000) },
  )
  expect(Math.min(counts.found, counts.refused)).toBeGreaterThan(10)
})

test('The text form of a condition leads back to it', async () => {
  const { shapes } = await openTrails({ huts: [], trails: [] })
  /** A part alone needs no "and" around it. */
  const plain = (tree: ConditionTree): ConditionTree => {
    if ('parts' in tree) {
      const parts = tree.parts.map(plain)
      return parts.length === 1 ? (parts[0] as ConditionTree) : { kind: tree.kind, parts }
    }
    return 'part' in tree ? { ...tree, part: plain(tree.part) } : tree
  }
  fc.assert(
    fc.property(condition, (tree) => {
      const read = (condition: ConditionTree): ConditionTree => {
        const answer = readCondition(writeCondition(condition), 'trails', shapes)
        if ('problem' in answer) throw new Error(`${answer.problem.message} in ${writeCondition(condition)}`)
        return answer.condition
      }
      // Times and instants are read in the form in which fields keep them.
      const once = read(plain(tree))
      if (!/"(?:at|from)"/.test(JSON.stringify(tree))) expect(once).toEqual(plain(tree))
      expect(read(plain(once))).toEqual(plain(once))
    }),
    { numRuns: 2000 },
  )
})

describe('The typed form', () => {
  const data = {
    huts: [
      { name: 'Gable', beds: 24, open: true },
      { name: 'Cairnfoot', open: true, parent: 'a' },
    ],
    trails: [
      {
        title: 'High',
        grade: 'hard',
        loop: false,
        ascent: 900,
        legs: [{ hut: 'a', hours: 4 }],
        huts: ['a'],
        tags: ['ridge'],
      },
      { title: 'Low', grade: 'easy', loop: true, legs: [{ hut: 'b', hours: 1 }], huts: ['b'] },
    ],
  }
  type Fields = Record<string, never>
  const trails = async () =>
    openCollection<{ id: string; title: string }, Fields, string>((await openTrails(data)) as Site, 'trails')

  test('Queries are immutable, and count leaves limit and offset aside', async () => {
    const all = await trails()
    const limited = all.limit(1)
    expect(await limited.toArray()).toHaveLength(1)
    expect(await limited.count()).toBe(2)
    expect(await all.toArray()).toHaveLength(2)
    expect((await all.offset(1).first())?.title).toBe('Low')
    const titles: string[] = []
    for await (const { title } of all) titles.push(title)
    expect(titles).toEqual(['High', 'Low'])
  })

  test('Entries are found by id and slug, and cannot be changed', async () => {
    const all = await trails()
    expect((await all.byId('t1'))?.title).toBe('Low')
    expect(await all.byId('t7')).toBeUndefined()
    expect((await all.bySlug('t0'))?.title).toBe('High')
    const entry = (await all.first()) as unknown as { tags: string[]; title: string }
    expect(() => entry.tags.push('x')).toThrow(TypeError)
    expect(() => {
      entry.title = 'x'
    }).toThrow(TypeError)
  })

  test('Wrong use is told in a sentence', async () => {
    const all = await trails()
    const wrong = all as unknown as {
      where(build: (fields: Record<string, { is(value: unknown): never }>) => never): unknown
    }
    expect(() => wrong.where((trail) => trail.titel?.is('x') as never)).toThrow(
      /There is no field or operator titel on the entry; there are id, slug, title/,
    )
    const deep = all as unknown as { where(build: (fields: { title: { isnt: unknown } }) => unknown): unknown }
    expect(() => deep.where((trail) => trail.title.isnt)).toThrow(
      'There is no field or operator isnt on title; there are is, isNot, isOneOf,',
    )
    await expect(all.limit(-1).toArray()).rejects.toThrow('limit must be a whole number from 0, not -1')
  })

  test('The plan names the indexes and the entries examined', async () => {
    const opened = await openTrails(data)
    const plan = async (tree: ConditionTree, sort: SortKey[] = []) =>
      (await runQuery(opened, { collection: 'trails', condition: tree, sort })).plan
    const is = (path: string[], value: Scalar): ConditionTree => ({
      kind: 'test',
      path,
      operator: 'is',
      values: [value],
    })
    const grade = is(['grade'], 'hard')
    expect(await plan(grade)).toMatchObject({
      steps: [{ part: grade, index: 'trails.grade', rows: 1 }],
      order: undefined,
      examined: 0,
      isScan: false,
    })
    const both = { kind: 'or', parts: [grade, is(['loop'], true)] } as const
    expect(await plan(both)).toMatchObject({ steps: [{}, {}], examined: 0, isScan: false })
    const partly = { kind: 'and', parts: [grade, is(['long'], 'a')] } as const
    expect(await plan(partly)).toMatchObject({ steps: [{}], examined: 1, isScan: true })
    expect((await runQuery(opened, { collection: 'trails' })).plan).toMatchObject({ examined: 0, isScan: false })
    const { steps, examined } = await plan({ kind: 'some', path: ['legs'], part: is(['hut', 'name'], 'Gable') })
    expect(steps.map(({ index, rows }) => [index, rows])).toEqual([
      ['huts.name', 1],
      ['trails.legs.hut', 1],
    ])
    expect(examined).toBe(0)
    expect((await plan(is(['longer'], 'x'.repeat(130)))).steps.map(({ index }) => index)).toEqual(['trails.longer'])
    const long: ConditionTree = { kind: 'test', path: ['long'], operator: 'isAbsent', values: [] }
    expect(await plan(long, [{ path: ['ascent'], direction: 'descending' }])).toMatchObject({
      steps: [],
      order: 'trails.ascent',
      examined: 2,
      isScan: true,
    })
  })
})

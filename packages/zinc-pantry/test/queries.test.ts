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
import { expectShare, runs } from './helpers.ts'
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
  expectShare(indexed, tried, 1 / 3)
})

test('Groups, counts and sums are those of arrays', async () => {
  const field = fc.constantFrom<readonly string[]>(
    ...[
      ['grade'],
      ['loop'],
      ['ascent', 'band(0,1,5)'],
      ['opened', 'year()'],
      ['opened', 'month()'],
      ['tags'],
      ['huts'],
    ],
    ...[
      ['title', 'initial()'],
      ['start', 'hut', 'name'],
      ['start', 'height'],
      ['legs', 'count()'],
      ['huts', 'beds'],
    ],
  )
  await fc.assert(
    fc.asyncProperty(
      ...([content, condition, sorts, fc.array(field, { minLength: 1, maxLength: 2 }), fc.nat(3)] as const),
      async (data, tree, sort, paths, limit) => {
        const opened = await openTrails(data)
        const model = createModel((await runQuery(opened, { collection: 'huts' })).entries as readonly Plain[])
        const { entries } = await runQuery(opened, { collection: 'trails', condition: tree, sort })
        const valuesAt = (entry: unknown, path: readonly string[]): unknown[] => {
          const lists =
            path[0] === 'tags' || path[0] === 'huts' ? ((entry as Plain)[path[0]] as unknown[] | null) : null
          const found = lists ? lists.map((one) => model.read(one, path.slice(1))) : [model.read(entry, path)]
          return [...new Set(found.flat().filter((one) => one !== null))]
        }
        const expected = new Map<string, string[]>()
        for (const entry of entries) {
          const [ones = [], others] = paths
            .map((path) => valuesAt(entry, path))
            .map((own) => (own.length > 0 ? own : [null]))
          for (const one of ones)
            for (const other of others ?? ['']) {
              const key = JSON.stringify(others ? [one, other] : one)
              expected.set(key, [...(expected.get(key) ?? []), String((entry as Plain).id)])
            }
        }
        type Handles = { [name: string]: Handles } & ((...given: unknown[]) => Handles)
        const handle = (fields: Handles, path: readonly string[]): Handles => {
          const [, list, inner] = /^(tags|huts)\.?(.*)$/.exec(path.join('.')) ?? []
          if (list !== undefined)
            return inner
              ? ((fields[list] as Handles).each as Handles)((item: Handles) => item[inner])
              : (fields[list] as Handles)
          return path.reduce((at, name) => {
            const [, method, given] = /^(\w+)\((.*)\)$/.exec(name) ?? []
            if (method === undefined) return at[name] as Handles
            return (at[method] as Handles)(...(given ? given.split(',').map(Number) : []))
          }, fields)
        }
        const all = openCollection<Plain, Handles, string>(opened, 'trails')
        const handles = (fields: Handles): unknown =>
          paths.length === 1 ? handle(fields, paths[0] as readonly string[]) : paths.map((path) => handle(fields, path))
        const ids = new Set(entries.map(({ id }) => id))
        const matching = all.where((fields) => ((fields.id as Handles).isOneOf as Handles)([...ids]) as never)
        const sorted = sort.length === 0 ? matching : matching.sort(() => sort as never)
        const groups = await sorted.groupBy(handles as never, { limit })
        expect(Object.fromEntries(groups.map(({ value, count }) => [JSON.stringify(value), count]))).toEqual(
          Object.fromEntries([...expected].map(([key, own]) => [key, own.length])),
        )
        for (const { value, entries: some } of groups)
          expect(some.map(({ id }) => id)).toEqual(expected.get(JSON.stringify(value))?.slice(0, limit))
        const { found } = (await matching.facets((fields) => ({ found: handles(fields) }) as never)) as never as {
          found: readonly { readonly value: unknown; readonly count: number }[]
        }
        const counted = new Map([...expected].map(([key, own]) => [key, own.length]))
        if (paths.length === 1) counted.delete('null')
        expect(new Map(found.map(({ value, count }) => [JSON.stringify(value), count]))).toEqual(counted)
        const ascents = entries.flatMap(({ ascent }) => (ascent === null ? [] : [ascent as number]))
        const { count, sum, minimum, maximum } = await matching.statistics((fields) => fields.ascent as never)
        expect([count, minimum, maximum]).toEqual([
          ascents.length,
          ...(ascents.length > 0 ? [Math.min(...ascents), Math.max(...ascents)] : [null, null]),
        ])
        expect(sum).toBeCloseTo(
          ascents.reduce((total, one) => total + one, 0),
          5,
        )
      },
    ),
    { numRuns: runs(100, 2_000) },
  )
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
  expectShare(Math.min(counts.found, counts.refused), counts.found + counts.refused, 1 / 10)
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

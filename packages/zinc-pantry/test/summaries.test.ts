import { describe, expect, test } from 'vitest'
import { linkPackages, makeFolder, REPOSITORY, runCommand } from './helpers.ts'

const DEMO = `${REPOSITORY}examples/fellmark`
const query = (...args: readonly string[]) => runCommand(DEMO, ['query', 'trails', ...args])
const rowsOf = async (...args: readonly string[]): Promise<readonly Record<string, unknown>[]> =>
  JSON.parse((await query(...args, '--format', 'json')).stdout)

describe('On the command line', () => {
  test('groups count entries by fields together, under conditions, as the entries themselves say', async () => {
    for (const where of ['ascent > 0', 'terrains includes rock']) {
      const entries = await rowsOf('--where', where, '--fields', 'region.name,grade')
      const expected = new Map<string, number>()
      for (const entry of entries) {
        const key = JSON.stringify([entry['region.name'], entry.grade])
        expected.set(key, (expected.get(key) ?? 0) + 1)
      }
      const groups = await rowsOf('--where', where, '--groups', 'region.name,grade')
      const found = groups.map((group) => [JSON.stringify([group['region.name'], group.grade]), group.count] as const)
      expect(new Map(found)).toEqual(expected)
      expect(found.length).toBeGreaterThan(2)
      const counts = groups.map(({ count }) => Number(count))
      expect(counts).toEqual(counts.toSorted((a, b) => b - a))
      const few = await rowsOf('--where', where, '--groups', 'region.name,grade', '--limit', '2', '--offset', '1')
      expect(few).toEqual(groups.slice(1, 3))
    }
  })

  test('statistics are those of the numbers that entries have, also within lists', async () => {
    const entries = await rowsOf('--where', 'grade = hard', '--fields', 'ascent,legs')
    const legs = entries.flatMap((entry) => (entry.legs as { hours: number }[]).map(({ hours }) => hours))
    const summary = (field: string, numbers: readonly number[]) => {
      const sum = numbers.reduce((total, one) => total + one, 0)
      const [minimum, maximum] = [Math.min(...numbers), Math.max(...numbers)]
      return { field, count: numbers.length, sum, mean: sum / numbers.length, minimum, maximum }
    }
    expect(await rowsOf('--where', 'grade = hard', '--statistics', 'ascent,legs.hours')).toEqual([
      summary(
        'ascent',
        entries.map(({ ascent }) => Number(ascent)),
      ),
      summary('legs.hours', legs),
    ])
    const table = await query('--statistics', 'distance', '--where', 'grade = hard')
    expect(table.stdout).toMatch(/^field +count +sum +mean +minimum +maximum\ndistance +4 /)
    expect(table.stderr).toMatch(/^4 entries match\n/)
  })

  test('entries of groups, items of lists and names of ids are given as they are asked for', async () => {
    const entries = await rowsOf('--sort', '-distance', '--fields', 'id,region,region.name,legs')
    const grouped = await rowsOf('--groups', 'region', '--each', '2', '--sort', '-distance', '--fields', 'id')
    for (const { region, entries: some } of grouped) {
      const ids = entries.filter((one) => one.region === region).map(({ id }) => ({ id }))
      expect([region, some]).toEqual([region, ids.slice(0, 2)])
    }
    const written = await query('--groups', 'region', '--each', '2', '--fields', 'id', '--format', 'csv')
    expect(written.stdout.split('\n').slice(0, 3)).toEqual([
      'region,count,id',
      'north-fell,4,north-fell/cairnfoot-loop',
      'north-fell,4,north-fell/stony-door',
    ])
    const [all] = await rowsOf('--limit', '1')
    const [more] = await rowsOf('--limit', '1', '--fields', '*,region.name')
    expect(more).toEqual({ ...all, 'region.name': 'Lowmark' })
    type Leg = { readonly hut: string; readonly hours: number }
    const items = 'id,legs.each(hut,hours; where hours > 1 and hut != "x,;)"; sort -hours,hut; limit 2)'
    for (const { id, legs } of await rowsOf('--fields', items)) {
      const all = entries.find((one) => one.id === id)?.legs as readonly Leg[]
      const long = all
        .filter(({ hours }) => hours > 1)
        .toSorted((a, b) => b.hours - a.hours || (a.hut < b.hut ? -1 : 1))
      expect([id, legs]).toEqual([id, long.slice(0, 2).map(({ hut, hours }) => ({ hut, hours }))])
    }
    const facets = JSON.parse((await query('--facets', 'region as region.name', '--format', 'json')).stdout).facets
    const [{ label, count }] = facets.region.filter((one: { value: string }) => one.value === 'north-fell')
    expect([label, count]).toEqual(['North Fell', entries.filter(({ region }) => region === 'north-fell').length])
  })

  test('two of one name are told apart by their ids', async () => {
    const root = makeFolder({
      'pantry.config.ts': `import { pantry, ref, text } from 'zinc-pantry'
export default pantry({ collections: {
  regions: { files: 'regions.json', fields: { name: text() } },
  huts: { files: 'huts.json', fields: { region: ref('regions') } },
} })`,
      'content/regions.json': '{ "n1": { "name": "North" }, "n2": { "name": "North" }, "s": { "name": "South" } }',
      'content/huts.json':
        '{ "a": { "region": "n1" }, "b": { "region": "n2" }, "c": { "region": "n2" }, "d": { "region": "s" } }',
    })
    linkPackages(root)
    const { stdout } = await runCommand(root, ['query', 'huts', '--facets', 'region as region.name', '--limit', '0'])
    expect(stdout.trim()).toBe('region  North (n2) 2   North (n1) 1   South 1')
  })

  test('names of fields may hold what cuts others', async () => {
    const root = makeFolder({
      'pantry.config.ts': `import { int, pantry, text } from 'zinc-pantry'
export default pantry({ collections: { huts: { files: 'huts.json', fields: { 'a)': int(), 'known as x': text(), '(m': int() } } } })`,
      'content/huts.json': '{ "a": { "a)": 1, "known as x": "Gable", "(m": 2 } }',
    })
    linkPackages(root)
    const ask = (...args: string[]) => runCommand(root, ['query', 'huts', '--format', 'json', ...args])
    expect(JSON.parse((await ask('--fields', 'a),(m,known as x')).stdout)).toEqual([
      { 'a)': 1, '(m': 2, 'known as x': 'Gable' },
    ])
    expect(JSON.parse((await ask('--facets', 'known as x')).stdout).facets).toEqual({
      'known as x': [{ value: 'Gable', count: 1 }],
    })
  })

  test('what is shown is counted beside what there is, and what has no collection is refused', async () => {
    expect((await query('--groups', 'grade')).stderr).toMatch(/^17 entries match, in 3 groups\n/)
    expect((await query('--groups', 'grade', '--limit', '2')).stderr).toMatch(
      /^17 entries match, in 3 groups, 2 shown\n/,
    )
    const { code, stderr } = await runCommand(DEMO, ['query', '--groups', 'grade'])
    expect([code, stderr.split('\n')[0]]).toEqual([2, 'error --groups asks for something of a collection'])
  })

  test.each([
    ['--statistics', 'title', 'title is no number, so that it has no sum'],
    ['--groups', 'regoin', 'Unknown field "regoin"'],
    ['--groups', 'grade', 'Groups and statistics are two questions', '--statistics', 'ascent'],
    ['--each', '2', 'There are no groups to give entries of'],
    ['--facets', 'grade as region.name', 'region.name is no field behind the reference grade'],
    ['--facets', 'region as regoin.name', 'Unknown field "regoin"'],
    ['--fields', 'title.each(x)', 'title is no list'],
    ['--fields', 'title,legs.each(hut; where hourz > 2)', 'Unknown field "hourz"'],
    ['--fields', 'legs.each(hut; sort -hut.nam)', 'Unknown field "nam"'],
    ['--fields', 'legs.each(hut; limit two)', 'limit takes a whole number, found two'],
  ])('%s %s is refused: %s', async (option, fields, message, ...more) => {
    const { code, stderr } = await query(option, fields, ...more)
    expect([code, stderr.split('\n')[0]]).toEqual([2, `error ${message}`])
  })
})

import { describe, expect, test } from 'vitest'
import { REPOSITORY, runCommand } from './helpers.ts'

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
  ])('%s %s is refused: %s', async (option, fields, message, ...more) => {
    const { code, stderr } = await query(option, fields, ...more)
    expect([code, stderr.split('\n')[0]]).toEqual([2, `error ${message}`])
  })
})

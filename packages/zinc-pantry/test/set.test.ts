import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { parse as parseYaml } from 'yaml'
import { choice, flag, group, int, list, pantry, ref, reverse, text } from 'zinc-pantry'
import { changeSite, checkSite, createMemoryHost, openContent } from 'zinc-pantry/engine'
import { openCollection } from 'zinc-pantry/query'
import { undoChange } from '../dist/engine/change-journal.js'
import { makeFolder, REPOSITORY, runCommand, runs, textOf } from './helpers.ts'

const configurationFile = 'pantry.config.ts'
const fields = {
  name: text({ optional: true }),
  beds: int({ optional: true }),
  open: flag({ true: ['yes'], false: ['no'], optional: true }),
  tags: list(text(), { default: [] }),
  water: group(
    { source: choice(['tap', 'spring'], { optional: true }), depth: int({ optional: true }) },
    { default: {} },
  ),
  near: list(ref('huts'), { default: [] }),
  called: text({ optional: true, writtenAs: 'also called' }),
}
const configuration = pantry({
  collections: {
    huts: {
      files: ['huts/*.{md,yaml,json,jsonc,toml}', 'huts.{json,yaml,csv,jsonl}'],
      perFile: 'one',
      fields: { ...fields, back: reverse('huts', 'near') },
    },
    rows: { files: 'rows.csv', fields: { ...fields, near: list(ref('huts'), { default: [] }) } },
    bars: { files: 'bars.csv', cells: { delimiter: '|', listSeparator: '+' }, fields },
    lines: { files: 'lines.jsonl', fields },
    many: { files: 'many.yaml', perFile: 'many', fields },
  },
} as never)

/** The same entry in every format, with comments, quotes and line ends of all sorts. */
const FILES: Readonly<Record<string, string>> = {
  'content/huts/a.md':
    '---\n# first\nname: A # of a\nbeds: 3\ntags: [x, "y"] # of tags\nwater:\n  # inside\n  source: tap\n---\n# not a comment\n\nbeds: 3\n',
  'content/huts/b.yaml': "name: 'B'\r\ntags:\r\n  - x # one\r\n  - y\r\nwater: { source: spring }\r\nopen: yes\r\n",
  'content/huts/c.json': '{\n  "name": "C",\n  "tags": ["x"],\n  "water": { "depth": 2 }\n}\n',
  'content/huts/d.jsonc':
    '{\n  // one\n  "name": "D", // of d\n  "tags": [\n    "x", // in a list\n    "y",\n  ],\n}\n',
  'content/huts/e.toml': '# one\nname = "E" # of e\nbeds = 4\ntags = ["x", "y"]\n\n[water]\nsource = "tap"\n',
  'content/rows.csv':
    'id,name,beds,open,tags,water.source,water.depth,near,also called\n1,"R, one",3,yes,x; y,tap,,a; b,\n2,,,,,,,,\n',
  'content/bars.csv':
    'id|name|beds|open|tags|water.source|water.depth|near|also called\n1|"R"|3|yes|x+y|tap||a+b|\n2||||||||\n',
  'content/lines.jsonl': '{ "id": "1", "name": "L", "tags": [] }\n{ "id": "2" }\n',
  'content/many.yaml': 'one:\n  name: M\n  tags: [x]\n\n# between\ntwo: { name: N }\n',
}

type Loose = Readonly<Record<string, unknown>>

async function entriesOf(
  host: Parameters<typeof openContent>[0]['host'],
  collection: string,
): Promise<readonly Loose[]> {
  const { site } = await openContent({ host, configurationFile })
  return openCollection<Loose & { id: string }, unknown, string>(site, collection).toArray()
}

const PLAIN = fc.constantFrom(
  'word',
  'two words',
  'yes',
  '007',
  'a: b',
  '# no',
  "it's",
  'say "x"',
  '-',
  'ünï',
  'true',
  '[x]',
  'a, b; c',
  'a|b',
)
const assignment = fc.oneof(
  fc.record({ path: fc.constantFrom(['name'], ['called']), kind: fc.constant('set' as const), text: PLAIN }),
  fc.record({ path: fc.constant(['beds']), kind: fc.constant('set' as const), text: fc.constantFrom('0', '12', '3') }),
  fc.record({ path: fc.constant(['open']), kind: fc.constant('set' as const), text: fc.constantFrom('yes', 'false') }),
  fc.record({
    path: fc.constant(['water', 'depth']),
    kind: fc.constant('set' as const),
    text: fc.constantFrom('1', '9'),
  }),
  fc.record({
    path: fc.constant(['tags']),
    kind: fc.constantFrom('add' as const, 'remove' as const),
    text: fc.constantFrom('x', 'y', 'z', 'w'),
  }),
  fc.record({
    path: fc.constantFrom(['name'], ['beds'], ['tags'], ['water', 'source'], ['called']),
    kind: fc.constant('unset' as const),
  }),
)

describe('Values are set', () => {
  test('in every format: what was asked for, nothing else, every comment stays, and undone to the byte', async () => {
    const seen = new Set<string>()
    let tried = 0
    await fc.assert(
      fc.asyncProperty(
        fc.constantFrom('huts', 'rows', 'bars', 'lines', 'many'),
        assignment,
        async (collection, one) => {
          tried++
          const host = createMemoryHost(FILES, configuration)
          const before = await entriesOf(host, collection)
          const answer = await changeSite({ host, configurationFile }, { kind: 'set', collection, assignments: [one] })
          if (!('change' in answer)) throw new Error(`${answer.refused} ${JSON.stringify(one)}`)
          expect(answer.problems.diagnostics, JSON.stringify([collection, one, textOf(answer.problems)])).toEqual([])
          const after = await entriesOf(host, collection)
          const byHand = answer.change.attention.length
          const text = 'text' in one ? one.text : ''
          const [top = '', inner] = one.path
          for (const [at, entry] of before.entries()) {
            const now = after[at] as Loose
            const { [top]: old, ...others } = entry
            const { [top]: fresh, ...same } = now
            expect(same).toEqual(others)
            if (JSON.stringify(fresh) === JSON.stringify(old)) continue
            seen.add(`${collection} ${one.kind} ${top}`)
            const [was, is] = inner === undefined ? [old, fresh] : [(old as Loose)[inner], (fresh as Loose)[inner]]
            if (one.kind === 'unset') expect(is ?? (top === 'tags' ? [] : null)).toEqual(top === 'tags' ? [] : null)
            else if (one.kind === 'add') expect(is).toEqual([...(was as unknown[]), text])
            else if (one.kind === 'remove') expect(is).toEqual((was as unknown[]).filter((item) => item !== text))
            else
              expect(String(is)).toBe(
                top === 'open'
                  ? String(text === 'yes')
                  : String(Number.isNaN(Number(text)) || top === 'name' || top === 'called' ? text : Number(text)),
              )
          }
          // A person is told of what is left.
          const left = after.filter((entry, at) => JSON.stringify(entry) === JSON.stringify(before[at])).length
          expect(byHand).toBeLessThanOrEqual(left)
          for (const [file, old] of Object.entries(FILES)) {
            const now = host.files.get(file)
            const written = typeof now === 'string' ? now : new TextDecoder().decode(now)
            for (const [comment] of old.matchAll(/(?<=^|\s)(?:#|\/\/) [\w ]+$/gm)) expect(written).toContain(comment)
            if (file.endsWith('.yaml')) parseYaml(written)
          }
          if (answer.isWritten) await undoChange(host)
          for (const [file, old] of Object.entries(FILES)) {
            const now = host.files.get(file)
            expect(typeof now === 'string' ? now : new TextDecoder().decode(now)).toBe(old)
          }
        },
      ),
      { numRuns: runs(45, 3000) },
    )
    expect(seen.size).toBeGreaterThan(Math.min(12, tried / 4))
  })

  test('by the command, where a condition holds, from other fields, and only where there is none', async () => {
    const root = makeFolder({}, `${REPOSITORY}/examples/fellmark`)
    const read = async (fieldsOf: string, where = 'beds > 0') =>
      JSON.parse(
        (await runCommand(root, ['query', 'huts', '--where', where, '--fields', fieldsOf, '--format', 'json'])).stdout,
      )
    const set = await runCommand(root, ['set', 'huts', 'beds=12', 'facilities+=library', '--where', 'beds < 12'])
    expect([set.code, set.stderr]).toEqual([0, expect.stringContaining('changed; "zinc-pantry undo" takes it back')])
    expect(await read('id', 'beds < 12')).toEqual([])
    expect(
      (await read('beds,facilities', 'beds = 12')).some((hut: { facilities: string[] }) =>
        hut.facilities.includes('library'),
      ),
    ).toBe(true)
    const absent = await runCommand(root, ['set', 'huts', 'booking=https://fells.example/', '--absent', '--dry-run'])
    expect(absent.stdout).toContain('+booking: https://fells.example/')
    const excerpt = await runCommand(root, [
      'set',
      'trails',
      'summary={excerpt}',
      '--where',
      'grade = easy',
      '--dry-run',
    ])
    expect(excerpt.stdout).toMatch(/^\+summary: /m)
    const wrong = async (...args: string[]) => {
      const { code, stderr } = await runCommand(root, ['set', ...args])
      return [code, stderr.split('\n')[0]]
    }
    expect(await wrong('huts', 'bed=3')).toEqual([2, 'error huts has no field "bed" that is written'])
    expect(await wrong('hut', 'beds=3')).toEqual([2, 'error There is no collection "hut"'])
    expect(await wrong('huts', 'trails=3')).toEqual([2, 'error trails is computed'])
    expect(await wrong('trails', 'summary={excerp}')).toEqual([2, 'error trails has no field "excerp"'])
    expect(await wrong('huts', 'beds+=3')).toEqual([2, 'error beds is no list'])
    expect(await wrong('huts', 'beds=3', '--where', 'bed = 3')).toEqual([2, expect.stringContaining('error')])
    expect(await wrong('huts', 'beds')).toEqual([2, expect.stringContaining('field=value')])
    expect((await wrong('huts', 'beds=x'))[0]).toBe(1)
    expect(
      textOf(await checkSite({ host: (await import('zinc-pantry/engine')).createNodeHost(root), configurationFile })),
    ).toBe('')
  })

  test('of entries with problems too, which is how they are mended: a new one, a field that came to be required', async () => {
    const need = pantry({
      collections: {
        lines: { files: 'lines.jsonl', fields: { name: text(), beds: int(), tags: list(text(), { default: [] }) } },
      },
    } as never)
    const lines =
      '{ "id": "1", "name": "One", "beds": "many" }\n{ "id": "2", "name": "Two" }\n{ "id": "3", "tags": 1, "beds": 3 }\n'
    const host = createMemoryHost({ 'content/lines.jsonl': lines }, need)
    const set = async (path: string, value: string, more: { where?: string; absent?: boolean }) => {
      const assignments = [{ path: [path], kind: 'set' as const, text: value }]
      await changeSite({ host, configurationFile }, { kind: 'set', collection: 'lines', assignments, ...more })
      return new TextDecoder().decode(host.files.get('content/lines.jsonl') as Uint8Array)
    }
    // What is written and wrong is not absent.
    expect(await set('beds', '4', { absent: true })).toBe(lines.replace('"Two"', '"Two", "beds": 4'))
    expect(await set('beds', '5', { where: 'name = One' })).toContain('"One", "beds": 5')
    expect(await set('name', 'Three', { where: 'beds = 3' })).toContain('"name": "Three", "tags": 1, "beds": 3')
    expect(textOf(await checkSite({ host, configurationFile }))).toContain('lines.jsonl:3:39 error value-type')
    expect(await set('tags', 'a', { where: 'beds = 3' })).toContain('"tags": ["a"]')
    expect(textOf(await checkSite({ host, configurationFile }))).toBe('')
  })

  test('several of one entry, in a group that was not there; where one cannot be, the others are', async () => {
    const assign = (path: string, text: string) => ({ path: path.split('.'), kind: 'set' as const, text })
    const host = createMemoryHost(FILES, configuration)
    const assignments = [assign('water.source', 'tap'), assign('water.depth', '3'), assign('name', 'New')]
    const answer = await changeSite({ host, configurationFile }, { kind: 'set', collection: 'many', assignments })
    expect(answer).toMatchObject({ isWritten: true })
    const text = new TextDecoder().decode(host.files.get('content/many.yaml') as Uint8Array)
    expect(parseYaml(text)).toEqual({
      one: { name: 'New', tags: ['x'], water: { source: 'tap', depth: 3 } },
      two: { name: 'New', water: { source: 'tap', depth: 3 } },
    })
    expect(text).toContain('# between\n')
  })
})

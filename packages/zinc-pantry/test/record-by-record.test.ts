import { mkdirSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { type BuildReport, checkSite, createNodeHost } from 'zinc-pantry/engine'
import { openSession } from '../dist/engine/site-session.js'
import { makeFolder, runs, textOf } from './helpers.ts'

const CONFIGURATION = `
import { choice, file, int, list, map, markdown, number, pantry, ref, text } from 'zinc-pantry'
const fields = {
  name: text({ maxLength: 12 }), beds: int({ optional: true, maximum: 50 }), near: ref(['huts', 'rows'], { optional: true }), note: markdown({ optional: true }),
  tags: list(text(), { default: [] }), plan: file({ optional: true }), sizes: map(number(), { default: {} }),
}
const rules = [(one, { all, report }) => {
  if (all.some(({ id, name }) => id !== one.id && name === one.name)) report('name', { code: 'name-same', message: 'Another has this name', severity: 'warning' })
  if (Object.keys(one.sizes ?? {})[0] === 'b') report('sizes', { code: 'sizes-turned', message: 'The larger comes first', severity: 'warning' })
}]
export default pantry({
  severities: { 'link-broken': 'warning' },
  collections: {
    huts: { files: ['huts.json', 'huts.yaml'], perFile: 'many', fields, rules },
    places: { files: 'site.json', records: '/places', fields, rules },
    people: { files: 'site.json', records: '/people', fields, rules },
    rows: { files: 'rows.csv', fields: { name: fields.name, beds: fields.beds, near: fields.near, tags: fields.tags }, rules },
  },
})
`

const id = fc.constantFrom('ash', 'birch', 'cedar', '7', '07')
const name = fc.constantFrom('Ash', 'Birch', 'ash', 'Cedar and more')
/** A record, with texts that say the same value in several ways. */
const record = fc.record(
  {
    id,
    name,
    beds: fc.constantFrom('3', '3.0', '03', '60', '"x"'),
    near: fc.constantFrom('"huts/ash"', '"rows/birch"', '7', '07', '"cedar"'),
    note: fc.constantFrom('"[a](/plans/a.txt)"', '"[b](nowhere.md)"'),
    tags: fc.constantFrom('["a", "b"]', '["A"]'),
    plan: fc.constantFrom('"/plans/a.txt"', '"/plans/b.txt"'),
    sizes: fc.constantFrom('{ "a": 1, "b": 2 }', '{ "b": 2, "a": 1 }', '{ "a": 1.0, "b": 2 }'),
  },
  { requiredKeys: ['id', 'name'] },
)
type Row = typeof record extends fc.Arbitrary<infer One> ? One : never

const keysOf = (one: Row) =>
  Object.entries(one).map(([key, value]) => [key, key === 'id' || key === 'name' ? `"${value}"` : value])
const asJson = (rows: readonly Row[]): string =>
  `[${rows
    .map(
      (one) =>
        `{ ${keysOf(one)
          .map(([key, value]) => `"${key}": ${value === '03' || value === '07' ? '3' : value}`)
          .join(', ')} }`,
    )
    .join(',\n')}]`
const asYaml = (rows: readonly Row[]): string =>
  rows.length === 0
    ? '[]'
    : rows
        .map(
          (one) =>
            `- ${keysOf(one)
              .map(([key, value]) => `${key}: ${value}`)
              .join('\n  ')}`,
        )
        .join('\n')
const asCsv = (rows: readonly Row[]): string =>
  [
    'id,name,beds,near,tags',
    ...rows.map(({ id: own, name: called, beds = '', near = '', tags = '' }) =>
      [own, called, beds, near, tags.replace(/[[\]", ]+/g, ';')].map((cell) => cell.replaceAll('"', '')).join(','),
    ),
  ].join('\n')

/** Writes a file, or removes it. */
type Write = readonly [path: string, content: string | undefined]
const rows = fc.array(record, { maxLength: 5 })
const lines = fc.constantFrom('', '\n', '\n\n')
const comment = fc.constantFrom('', '# A comment\n', '# Another one, which is longer\n')

/** The records of a file before and after one of them is changed, dropped or put in, so that most stay. */
const history = fc
  .tuple(rows, fc.array(fc.tuple(fc.nat(5), fc.option(record)), { maxLength: 3 }))
  .map(([first, edits]) => {
    const versions = [first]
    for (const [at, one] of edits) versions.push((versions.at(-1) as Row[]).toSpliced(at, 1, ...(one ? [one] : [])))
    return versions
  })
const writes: fc.Arbitrary<Write[]> = fc.oneof(
  fc.tuple(history, lines).map(([all, above]) => all.flatMap((one) => placed('content/huts.json', asJson(one), above))),
  fc
    .tuple(history, comment)
    .map(([all, above]) => all.flatMap((one) => placed('content/huts.yaml', asYaml(one), above))),
  history.map((all) => all.map((one): Write => ['content/rows.csv', asCsv(one)])),
  fc
    .tuple(history, history)
    .map(([places, people]) =>
      places.map(
        (one, at): Write => [
          'content/site.json',
          `{ "places": ${asJson(one)},\n"people": ${asJson(people[Math.min(at, people.length - 1)] as Row[])} }`,
        ],
      ),
    ),
  fc
    .tuple(fc.constantFrom('content/plans/a.txt', 'content/plans/b.txt'), fc.constantFrom('A plan', undefined))
    .map((write): Write[] => [write]),
)

/** The same records twice, in other lines. */
const placed = (path: string, text: string, above: string): Write[] => [
  [path, text],
  [path, above + text],
]

/** A reference that reads as the same number, and is written otherwise; a file that goes after its record was looked at twice. */
const WRITTEN: Write[][] = [
  ['7', '7.0'].map((near) => [
    'content/huts.json',
    `[{ "id": "7", "name": "A" }, { "id": "b", "name": "B", "near": ${near} }]`,
  ]),
]
const GONE: Write[][] = [
  [
    ['content/plans/a.txt', 'A plan'],
    ...['A', 'B', 'C'].map(
      (name): Write => [
        'content/huts.json',
        `[{ "id": "a", "name": "A", "plan": "/plans/a.txt" }, { "id": "b", "name": "${name}" }]`,
      ],
    ),
    ['content/plans/a.txt', undefined],
  ],
]
/** Problems of a rule, of a link and of a value that stand elsewhere, while no record is another. */
const TWO = '- id: a\n  name: A\n  note: "[b](nowhere.md)"\n- id: b\n  name: A\n'
/** More than are held in memory. */
const MANY = Array.from(
  { length: 510 },
  (_, at) => `{ "id": "h${at}", "name": "N${at % 509}", "note": "[b](nowhere${at % 400}.md)" }`,
)
const MOVED: Write[][] = [
  ...[TWO, `${TWO}- id: c\n  name: C\n  beds: x\n`].map((text) => placed('content/huts.yaml', text, '# A comment\n')),
  placed('content/huts.json', `[${MANY}]`, '\n\n'),
]
const TURNED: Write[][] = [
  ['{ "a": 1, "b": 2 }', '{ "b": 2, "a": 1 }'].map((sizes) => [
    'content/huts.json',
    `[{ "id": "a", "name": "A", "sizes": ${sizes} }]`,
  ]),
]

const saidBy = (report: Pick<BuildReport, 'entryCount' | 'diagnostics' | 'textOf'>): unknown => [
  textOf(report as BuildReport),
  report.entryCount,
]

describe('A file of many records', () => {
  test(
    'is checked record by record, and what is said of all is what a first check says',
    async () => {
      await fc.assert(
        fc.asyncProperty(fc.array(writes, { minLength: 1, maxLength: 4 }), async (all) => {
          const root = makeFolder({
            'pantry.config.ts': CONFIGURATION,
            'content/huts.json': '[]',
            'content/site.json': '{ "places": [], "people": [] }',
            'content/huts.yaml': '[]',
            'content/rows.csv': 'id,name\n',
          })
          mkdirSync(join(root, 'content/plans'))
          const options = {
            host: createNodeHost(root),
            configurationFile: 'pantry.config.ts',
            instant: '2026-05-01T08:00:00Z',
          }
          const session = openSession({ ...options, cache: false })
          let last = (await session.build(undefined))?.report
          for (const [path, content] of all.flat()) {
            if (content === undefined) rmSync(join(root, path), { force: true })
            else writeFileSync(join(root, path), content)
            last = (await session.build([path]))?.report ?? last
            const clean = await checkSite({ ...options, cache: false })
            expect(saidBy(last as BuildReport)).toEqual(saidBy(clean))
          }
        }),
        { numRuns: runs(60, 1_000), examples: [[WRITTEN], [GONE], [MOVED], [TURNED]] },
      )
    },
    runs(120_000, 3_600_000),
  )
})

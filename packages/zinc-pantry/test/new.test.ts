import { join } from 'node:path'
import { describe, expect, test } from 'vitest'
import { changeSite, checkSite, createNodeHost } from 'zinc-pantry/engine'
import type { Question } from '../dist/engine/change/new-planner.js'
import { undoChange } from '../dist/engine/change-journal.js'
import { linkPackages, makeFolder, REPOSITORY, readFolder, runCommand, runs, textOf } from './helpers.ts'

const DEMO = join(REPOSITORY, 'examples/fellmark')

/** What a patient writer says: the first of what may be, or something of the kind. */
async function answer({ field, expected, choices, isMany }: Question): Promise<string> {
  const [first, second] = choices ?? []
  if (first) return isMany && second ? `${first.value},${second.value}` : first.value
  if (field === 'grid') return 'NF 123 456'
  if (field === 'months') return '2,3'
  if (/duration/.test(expected)) return 'PT2H'
  return /number/.test(expected) ? '3' : `words for ${field}`
}

describe('A new entry', () => {
  test('of every collection of the demo is right at once when what is asked for is given, and undone to the byte', async () => {
    const root = makeFolder({}, DEMO)
    const host = createNodeHost(root)
    const options = { host, configurationFile: 'pantry.config.ts' }
    const old = readFolder(root)
    const { collectionNames, entryCount } = await checkSite(options)
    const made: string[] = []
    for (const collection of collectionNames.filter((_, at) => at % runs(2, 1) === 0)) {
      const values = collection === 'events' ? [{ path: ['kind'], text: 'walk' }] : []
      const said = await changeSite({ ...options, ask: answer }, { kind: 'new', collection, name: 'Über Höhe', values })
      if (!('change' in said)) {
        expect([collection, said.refused]).toEqual([
          collection,
          expect.stringMatching(/exactly one entry|not come from files/),
        ])
        continue
      }
      expect([collection, textOf(said.problems), said.unfilled]).toEqual([collection, '', []])
      expect(said.isWritten).toBe(true)
      const report = await checkSite(options)
      expect([collection, textOf(report), report.entryCount]).toEqual([collection, '', entryCount + 1])
      made.push(collection)
      await undoChange(host)
      expect(readFolder(root)).toEqual(old)
    }
    expect(made.length).toBeGreaterThan(runs(6, 12))
  })

  test('without answers tells what is to be filled in, beside help and what is allowed', async () => {
    const root = makeFolder({}, DEMO)
    const made = await runCommand(root, ['new', 'huts', 'Crag Hut', '--set', 'water.source=spring', '--set', 'beds=12'])
    expect([made.code, made.stdout]).toEqual([1, 'huts/crag-hut is new\n  content/huts/crag-hut.yaml is made\n'])
    expect(made.stderr.match(/^To be filled in: .*/gm)).toEqual([
      'To be filled in: content/huts/crag-hut.yaml:3 Field "region" is empty, expected the id of an entry of regions',
      'To be filled in: content/huts/crag-hut.yaml:5 Field "elevation" is empty, expected a whole number',
      'To be filled in: content/huts/crag-hut.yaml:9 Field "latitude" is empty, expected a number',
      'To be filled in: content/huts/crag-hut.yaml:11 Field "longitude" is empty, expected a number',
      'To be filled in: content/huts/crag-hut.yaml:13 Field "wardens" is empty, expected a list',
    ])
    expect(readFolder(root)['content/huts/crag-hut.yaml']).toBe(`name: Crag Hut
# north-fell, tarnside, lowmark, the-scarps, saltedge
region:
# Metres above the sea: a whole number from 0
elevation:
beds: 12
position:
  # a number from -90 to 90
  latitude:
  # a number from -180 to 180
  longitude:
# the id of one of 9 in wardens
wardens:
water:
  # tap, spring, beck, rain tank
  source: spring
  drinkable: true
`)
  })

  test('stands where others of its collection stand, in their layout, in every format', async () => {
    const root = makeFolder(FILES)
    linkPackages(root)
    const options = { host: createNodeHost(root), configurationFile: 'pantry.config.js' }
    expect(textOf(await checkSite(options))).toBe('')
    const old = readFolder(root)
    const parts: string[] = []
    for (const collection of [
      'pages',
      'numbered',
      'languages',
      'map',
      'list',
      'flow',
      'empty',
      'json',
      'deep',
      'jsonc',
      'toml',
      'tables',
      'lines',
      'table',
      'nested',
      'position',
    ]) {
      const values = [
        { path: ['tags'], text: 'a, b' },
        { path: ['note'], text: 'yes: "so"' },
      ]
      const said = await changeSite(options, { kind: 'new', collection, name: 'Ny Ting', values })
      if (!('change' in said)) throw new Error(`${collection}: ${said.refused}`)
      expect([collection, textOf(said.problems), said.isWritten]).toEqual([collection, '', true])
      const now = readFolder(root)
      for (const file of Object.keys(now)) if (now[file] !== old[file]) parts.push(`${file}\n${now[file]}`)
      await undoChange(options.host)
      expect(readFolder(root)).toEqual(old)
    }
    expect(parts.join('\n')).toMatchSnapshot()
  })

  test('starts from another one of its collection; the site is counted as it is then', async () => {
    const root = makeFolder({}, DEMO)
    const like = await runCommand(root, ['new', 'huts', 'Crow Ledge', '--like', 'gable'])
    expect(like).toMatchObject({ code: 0, stderr: expect.stringContaining('120 entries (1 made') })
    const bare = await runCommand(root, ['new', 'wardens', 'Ylva Brandt'])
    expect(bare).toMatchObject({ code: 1, stderr: expect.stringMatching(/121 entries .*: 3 errors/) })
    const mended = ['role=path warden', 'region=north-fell', 'languages+=en']
    const set = await runCommand(root, ['set', 'wardens', ...mended, '--where', 'name = "Ylva Brandt"'])
    expect(set).toMatchObject({ code: 0, stderr: expect.stringMatching(/121 entries .*: no problems/) })
  })

  test('or is refused, with the reason', async () => {
    const root = makeFolder({}, DEMO)
    const refusal = async (...args: readonly string[]) => {
      const { code, stderr } = await runCommand(root, ['new', ...args])
      expect(code).toBe(2)
      return stderr.split('\n').slice(0, 2).join('; ')
    }
    expect(await refusal('hut', 'X')).toBe('error There is no collection "hut";   help: Did you mean "huts"?')
    expect(await refusal('huts', 'gable')).toContain('huts has an entry gable already')
    expect(await refusal('huts')).toContain('A new entry of huts needs a name')
    expect(await refusal('huts', 'X', '--set', 'bed=1')).toBe(
      'error huts has no field "bed" that is written;   help: Did you mean "beds"?',
    )
    expect(await refusal('huts', 'X', '--set', 'bed')).toContain('"bed" is not written as field=value')
    expect(await refusal('huts', 'X', '--like', 'huts/gabel')).toContain('There is no entry "huts/gabel"')
    expect(await refusal('huts', 'X', '--into', 'huts/deep/x.yaml')).toContain(
      'would not be read from huts/deep/x.yaml',
    )
    expect(await refusal('bookings', 'X')).toContain('bookings does not come from files')
  })
})

const FIELDS = '{ name: text(), tags: list(text()), note: text({ optional: true }), on: flag({ default: false }) }'

const FILES: Readonly<Record<string, string>> = {
  'package.json': '{ "type": "module" }',
  'pantry.config.js': `import { flag, group, int, list, pantry, text } from 'zinc-pantry'
const fields = ${FIELDS}
export default pantry({
  locales: ['en', 'no'],
  severities: { 'locale-missing': 'off' },
  collections: {
    pages: { files: 'pages/*/index.{md,mdx}', id: 'name', body: true, fields },
    numbered: { files: 'numbered/**/*.yaml', numbered: true, fields },
    languages: { files: 'languages/*.md', locales: 'suffix', fields },
    map: { files: 'map.yaml', fields },
    list: { files: 'list.yaml', records: '/all', fields },
    flow: { files: 'flow.yaml', fields },
    empty: { files: 'empty.yaml', fields },
    json: { files: 'map.json', fields },
    deep: { files: 'deep.json', records: '/a/b', fields },
    jsonc: { files: 'list.jsonc', fields },
    toml: { files: 'map.toml', fields },
    tables: { files: 'tables.toml', records: '/things', fields },
    lines: { files: 'lines.jsonl', fields },
    table: { files: 'table.csv', fields },
    nested: { files: 'nested.tsv', id: 'code', cells: { listSeparator: '|' }, fields: { code: text(), ...fields, size: group({ wide: int({ default: 2 }) }) } },
    position: { files: 'position.yaml', id: false, fields },
  },
})
`,
  'content/pages/one/index.md': '---\nname: one\ntags: []\n---\n\nOne.\n',
  'content/numbered/10-one.yaml': 'name: One\ntags: []\n',
  'content/numbered/20-two.yaml': 'name: Two\ntags: []\n',
  'content/languages/one.md': '---\r\nname: One\r\ntags: []\r\n---\r\n',
  'content/languages/one.no.md': '---\r\nname: En\r\ntags: []\r\n---\r\n',
  'content/map.yaml': '# first\none:\n    name: One\n    tags: []\n\ntwo:\n    name: Two\n    tags: []\n# last\n',
  'content/list.yaml': 'all:\n  - id: one\n    name: One\n    tags:\n      - x\nother: 1\n',
  'content/flow.yaml': 'one: { name: One, tags: [] }\r\ntwo: { name: Two, tags: [] } # two',
  'content/empty.yaml': '# nothing yet\n',
  'content/map.json': '{\n  "one": {\n    "name": "One",\n    "tags": []\n  }\n}\n',
  'content/deep.json': '{ "a": { "b": [] } }',
  'content/list.jsonc': '[\n  { "id": "one", "name": "One", "tags": [] }, // one\n]\n',
  'content/map.toml': '[one]\nname = "One"\ntags = []\n',
  'content/tables.toml': '[[things]]\nid = "one"\nname = "One"\ntags = []\n',
  'content/lines.jsonl': '{ "id": "one", "name": "One", "tags": [] }',
  'content/table.csv': 'note,id,name,tags\r\n"a, b",one,One,x\r\n',
  'content/nested.tsv': 'code\tname\ttags\tnote\tsize.wide\none\tOne\tx|y\t\t3\n',
  'content/position.yaml': '- name: One\n  tags: []\n',
}

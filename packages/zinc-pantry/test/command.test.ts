import { spawnSync } from 'node:child_process'
import { existsSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import Papa from 'papaparse'
import { describe, expect, test } from 'vitest'
import { linkPackages, makeFolder, REPOSITORY, runCommand } from './helpers.ts'

const DEMO = join(REPOSITORY, 'examples/fellmark')
const MISTAKES = join(REPOSITORY, 'examples/fellmark-mistakes')
const BIN = join(REPOSITORY, 'packages/zinc-pantry/bin/zinc-pantry.js')

/** Without what differs from run to run. */
const stable = (text: string): string =>
  text.replace(/\(\d+\.\d\d s\)/g, '(TIME)').replace(/"milliseconds": \d+/g, '"milliseconds": 0')

describe('check', () => {
  test('The demo is clean', async () => {
    const { code, stdout, stderr } = await runCommand(DEMO, ['check'])
    expect(stable(stdout)).toBe(
      '119 entries (1 made by references) in 18 collections from 88 files, 4 files in no collection: no problems (TIME)\n',
    )
    expect([code, stderr]).toEqual([0, ''])
  })

  test('Every planted mistake is found at its place', async () => {
    const { code, stdout } = await runCommand(MISTAKES, ['check'])
    await expect(stable(stdout)).toMatchFileSnapshot(join(MISTAKES, 'expected.txt'))
    expect(code).toBe(1)
  })

  test('The same, for programs', async () => {
    const { code, stdout } = await runCommand(MISTAKES, ['check', '--format', 'json'])
    const { diagnostics, summary } = JSON.parse(stable(stdout))
    expect(summary).toEqual({
      collections: 18,
      files: 30,
      unmatched: 1,
      entries: 37,
      implicit: 0,
      errors: 47,
      warnings: 6,
      milliseconds: 0,
    })
    expect(diagnostics).toHaveLength(53)
    const found = diagnostics.find((one: { code: string }) => one.code === 'id-duplicate')
    expect(found).toMatchInlineSnapshot(`
      {
        "code": "id-duplicate",
        "collection": "seasons",
        "column": 11,
        "endColumn": 19,
        "endLine": 5,
        "file": "content/seasons.json",
        "help": "Ids are unique in a collection: change one of the two",
        "line": 5,
        "message": "Id "spring" is already taken in seasons",
        "parameters": {
          "collection": "seasons",
          "id": "spring",
        },
        "related": [
          {
            "column": 11,
            "endColumn": 19,
            "endLine": 2,
            "file": "content/seasons.json",
            "line": 2,
            "note": "First used here",
            "span": [
              12,
              20,
            ],
          },
        ],
        "severity": "error",
        "span": [
          197,
          205,
        ],
      }
    `)
    for (const { file, span, line, column } of diagnostics) {
      const before = readFileSync(join(MISTAKES, file), 'utf8').slice(0, span[0])
      expect([line, column]).toEqual([before.split('\n').length, before.length - before.lastIndexOf('\n')])
    }
    expect(code).toBe(1)
  })

  test('Places are shown from the working folder', async () => {
    const { stdout } = await runCommand(REPOSITORY, ['check', '--root', 'examples/fellmark-mistakes'])
    expect(stdout).toContain('examples/fellmark-mistakes/content/gear/lamp.md:5:9 error value-type')
    expect((await runCommand(join(MISTAKES, 'content/gear'), ['check'])).stdout).toMatch(/^lamp.md:5:9 /m)
  })

  test('Colour is for terminals, and can be refused', async () => {
    const coloured = await runCommand(MISTAKES, ['check'], { FORCE_COLOR: '1' })
    expect(coloured.stdout).toContain('\u001b[')
    for (const env of [{}, { NO_COLOR: '1' }])
      expect((await runCommand(MISTAKES, ['check'], env)).stdout).not.toContain('\u001b[')
  })

  test('Content cannot drive the terminal', async () => {
    const config =
      "import { pantry, text } from 'zinc-pantry'\nexport default pantry({ collections: { a: { files: '*.yaml', fields: { b: text({ maxLength: 1 }) } } } })\n"
    const root = makeFolder({
      'pantry.config.ts': config,
      'content/a.yaml': 'b: "\u001b[31m\u009b2J\u202e\\x1b[31m"\n"\\e[0m": 1\n',
    })
    const { stdout } = await runCommand(root, ['check'])
    expect(stdout).toContain('Text has')
    expect(stdout).not.toMatch(/[\u0000-\u0009\u000b-\u001f\u007f-\u009f\u202e]/)
  })
})

describe('build', () => {
  test('It says what it wrote, and what it did not', async () => {
    const root = makeFolder({}, join(REPOSITORY, 'packages/zinc-pantry/test/fixtures/site'))
    const first = await runCommand(root, ['build'])
    expect(stable(first.stdout)).toBe(
      'Output in generated/pantry: 10 files written\n3 entries in 2 collections from 3 files: no problems (TIME)\n',
    )
    expect(stable((await runCommand(root, ['build'])).stdout)).toContain('nothing had changed')
    const json = JSON.parse((await runCommand(root, ['build', '--format', 'json'])).stdout)
    expect([json.output, json.written]).toEqual(['generated/pantry', 0])
  })

  test('With problems it writes nothing', async () => {
    const { code, stdout } = await runCommand(MISTAKES, ['build'])
    expect(stdout).toContain('Nothing was written; the last good output stays')
    expect(code).toBe(1)
    expect(existsSync(join(MISTAKES, 'generated'))).toBe(false)
  })
})

describe('query', () => {
  const query = (...args: string[]) => runCommand(DEMO, ['query', ...args])

  test('A table', async () => {
    const { code, stdout, stderr } = await query(
      'huts',
      '--where',
      'beds >= 24',
      '--sort',
      '-beds',
      '--fields',
      'name,region.name,beds,wardens.name',
    )
    expect(stdout).toMatchInlineSnapshot(`
      "name            region.name  beds  wardens.name
      Millrace House  Lowmark        42  Philippa Thorne; Rafe Underlow
      Three Tarns     Tarnside       30  Lotte Brackwater; Osric Fenn
      Gable Hut       North Fell     24  Tobias Wrenfield; Maren Holt
      "
    `)
    expect(stable(stderr)).toMatchInlineSnapshot(`
      "3 entries match
      119 entries (1 made by references) in 18 collections from 88 files, 4 files in no collection: no problems (TIME)
      "
    `)
    expect(code).toBe(0)
  })

  test('JSON and CSV hold the same values', async () => {
    const args = ['trails', '--where', 'grade = hard', '--fields', 'id,ascent,legs.note,region', '--format']
    const json = JSON.parse((await query(...args, 'json')).stdout)
    expect(json).toHaveLength(4)
    expect(json[0]).toEqual({
      id: 'north-fell/high-traverse',
      ascent: 1740,
      'legs.note': ['Sign the book before you leave', null, null],
      region: 'north-fell',
    })
    const { data } = Papa.parse<Record<string, string>>((await query(...args, 'csv')).stdout.trim(), { header: true })
    expect(data.map(({ id, ascent }) => [id, Number(ascent)])).toEqual(
      json.map(({ id, ascent }: never) => [id, ascent]),
    )
  })

  test('A table fits the terminal', async () => {
    const { run } = await import('../dist/bundle/cli.js')
    const { createNodeHost } = await import('zinc-pantry/engine')
    for (const columns of [40, 80, 120]) {
      let stdout = ''
      const silent = { write: () => true }
      const surroundings = {
        stdout: { write: (text: string) => (stdout += text), isTTY: true, columns },
        stderr: silent,
        env: { NO_COLOR: '1' },
        folder: DEMO,
        stopped: async () => undefined,
        openHost: createNodeHost,
      }
      expect(await run(['query', 'trails'], surroundings)).toBe(0)
      for (const line of stdout.split('\n')) expect(line.length).toBeLessThanOrEqual(columns)
      expect(stdout).toContain('…')
    }
  })

  test('Entries with errors are left out, and that is said', async () => {
    const { code, stdout, stderr } = await runCommand(MISTAKES, ['query', 'wardens'])
    expect(stdout).toContain('Maren Holt')
    expect(stdout).not.toContain('Wrenfield')
    expect(stderr).toContain('with errors left out; "zinc-pantry check" shows them')
    expect(code).toBe(1)
  })

  test('A wrong condition is shown with a caret', async () => {
    const { code, stdout, stderr } = await query('huts', '--where', 'beds >= 20 and regoin = x')
    expect(stderr).toMatchInlineSnapshot(`
      "error Unknown field "regoin"
        --where beds >= 20 and regoin = x
                               ^^^^^^
        help: Did you mean "region"?
      "
    `)
    expect([code, stdout]).toEqual([2, ''])
  })
})

describe('Wrong use', () => {
  test.each([
    [['chek'], "unknown command 'chek'\n(Did you mean check?)"],
    [['check', '--rot', 'x'], "unknown option '--rot'\n(Did you mean --root?)"],
    [['check', '--format', 'xml'], 'Allowed choices are text, json'],
    [['query', 'trails', '--locale', 'xx'], 'There is no language "xx"'],
    [['query', 'huts', '--limit', 'many'], 'It must be a whole number from 0'],
    [['query', 'hut'], 'There is no collection "hut"'],
  ])('%j', async (args, message) => {
    const { code, stderr } = await runCommand(DEMO, args)
    expect(stderr).toContain(message)
    expect(code).toBe(2)
  })

  test.each([[[]], [['check', '--help']], [['build', '--help']], [['query', '--help']]])(
    'Help for %j fits a screen',
    async (args) => {
      const { code, stdout } = await runCommand(DEMO, args)
      const lines = stdout.split('\n')
      expect(lines.length).toBeLessThanOrEqual(30)
      for (const line of lines) expect(line.length).toBeLessThanOrEqual(80)
      expect(code).toBe(0)
    },
  )
})

test('The executable sets the exit code, and does not mind a closed pipe', () => {
  const run = (args: string[], cwd: string) => spawnSync(process.execPath, [BIN, ...args], { cwd, encoding: 'utf8' })
  expect(run(['check'], DEMO).status).toBe(0)
  expect(run(['check'], MISTAKES).status).toBe(1)
  expect(run(['check', '--root', 'nowhere'], DEMO).status).toBe(2)
  expect(run(['--version'], DEMO).stdout).toMatch(/^\d+\.\d+\.\d+\n$/)
  const piped = spawnSync('sh', ['-c', `"${process.execPath}" "${BIN}" query trails --format json | head -c 10`], {
    cwd: DEMO,
    encoding: 'utf8',
  })
  expect(piped.stderr).not.toContain('EPIPE')
})

test('A check asks the engine for nothing of languages where no zone is named, since the first answer takes 20 to 45 ms', () => {
  const root = makeFolder({
    'content/a.md': '---\ntitle: Åsen\n---\nThe *path* is open.\n',
    'content/b.md': '---\ntitle: Gable\n---\n[path](gone.md)\n',
    'content/rows.json': JSON.stringify(Array.from({ length: 1200 }, (_, at) => ({ id: `r${at}`, title: 'Row' }))),
    'pantry.config.ts':
      "import { pantry, text } from 'zinc-pantry'\nexport default pantry({ collections: { notes: { files: '*.md', body: true, fields: { title: text() } }, rows: { files: 'rows.json', fields: { title: text() } } } })\n",
  })
  linkPackages(root)
  const refuse = "() => { throw new Error('Asked for what languages have') }"
  const spy = `for (const name of ['DateTimeFormat', 'NumberFormat', 'Collator', 'Segmenter', 'PluralRules'])
    Intl[name] = new Proxy(Intl[name], { construct: ${refuse}, apply: ${refuse} })
    for (const { prototype } of [Number, Date]) prototype.toLocaleString = ${refuse}
    String.prototype.localeCompare = ${refuse}`
  const { status, stdout, stderr } = spawnSync(
    process.execPath,
    ['--import', `data:text/javascript,${encodeURIComponent(spy)}`, BIN, 'check'],
    { cwd: root, encoding: 'utf8' },
  )
  expect([stderr, status]).toEqual(['', 1])
  expect(stdout).toMatch(
    /^content\/b.md:4:8 error link-broken\n[\s\S]*\n1,202 entries in 2 collections from 3 files: 1 error /,
  )
})

import { existsSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { describe, expect, test } from 'vitest'
import { parse as parseYaml } from 'yaml'
import {
  changeSite,
  checkSite,
  createMemoryHost,
  createNodeHost,
  type Host,
  type MemoryHost,
  openContent,
} from 'zinc-pantry/engine'
import { openCollection } from 'zinc-pantry/query'
import { applyContents, recoverChange, undoChange } from '../dist/engine/change-journal.js'
import {
  createRandom,
  linkPackages,
  makeFile,
  makeFolder,
  REPOSITORY,
  readFolder,
  runCommand,
  runs,
  textOf,
} from './helpers.ts'

const DEMO = join(REPOSITORY, 'examples/fellmark')
const configurationFile = 'pantry.config.js'

const CONFIGURATION = `import { flag, image, list, map, markdown, pantry, ref, text } from 'zinc-pantry'
const uses = { hut: ref('huts', { optional: true }), huts: list(ref('huts'), { orOne: true, default: [] }), about: ref(['huts', 'notes'], { optional: true }) }
export default pantry({
  blocks: { card: { fields: { hut: ref('huts') } } },
  collections: {
    huts: { files: 'huts/**/*.{md,yaml}', body: true, address: '/huts/{+slug}/', formerAddresses: 'formerly', fields: { name: text(), formerly: list(text(), { default: [] }), near: ref('huts', { optional: true }), photo: image({ optional: true, alternative: 'none' }) } },
    notes: { files: 'notes/*.{md,mdx,yaml,json,jsonc,jsonl,toml,csv}', perFile: 'one', body: true, fields: { ...uses, way: map(text(), { propertyNames: ref('huts'), default: {} }), words: markdown({ optional: true }) } },
    pages: { files: 'pages/*.md', body: true, fields: { bySlug: ref('huts', { by: 'slug', optional: true }) } },
    rows: { files: 'rows.csv', fields: { hut: ref('huts'), huts: list(ref('huts'), { default: [] }), note: text({ optional: true }) } },
    lines: { files: 'lines.jsonl', fields: { hut: ref('huts') } },
  },
})
`

/** A hut and every way in which others name it. */
const FILES: Readonly<Record<string, string>> = {
  'package.json': '{ "type": "module" }',
  [configurationFile]: CONFIGURATION,
  'content/huts/gable.md':
    '---\n# The first\nname: Gable # of the north\nnear: ledge\n---\nSee [the ledge](ledge.yaml) and [itself](#up).\n\n## Up\n',
  'content/huts/ledge.yaml': "name: Ledge\r\nnear: 'gable'   # kept\r\nformerly:\r\n  - /old/\r\n",
  'content/notes/a.yaml':
    '# one\nhut: "gable" # two\nhuts: [ledge, gable]\nabout: huts/gable\nway:\n  gable: on foot\n  ledge: gable\nwords: >-\n  To [it](../huts/gable.md), and gable.\n',
  'content/notes/b.json': '\ufeff{\n  "huts": "gable",\n  "about": "gable",\n  "words": "[x](huts/gable#up)"\n}\n',
  'content/notes/c.jsonc': '{\n  // gable\n  "huts": ["gable", "ledge",],\n}\n',
  'content/notes/d.toml': '# gable\nhut = \'gable\'\nhuts = ["ledge", "gable"]\n',
  'content/notes/e.md':
    '---\nhut: gable\n---\n[a](../huts/gable) [b][r] <a href="../huts/gable.md#up">c</a> [d](/huts/gable/#up) [e](huts/gable "gable")\n\n::card{hut=gable}\n\n`../huts/gable.md`\n\n[r]: ../huts/gable.md?x=1#up\n',
  'content/notes/f.mdx':
    '---\nhut: gable\n---\nimport x from "./gable.js"\n\n<Card hut="gable" /> [a](../huts/gable.md) <a href="/huts/gable/">b</a>\n',
  'content/notes/gable.js': 'export default 1\n',
  'content/pages/p.md': '---\nbySlug: gable\n---\nGable.\n',
  'content/rows.csv': 'id,hut,huts,note\r\n1,gable,"ledge; gable","a, b"\r\n2,"gable",,\r\n',
  'content/lines.jsonl': '{ "id": "1", "hut": "gable" }\n{ "id": "2", "hut": "ledge" }\n',
}

const rename = (root: string, target: string, name: string, options: object = {}) =>
  changeSite({ host: createNodeHost(root), configurationFile, ...options }, { kind: 'rename', target, name })

describe('An entry gets another id', () => {
  test.each(['crag', 'north/crag', '7', 'the crag', 'yes'])(
    '%j, wherever it is named, and nothing else is another',
    async (name) => {
      const root = makeFolder(FILES)
      linkPackages(root)
      const host = createNodeHost(root)
      const before = await checkSite({ host, configurationFile })
      expect(textOf(before)).toBe('')
      const old = readFolder(root)
      const answer = await rename(root, 'huts/gable', name)
      if (!('change' in answer)) throw new Error(answer.refused)
      // A directive has no place for a space without quotes.
      if (name === 'the crag') {
        expect(answer.isWritten).toBe(false)
        expect(answer.change.attention.map(({ words }) => words)).toContain(
          'notes/e has to refer to the crag, to be written by hand',
        )
        expect(readFolder(root)).toEqual(old)
        return
      }
      expect([answer.problems.diagnostics, answer.change.attention, answer.isWritten]).toEqual([[], [], true])
      const now = readFolder(root)
      if (name === 'crag') expect(now).toMatchSnapshot()
      expect(textOf(await checkSite({ host, configurationFile }))).toBe('')
      // By another reader, the values are those that were meant.
      expect(parseYaml(now['content/notes/a.yaml'] ?? '')).toMatchObject({
        hut: name,
        huts: ['ledge', name],
        about: `huts/${name}`,
        way: { [name]: 'on foot', ledge: 'gable' },
      })
      expect(await undoChange(host)).toEqual({ words: `huts/gable becomes huts/${name}` })
      expect(readFolder(root)).toEqual(old)
      expect(await undoChange(host)).toBeUndefined()
    },
  )

  test('and its old one back: only the list of former addresses tells of it', async () => {
    const root = makeFolder(FILES)
    linkPackages(root)
    const old = readFolder(root)
    expect(await rename(root, 'huts/gable', 'crag')).toMatchObject({ isWritten: true })
    expect(await rename(root, 'huts/crag', 'gable')).toMatchObject({ isWritten: true })
    const { 'content/huts/gable.md': hut, ...others } = readFolder(root)
    expect({ ...others, 'content/huts/gable.md': hut?.replace('formerly: [/huts/crag/]\n', '') }).toEqual(old)
  })

  test('functions that name it are told, since they are not rewritten', async () => {
    const code = CONFIGURATION.replace('huts: { files', "huts: { rules: [(hut) => hut.near === 'gable'], files")
    const root = makeFolder({ ...FILES, [configurationFile]: code })
    linkPackages(root)
    const { stderr } = await runCommand(root, ['rename', 'huts/gable', 'crag', '--dry-run'])
    expect(stderr).toMatch(/^To be looked at: pantry\.config\.js:\d+:\d+ collections\.huts\.rules\[0\] names gable$/m)
  })

  test('or is refused, with the reason, and nothing is written', async () => {
    const root = makeFolder(FILES)
    linkPackages(root)
    const old = readFolder(root)
    const refusal = async (target: string, name: string) => {
      const { code, stderr } = await runCommand(root, ['rename', target, name])
      return [code, stderr]
    }
    expect(await refusal('huts/gabel', 'x')).toEqual([
      2,
      'error Nothing is called "huts/gabel"\n  help: Did you mean "huts/gable"?\n',
    ])
    expect((await refusal('huts/gable', 'ledge'))[1]).toContain('huts has an entry ledge already')
    expect((await refusal('notes/a', 'deep/a'))[1]).toContain('notes/a would not be read as notes/deep/a')
    expect((await runCommand(root, ['undo'])).code).toBe(2)
    expect(readFolder(root)).toEqual(old)
  })

  test('is shown as a diff and as data, without being written', async () => {
    const root = makeFolder(FILES)
    linkPackages(root)
    const old = readFolder(root)
    const { code, stdout } = await runCommand(root, ['rename', 'huts/gable', 'crag', '--dry-run'])
    expect(code).toBe(0)
    expect(stdout).toContain(
      '--- content/lines.jsonl\n+++ content/lines.jsonl\n@@ -1,2 +1,2 @@\n-{ "id": "1", "hut": "gable" }\n',
    )
    const json = await runCommand(root, ['rename', 'huts/gable', 'crag', '--dry-run', '--format', 'json'])
    const { steps, isWritten, problems } = JSON.parse(json.stdout)
    expect([isWritten, problems, steps[0].kind]).toEqual([false, [], 'move'])
    expect(readFolder(root)).toEqual(old)
  })

  test('of what comes from elsewhere a person is told, and new problems keep it from being written', async () => {
    const root = makeFolder({
      ...FILES,
      [configurationFile]: CONFIGURATION.replace(
        'pages: {',
        "others: { from: () => [{ id: '1', hut: 'gable' }], fields: { hut: ref('huts') } },\n    pages: {",
      ),
    })
    linkPackages(root)
    const old = readFolder(root)
    const refused = await runCommand(root, ['rename', 'huts/gable', 'crag'])
    expect([refused.code, refused.stderr]).toEqual([1, expect.stringContaining('since 1 new problem would be there')])
    expect(refused.stderr).toContain('others/1 has to refer to crag, and comes from elsewhere')
    expect(readFolder(root)).toEqual(old)
    const anyway = await runCommand(root, ['rename', 'huts/gable', 'crag', '--anyway'])
    expect([anyway.code, anyway.stderr]).toEqual([
      1,
      expect.stringContaining('changed; "zinc-pantry undo" takes it back'),
    ])
    makeFile(root, 'content/huts/crag.md', '---\nname: Touched\n---\n')
    const undone = await runCommand(root, ['undo'])
    expect([undone.code, undone.stderr]).toEqual([1, 'Nothing was undone: changed since then: content/huts/crag.md\n'])
  })
})

describe('A change that is killed', () => {
  const encoder = new TextEncoder()
  const COUNT = 500
  const files = Object.fromEntries(
    Array.from({ length: COUNT }, (_, at) => [`content/huts/${at}.yaml`, `name: Hut ${at}\nbeds: 1\n`]),
  )
  /** Half of the files get another text, a tenth goes, a tenth is new. */
  const wanted = new Map<string, Uint8Array | undefined>(
    Object.entries(files).flatMap(([file, text], at): [string, Uint8Array | undefined][] => {
      if (at % 10 === 0)
        return [
          [file, undefined],
          [file.replace('huts', 'new'), encoder.encode(text)],
        ]
      return [[file, encoder.encode(text.replace('beds', 'berths'))]]
    }),
  )
  const change = {
    words: 'beds become berths',
    before: new Map(
      [...wanted.keys()].map((file) => [file, files[file] === undefined ? undefined : encoder.encode(files[file])]),
    ),
    after: wanted,
  }
  const contentOf = (host: MemoryHost): object =>
    Object.fromEntries(
      [...host.files]
        .filter(([path]) => path.startsWith('content/'))
        .map(([path, content]) => [path, typeof content === 'string' ? content : new TextDecoder().decode(content)])
        .sort(),
    )

  test('of 500 files at any moment: old or new at the next start, never between, and undone to the byte', async () => {
    const random = createRandom()
    const whole = createMemoryHost(files)
    const old = contentOf(whole)
    await applyContents(whole, change)
    const fresh = contentOf(whole)
    expect(fresh).not.toEqual(old)
    const outcomes = new Set<string>()
    for (let run = 0; run < runs(60, 200); run++) {
      const memory = createMemoryHost(files)
      // Half of them early, while contents are kept, and half while files are written.
      let left = random(run % 2 === 0 ? 10 : wanted.size + 100)
      const spend = (): void => {
        if (left-- <= 0) throw new Error('killed')
      }
      const host: Host = {
        ...memory,
        write(file, text) {
          spend()
          memory.write(file, text)
        },
        remove(file) {
          spend()
          memory.remove(file)
        },
        startWriting() {
          const writing = memory.startWriting()
          return {
            ...writing,
            write(file, content) {
              // What was being written stays beside its place.
              if (left <= 0) memory.files.set(`${file}.77.tmp`, 'half')
              spend()
              return writing.write(file, content)
            },
          }
        },
      }
      const isKilled = await applyContents(host, change).then(
        () => false,
        () => true,
      )
      await recoverChange(memory)
      const content = contentOf(memory)
      const state = JSON.stringify(content) === JSON.stringify(old) ? 'old' : 'new'
      expect(content).toEqual(state === 'old' ? old : fresh)
      outcomes.add(`${isKilled ? 'killed' : 'made'} ${state}`)
      if (state === 'new') await undoChange(memory)
      expect(contentOf(memory)).toEqual(old)
    }
    expect([...outcomes].sort()).toEqual(['killed new', 'killed old', 'made new'])
  }, 60_000)

  test('is undone to the byte where its contents take several files', async () => {
    const sizes = [9e6, 9e6, 0, 5].map((size, at) => [`content/${at}`, new Uint8Array(size).fill(65 + at)] as const)
    const root = makeFolder({})
    const host = createNodeHost(root)
    for (const [file, bytes] of sizes) host.write(file, new TextDecoder().decode(bytes))
    // The comparison of such texts by the tests' own means takes longer than all else.
    const textNow = (): string => sizes.map(([file]) => host.digest(host.read(file))).join()
    const old = textNow()
    const after = new Map(sizes.map(([file, bytes]) => [file, bytes.map((byte) => byte + 10)]))
    await applyContents(host, { words: 'larger', before: new Map(sizes), after })
    expect(existsSync(join(root, '.pantry/change/after-1'))).toBe(true)
    expect(textNow() === old).toBe(false)
    await undoChange(host)
    expect(textNow() === old).toBe(true)
  })

  test('is not made whole of what is gone, and says so; nor is one undone', async () => {
    const root = makeFolder(FILES)
    linkPackages(root)
    await rename(root, 'huts/gable', 'crag')
    const now = readFolder(root)
    rmSync(join(root, '.pantry/change/after-0'))
    expect((await runCommand(root, ['undo'])).stderr).toBe('There is no change to undo\n')
    const journal = join(root, '.pantry/change/journal.json')
    writeFileSync(journal, readFileSync(journal, 'utf8').replace('"made"', '"begun"'))
    const { code, stderr } = await runCommand(root, ['check'])
    expect([code, stderr]).toEqual([
      0,
      'A change that was broken off cannot be made whole, since what it was to write is gone: huts/gable becomes huts/crag\n',
    ])
    expect(readFolder(root)).toEqual(now)
  })
})

describe('An entry is removed', () => {
  const remove = (root: string, target: string, replacement?: string) =>
    changeSite({ host: createNodeHost(root), configurationFile }, { kind: 'remove', target, replacement })
  const make = (more: Readonly<Record<string, string>> = {}): string => {
    const root = makeFolder({ ...FILES, ...more })
    linkPackages(root)
    return root
  }

  test('and another stands for it, wherever it is named: two become one', async () => {
    const root = make()
    const old = readFolder(root)
    const answer = await remove(root, 'huts/gable', 'ledge')
    if (!('change' in answer)) throw new Error(answer.refused)
    // A map cannot have one key twice.
    expect(answer.change.attention.map(({ words }) => words)).toEqual([
      'notes/a refers to gable, which is to be changed by hand',
    ])
    expect(answer.problems.diagnostics.map(({ code, file }) => [code, file])).toEqual([
      ['ref-dangling', 'content/notes/a.yaml'],
    ])
    expect([answer.isWritten, readFolder(root)]).toEqual([false, old])
    const anyway = await runCommand(root, ['remove', 'huts/gable', '--for', 'ledge', '--anyway'])
    expect(anyway.code).toBe(1)
    const now = readFolder(root)
    expect(Object.keys(old).filter((file) => !(file in now))).toEqual(['content/huts/gable.md'])
    expect(now['content/huts/ledge.yaml']).toBe(
      "name: Ledge\r\nnear: 'ledge'   # kept\r\nformerly:\r\n  - /old/\r\n  - /huts/gable/\r\n",
    )
    expect(parseYaml(now['content/notes/a.yaml'] ?? '')).toMatchObject({
      hut: 'ledge',
      huts: ['ledge'],
      about: 'huts/ledge',
    })
    expect(now['content/rows.csv']).toBe('id,hut,huts,note\r\n1,ledge,"ledge","a, b"\r\n2,"ledge",,\r\n')
    expect(now['content/notes/f.mdx']).toContain(
      '<Card hut="ledge" /> [a](../huts/ledge.yaml) <a href="/huts/ledge/">b</a>',
    )
    expect((await runCommand(root, ['undo'])).stdout).toBe('Undone: huts/gable goes, and huts/ledge stands for it\n')
    expect(readFolder(root)).toEqual(old)
  })

  test('without one, references are taken out where they may be, and the rest keeps it from being written', async () => {
    const root = make({
      'content/huts/last.yaml': 'name: Last\nnear: ledge\n',
      'content/notes/g.yaml': 'huts: [last, ledge]\nhut: last\nway:\n  last: on foot\n',
    })
    const old = readFolder(root)
    const refused = await runCommand(root, ['remove', 'huts/ledge'])
    expect([refused.code, refused.stderr]).toEqual([1, expect.stringContaining('Link leads nowhere: "ledge.yaml"')])
    expect(readFolder(root)).toEqual(old)
    const gone = await runCommand(root, ['remove', 'huts/last'])
    expect([gone.code, gone.stderr]).toEqual([
      0,
      expect.stringContaining('the page at /huts/last/ is gone, and no list of former addresses leads on from there'),
    ])
    expect(readFolder(root)['content/notes/g.yaml']).toBe('huts: [ledge]\n')
    expect((await runCommand(root, ['undo'])).code).toBe(0)
    expect(readFolder(root)).toEqual(old)
    const wrong = await runCommand(root, ['remove', 'huts/ledge', '--for', 'legde'])
    expect([wrong.code, wrong.stderr]).toEqual([
      2,
      'error There is no entry "legde" in huts\n  help: Did you mean "ledge"?\n',
    ])
  })
})

test('Entries of the demo are renamed and removed, or it is said why not, and all is undone to the byte', async () => {
  const root = makeFolder({}, DEMO)
  const host = createNodeHost(root)
  const { site, diagnostics } = await openContent({ host, configurationFile: 'pantry.config.ts' })
  expect(diagnostics).toEqual([])
  const { collectionNames } = await checkSite({ host, configurationFile: 'pantry.config.ts' })
  const old = readFolder(root)
  const names: string[] = []
  for (const collection of collectionNames) {
    const all = await openCollection<{ id: string }, unknown, string>(site, collection).toArray()
    for (const { id } of all.filter((_, at) => at % 11 === 0)) names.push(`${collection}/${id}`)
  }
  let written = 0
  for (const [at, target] of names.entries()) {
    const name = `${target.slice(target.indexOf('/') + 1)}-x`
    const request = at % 3 === 0 ? ({ kind: 'remove', target } as const) : ({ kind: 'rename', target, name } as const)
    const answer = await changeSite({ host, configurationFile: 'pantry.config.ts' }, request)
    if (!('change' in answer)) {
      expect(target).toMatch(/^(?:bookings|stages|site|front|logbook|tags)\//)
      continue
    }
    if (answer.isWritten) {
      written++
      expect(readFolder(root)).not.toEqual(old)
      await undoChange(host)
    } else {
      const isSaid = answer.change.attention.length + answer.problems.diagnostics.length > 0
      expect([target, isSaid]).toEqual([target, true])
    }
    expect(readFolder(root)).toEqual(old)
  }
  expect(written).toBeGreaterThan(names.length / 3)
}, 120_000)

import { describe, expect, test } from 'vitest'
import { checkSite, createNodeHost } from 'zinc-pantry/engine'
import { linkPackages, makeFolder, readFolder, runCommand, textOf } from './helpers.ts'

const CONFIGURATION = `import { choice, list, pantry, group, text } from 'zinc-pantry'
const shared = { mood: text({ optional: true }) }
export default pantry({
  collections: {
    notes: {
      files: 'notes/*.{md,yaml,json}',
      search: { title: 3, tags: 1 },
      fields: {
        title: text(),
        tags: list(text({ description: 'What it is about', maxLength: 20 }), { orOne: true, default: [] }),
        grade: choice({ easy: 'For everyone', hard: 'For some' }, { default: 'easy' }),
        places: list(group({ kind: text() }), { default: [] }),
        ...shared,
      },
    },
    rows: { files: 'rows.csv', fields: { tags: list(text(), { default: [] }), ...shared } },
  },
})
`

const FILES: Readonly<Record<string, string>> = {
  'package.json': '{ "type": "module" }',
  'pantry.config.js': CONFIGURATION,
  'content/notes/a.md':
    '---\ntitle: A\ntags: [Snow, wet snow, "Øst"] # tags\ngrade: hard # not easy\nplaces:\n  - kind: hut # kind\n---\n',
  'content/notes/b.yaml': 'title: B\r\ntags:\r\n  - snow # one\r\n  - Wind\r\n',
  'content/notes/c.json': '{ "title": "C", "tags": "Wind", "places": [{ "kind": "Hut" }] }\n',
  'content/rows.csv': 'id,tags\n1,Snow; Wind\n2,\n',
}

const make = (): string => {
  const root = makeFolder(FILES)
  linkPackages(root)
  return root
}

const tagsOf = async (root: string): Promise<unknown> =>
  JSON.parse((await runCommand(root, ['query', 'notes', '--fields', 'id,tags', '--format', 'json'])).stdout)

describe('Labels become records', () => {
  test('in lists and cells, with what people wrote as their names; those that are said to be the same are one', async () => {
    const root = make()
    const old = readFolder(root)
    const plain = await runCommand(root, ['extract', 'notes.tags', '--to', 'topics', '--dry-run'])
    expect(plain.stderr).toContain('"Snow" and "snow" are left apart; --same "Snow=snow" makes them one')
    const { code, stdout, stderr } = await runCommand(root, [
      'extract',
      'notes.tags',
      '--to',
      'topics',
      '--same',
      'snow=Snow',
    ])
    expect(code).toBe(0)
    expect(stdout).toContain('4 labels of notes.tags become topics\n')
    expect(stderr).toMatch(/^To be looked at: pantry\.config\.js:10:20 a reference has no maxLength$/m)
    const now = readFolder(root)
    expect(Buffer.from(now['content/topics.yaml'] ?? '', 'latin1').toString()).toBe(
      'snow:\n  name: Snow\nwind:\n  name: Wind\nwet-snow:\n  name: wet snow\nost:\n  name: Øst\n',
    )
    expect(now['pantry.config.js']).toContain("search: { title: 3, 'tags.name': 1 }")
    expect(now['pantry.config.js']).toContain(
      "tags: list(ref('topics', { description: 'What it is about' }), { orOne: true, default: [] })",
    )
    expect(now['pantry.config.js']).toContain("import { choice, list, pantry, group, text, ref } from 'zinc-pantry'")
    expect(now['content/notes/a.md']).toContain('tags: [snow, wet-snow, "ost"] # tags')
    expect(now['content/notes/b.yaml']).toBe('title: B\r\ntags:\r\n  - snow # one\r\n  - wind\r\n')
    expect(textOf(await checkSite({ host: createNodeHost(root), configurationFile: 'pantry.config.js' }))).toBe('')
    expect(await tagsOf(root)).toEqual([
      { id: 'a', tags: ['snow', 'wet-snow', 'ost'] },
      { id: 'b', tags: ['snow', 'wind'] },
      { id: 'c', tags: ['wind'] },
    ])
    expect((await runCommand(root, ['undo'])).code).toBe(0)
    expect(readFolder(root)).toEqual(old)
  })

  test('of a choice, with its labels and its default; in groups of lists; and in cells', async () => {
    const root = make()
    expect((await runCommand(root, ['extract', 'notes.grade', '--to', 'grades'])).code).toBe(0)
    expect((await runCommand(root, ['extract', 'notes.places.kind', '--to', 'kinds'])).code).toBe(0)
    expect((await runCommand(root, ['extract', 'rows.tags', '--to', 'tags'])).code).toBe(0)
    const now = readFolder(root)
    expect(now['content/grades.yaml']).toBe('easy:\n  name: For everyone\nhard:\n  name: For some\n')
    expect(now['content/kinds.yaml']).toBe('hut:\n  name: Hut\nhut-2:\n  name: hut\n')
    expect(now['content/rows.csv']).toBe('id,tags\n1,snow; wind\n2,\n')
    expect(now['pantry.config.js']).toContain("grade: ref('grades', { default: 'easy' })")
    expect(now['pantry.config.js']).toContain("places: list(group({ kind: ref('kinds') }), { default: [] })")
    const { diagnostics } = await checkSite({ host: createNodeHost(root), configurationFile: 'pantry.config.js' })
    expect(diagnostics.map(({ code }) => code)).toEqual(['label-near'])
  })

  test.each([
    [['notes.mood', '--to', 'moods'], 'notes.mood shares its declaration with "rows.mood"'],
    [['notes', '--to', 'x'], 'notes is no field'],
    [['notes.tag', '--to', 'x'], 'Nothing is called "notes.tag"\n  help: Did you mean "notes.tags"?'],
    [['notes.places', '--to', 'x'], 'notes.places holds no texts'],
    [['notes.tags', '--to', 'rows'], 'There is a collection rows already'],
    [['notes.tags', '--to', 'a-b'], '"a-b" cannot be the name of a collection'],
    [['notes.tags', '--to', 'x', '--same', 'a=b'], 'No entry has the label "a"'],
    [['notes.tags', '--to', 'x', '--same', 'a'], '"a" is not written as label=label'],
    [['notes.tags'], "required option '--to <collection>' not specified"],
  ])('or it is said why they cannot: %j', async (args, words) => {
    const { code, stderr } = await runCommand(make(), ['extract', ...args])
    expect([code, stderr]).toEqual([2, expect.stringContaining(words)])
  })
})

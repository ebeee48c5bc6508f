import { createTwoFilesPatch } from 'diff'
import { describe, expect, test } from 'vitest'
import { checkSite, createNodeHost } from 'zinc-pantry/engine'
import { linkPackages, makeFolder, PNG, readFolder, runCommand, textOf } from './helpers.ts'

const CONFIGURATION = `import { block, choice, group, image, int, list, pantry, ref, text } from 'zinc-pantry'
export default pantry({
  blocks: { card: { fields: { tone: choice(['tip', 'care']), note: text({ optional: true }) } }, line: { fields: {} } },
  collections: {
    huts: {
      files: 'huts/*.{yaml,md}',
      body: true,
      search: { name: 2, note: 1 },
      indexes: ['beds', 'note'], // kept
      fields: {
        name: text(),
        note: text({ optional: true }), // of the hut
        beds: int(),
        grade: choice(['easy', 'hard', 'wild'], { optional: true }),
        tags: list(choice({ wet: 'Wet', dry: 'Dry' }), { default: [] }),
        photo: image({ optional: true, alternative: 'none' }),
        legs: list(group({ hours: int(), note: text({ optional: true }) }), { default: [] }),
        parts: list(block('card', 'line'), { default: [] }),
      },
    },
    rows: { files: 'rows.csv', fields: { name: text(), time: group({ up: int(), down: int() }), tags: list(choice(['wet', 'dry']), { default: [] }) } },
    notes: { files: 'notes.toml', fields: { hut: ref('huts'), next: ref('notes', { optional: true }), size: group({ wide: int() }, { optional: true }) } },
    things: { files: 'things.toml', records: '/things', fields: { name: text(), near: list(ref('notes'), { default: [] }) } },
    first: { files: 'shared.yaml', records: '/first', fields: { name: text() } },
    second: { files: 'shared.yaml', records: '/second', fields: { name: text() } },
  },
})
`

const FILES: Readonly<Record<string, string | Uint8Array>> = {
  'package.json': '{ "type": "module" }',
  'pantry.config.js': CONFIGURATION,
  'content/pictures/a.png': PNG,
  'content/pictures/b.png': PNG,
  'content/huts/gable.md':
    '---\nname: Gable\n# beds\nbeds: 3 # three\nnote: steep # it is\ngrade: hard\ntags: [wet, dry]\nphoto: ../pictures/a.png\nlegs:\n  - hours: 2 # up\n    note: far\n  - { hours: 1, note: near }\nparts:\n  - block: line\n  - block: card\n    tone: tip\n---\n![a](../pictures/a.png)\n',
  'content/huts/ledge.yaml': 'name: Ledge\r\nbeds: 1\r\ngrade: wild\r\ntags:\r\n  - wet # one\r\n  - dry\r\n',
  'content/rows.csv': 'id,name,time.up,time.down,tags\r\n1,"One, first",3,2,wet; dry\r\n2,Two,1,1,\r\n',
  'content/notes.toml':
    '# first\n[a]\nhut = "gable" # of a\n\n[a.size]\nwide = 1\n\n# of b\n[b]\nhut = "ledge"\nnext = "a"\n\n[c]\nhut = "ledge"\n',
  'content/shared.yaml': '# of the first\nfirst:\n  - { id: a, name: A } # one\nsecond:\n  b: { name: B }\n',
  'content/things.toml':
    'title = "All"\n\n[[things]]\nid = "one"\nname = "One"\nnear = ["a", "c"]\n\n[[things]]\nid = "two"\nname = """\n[a]\n"""\n',
}

const make = (): string => {
  const root = makeFolder(FILES)
  linkPackages(root)
  return root
}

describe('What goes', () => {
  test.each([
    ['huts.note', []],
    ['huts.legs.note', []],
    ['rows.time.down', []],
    ['rows.time', []],
    ['huts.grade.hard', []],
    ['huts.grade.wild', ['--for', 'huts.grade.hard']],
    ['notes/a', ['--for', 'notes/b']],
    ['notes/b', []],
    ['things/one', []],
    ['things/two', []],
    ['huts.tags.wet', []],
    ['line', []],
    ['notes', []],
    ['things', []],
    ['first', []],
    ['second', []],
    ['rows', []],
    ['content/pictures/a.png', ['--for', 'content/pictures/b.png']],
    ['content/pictures/b.png', []],
  ])(
    '%s %j goes from the configuration and from all that is written, and comes back to the byte',
    async (target, more) => {
      const root = make()
      expect(textOf(await checkSite({ host: createNodeHost(root), configurationFile: 'pantry.config.js' }))).toBe('')
      const old = readFolder(root)
      const { code, stderr } = await runCommand(root, ['remove', target, ...more])
      const now = readFolder(root)
      const files = [...new Set([...Object.keys(old), ...Object.keys(now)])].sort()
      const shown = files.flatMap((file) => {
        if (file.endsWith('.png')) return old[file] === now[file] ? [] : [`${file}\n`]
        const patch = createTwoFilesPatch(file, file, old[file] ?? '', now[file] ?? '', '', '', { context: 0 })
        return old[file] === now[file] ? [] : [patch.replace(/^=+\n/, '').replaceAll(/^@@.*\n/gm, '')]
      })
      const said = stderr.match(/^(?:To be looked at|.* error).*$/gm)?.join('\n') ?? ''
      expect(`${code} ${said}\n${shown.join('')}`).toMatchSnapshot()
      if (code !== 0) return
      const { diagnostics } = await checkSite({ host: createNodeHost(root), configurationFile: 'pantry.config.js' })
      expect(diagnostics.filter(({ severity }) => severity === 'error')).toEqual([])
      await runCommand(root, ['undo'])
      expect(readFolder(root)).toEqual(old)
    },
  )

  test.each([
    [['huts'], 1, 'since '],
    [['huts.bed'], 2, 'Did you mean "huts.beds"?'],
    [['huts.beds', '--for', 'name'], 2, 'Nothing can stand for a field'],
    [['huts.grade.hard', '--for', 'soft'], 2, 'soft is none of "easy", "hard" or "wild"'],
    [['content/pictures/a.png'], 1, 'There is no file "../pictures/a.png"'],
    [['content/pictures/a.png', '--for', 'content/pictures/c.png'], 2, 'There is no file pictures/c.png'],
    [['content/pictures', '--for', 'content/huts'], 2, 'Nothing can stand for a folder'],
  ])('or stays where something needs it, or it is said why it cannot go: %j', async (args, wanted, words) => {
    const root = make()
    const old = readFolder(root)
    const { code, stderr } = await runCommand(root, ['remove', ...args])
    expect([code, stderr]).toEqual([wanted, expect.stringContaining(words)])
    expect(readFolder(root)).toEqual(old)
  })
})

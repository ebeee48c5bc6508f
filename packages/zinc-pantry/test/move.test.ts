import { join } from 'node:path'
import { describe, expect, test } from 'vitest'
import { checkSite, createNodeHost } from 'zinc-pantry/engine'
import { linkPackages, makeFolder, PNG, REPOSITORY, readFolder, runCommand, runs, textOf } from './helpers.ts'

const CONFIGURATION = `import { image, list, pantry, ref, text } from 'zinc-pantry'
const photo = image({ optional: true, alternative: 'none' })
export default pantry({
  collections: {
    huts: { files: 'huts/**/*.{yaml,md}', body: true, address: '/huts/{slug}/', fields: { name: text(), note: text({ optional: true }), photo } },
    ruins: { files: 'old/ruins/*.{yaml,md}', body: true, address: '/ruins/{slug}/', fields: { title: text(), photo } },
    rows: { files: 'rows.csv', fields: { name: text(), tags: list(text()), photo } },
    people: { files: 'people.yaml', fields: { name: text(), photo, note: text({ optional: true }) } },
    notes: { files: 'notes/*.md', body: true, fields: { about: ref(['huts', 'ruins', 'people', 'rows'], { optional: true }), hut: ref('huts', { optional: true }) } },
  },
})
`

const FILES: Readonly<Record<string, string | Uint8Array>> = {
  'package.json': '{ "type": "module" }',
  'pantry.config.js': CONFIGURATION,
  'content/pictures/a.png': PNG,
  'content/huts/gable.md':
    '---\n# the first\nname: Gable # of the north\nnote: gone\nphoto: ../pictures/a.png\n---\nSee [the ledge](ledge.yaml) and ![it](../pictures/a.png).\n',
  'content/old/ruins/keep.yaml': 'title: Keep\n',
  'content/huts/ledge.yaml': 'name: Ledge\r\n',
  'content/people.yaml':
    '# all\n\n# of the north\nada:\n  name: Ada # first\n  # inside\n  photo: pictures/a.png\n\nbo:\n  name: Bo\n  note: |\n    # no comment\n    text\n',
  'content/rows.csv': 'id,name,tags,photo\n1,One,a; b,pictures/a.png\n2,"Two, and",c,\n',
  'content/notes/a.md': '---\nabout: huts/gable\n---\n[x](../huts/gable.md) [y](huts/gable) [z](/huts/gable/)\n',
  'content/notes/b.md': '---\nabout: people/ada\n---\n',
}

const make = (files = FILES): string => {
  const root = makeFolder(files)
  linkPackages(root)
  return root
}
const options = (root: string, configurationFile = 'pantry.config.js') => ({
  host: createNodeHost(root),
  configurationFile,
})

/** What a query gives, however paths are written from the place of an entry. */
const ask = async (root: string, collection: string): Promise<string> =>
  (await runCommand(root, ['query', collection, '--sort', 'id', '--format', 'json'])).stdout.replaceAll('../', '')

const TO_RUINS = ['move', 'huts/gable', 'ruins', '--map', 'name=title', '--map', 'note=']

describe('An entry comes into another collection', () => {
  test('with its file, its comments, and all that refers and links to it; keys are mapped, or left out', async () => {
    const root = make()
    expect(textOf(await checkSite(options(root)))).toBe('')
    const old = readFolder(root)
    const refused = await runCommand(root, ['move', 'huts/gable', 'ruins'])
    expect([refused.code, refused.stderr]).toEqual([
      2,
      'error ruins has no field for name\n  help: --map "name=field" says which it is, --map "name=" leaves it out\n',
    ])
    const { code, stderr } = await runCommand(root, TO_RUINS)
    expect([code, stderr]).toEqual([0, expect.stringContaining('the page at /huts/gable/ is gone')])
    const now = readFolder(root)
    expect(now['content/huts/gable.md']).toBeUndefined()
    expect(now['content/old/ruins/gable.md']).toBe(
      '---\n# the first\ntitle: Gable # of the north\nphoto: ../../pictures/a.png\n---\nSee [the ledge](../../huts/ledge.yaml) and ![it](../../pictures/a.png).\n',
    )
    expect(now['content/notes/a.md']).toBe(
      '---\nabout: ruins/gable\n---\n[x](../old/ruins/gable.md) [y](ruins/gable) [z](/ruins/gable/)\n',
    )
    expect(textOf(await checkSite(options(root)))).toBe('')
    expect((await runCommand(root, ['undo'])).code).toBe(0)
    expect(readFolder(root)).toEqual(old)
  })

  test('from a record to a file of its own and to a table, by its values', async () => {
    const root = make()
    expect((await runCommand(root, ['move', 'rows/1', 'people', '--map', 'tags='])).code).toBe(0)
    expect((await runCommand(root, ['move', 'people/bo', 'huts'])).code).toBe(0)
    const now = readFolder(root)
    expect(now['content/rows.csv']).toBe('id,name,tags,photo\n2,"Two, and",c,\n')
    expect(now['content/people.yaml']).toContain("\n'1':\n  name: One\n  photo: pictures/a.png\n")
    expect(now['content/people.yaml']).not.toContain('bo:')
    expect(now['content/huts/bo.yaml'] ?? now['content/huts/bo.md']).toContain(
      'name: Bo\nnote: |\n  # no comment\n  text\n',
    )
    expect(textOf(await checkSite(options(root)))).toBe('')
  })

  test('or is refused where something refers to its collection only', async () => {
    const root = make({ ...FILES, 'content/notes/b.md': '---\nhut: gable\n---\n' })
    const old = readFolder(root)
    const { code, stderr } = await runCommand(root, TO_RUINS)
    expect([code, stderr]).toEqual([1, expect.stringContaining('notes/b refers to huts only')])
    expect(readFolder(root)).toEqual(old)
  })
})

describe('The entries of a collection', () => {
  test.each([
    ['people', 'people.yaml'],
    ['rows', undefined],
  ])('of %s stand apart, and together again: queries give the same, and comments stay', async (collection, file) => {
    const root = make()
    const query = () => ask(root, collection)
    const before = await query()
    const { code, stderr } = await runCommand(root, ['move', collection, '--one-per-file'])
    expect(code).toBe(0)
    if (file)
      expect(stderr).toContain('To be looked at: content/people.yaml:1:1 the comment "all" has no place any more')
    expect(textOf(await checkSite(options(root)))).toBe('')
    expect(await query()).toBe(before)
    const apart = readFolder(root)
    expect(apart['pantry.config.js']).toContain(`files: '${collection}/*.yaml'`)
    if (file === undefined) return
    expect(apart['content/people/ada.yaml']).toBe(
      '# of the north\nname: Ada # first\n# inside\nphoto: ../pictures/a.png\n',
    )
    expect(apart['content/people/bo.yaml']).toBe('name: Bo\nnote: |\n  # no comment\n  text\n')
    expect((await runCommand(root, ['move', collection, '--into', `content/${file}`])).code).toBe(0)
    expect(await query()).toBe(before)
    expect(readFolder(root)['content/people.yaml']).toBe(
      'ada:\n  # of the north\n  name: Ada # first\n  # inside\n  photo: pictures/a.png\n\nbo:\n  name: Bo\n  note: |\n    # no comment\n    text\n',
    )
  })

  test('of the demo stand together or apart, or it is said why not, and queries give the same', async () => {
    const root = makeFolder({}, join(REPOSITORY, 'examples/fellmark'))
    const { collectionNames } = await checkSite(options(root, 'pantry.config.ts'))
    const old = readFolder(root)
    const moved: string[] = []
    const looked = ['regions', 'stages', 'huts', 'trails']
    for (const collection of collectionNames.filter((name) => runs(0, 1) === 1 || looked.includes(name)))
      for (const way of [['--one-per-file'], ['--into', `${collection}-all.yaml`]]) {
        const before = await ask(root, collection)
        const { code, stderr } = await runCommand(root, ['move', collection, ...way])
        if (code === 0) {
          moved.push(`${collection} ${way[0]}`)
          expect(textOf(await checkSite(options(root, 'pantry.config.ts')))).toBe('')
          expect(await ask(root, collection)).toBe(before)
          await runCommand(root, ['undo'])
        } else expect([collection, stderr]).toEqual([collection, expect.stringMatching(/^error /)])
        expect(readFolder(root)).toEqual(old)
      }
    expect(moved).toEqual(expect.arrayContaining(['regions --one-per-file', 'stages --one-per-file', 'huts --into']))
  })

  test.each([
    [['huts'], 'It is not said where that is to be'],
    [['huts', '--one-per-file', '--into', 'x.yaml'], 'It is not said where that is to be'],
    [['huts/gable', 'ruin'], 'There is no collection "ruin"\n  help: Did you mean "ruins"?'],
    [['huts/gable', 'huts'], 'huts/gable is in huts already'],
    [['huts', '--one-per-file'], 'Entries of huts have a file each already'],
    [['people', '--into', 'x.yaml'], 'Entries of people stand together already'],
    [['huts', '--into', 'x.yaml'], 'huts/gable has a body, for which x.yaml has no place'],
    [['huts/gable', 'people', '--map', 'name'], '"name" is not written as key=key'],
  ])('or it is said why not: %j', async (args, words) => {
    const { code, stderr } = await runCommand(make(), ['move', ...args])
    expect([code, stderr]).toEqual([2, expect.stringContaining(words)])
  })
})

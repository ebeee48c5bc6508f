import { readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { pathToFileURL } from 'node:url'
import { describe, expect, test } from 'vitest'
import { pantry, text } from 'zinc-pantry'
import { buildSite, checkSite, createMemoryHost, createNodeHost, type Host, HostError } from 'zinc-pantry/engine'
import { FIXTURES, makeFolder, REPOSITORY, runCommand, textOf } from './helpers.ts'

const SITE = join(FIXTURES, 'site')

/** All files of a generated folder with their texts. */
function readOutput(root: string): Record<string, string> {
  const folder = join(root, 'generated/pantry')
  const names = readdirSync(folder, { recursive: true, withFileTypes: true }).filter((item) => item.isFile())
  const paths = names.map((item) => join(item.parentPath, item.name).slice(folder.length + 1)).sort()
  return Object.fromEntries(paths.map((path) => [path, readFileSync(join(folder, path), 'utf8')]))
}

const build = (root: string) => buildSite({ host: createNodeHost(root), configurationFile: 'pantry.config.ts' })

test('The output is as agreed', async () => {
  const root = makeFolder({}, SITE)
  const report = await build(root)
  expect(textOf(report)).toBe('')
  const output = readOutput(root)
  await expect(output['index.d.ts']).toMatchFileSnapshot(join(FIXTURES, 'emitted/index.d.ts'))
  const rest = Object.entries(output).filter(([path]) => path !== 'index.d.ts')
  const shown = rest.map(([path, content]) => `==> ${path}\n${content}`).join('\n')
  await expect(shown).toMatchFileSnapshot(join(FIXTURES, 'emitted/other-files.txt'))
})

test('The generated module answers queries', async () => {
  // Inside of the repository, so that the generated module finds the package.
  const root = join(REPOSITORY, 'examples/fellmark')
  expect((await runCommand(root, ['build'])).code).toBe(0)
  const { trails, huts } = await import(pathToFileURL(join(root, 'generated/pantry/index.js')).href)
  const walk = await trails.byId('north-fell/high-traverse')
  expect(walk.legs.map(({ hut }: { hut: string }) => hut)).toEqual(['cairnfoot', 'skerry-stone', 'gable'])
  expect(
    await trails
      .where((trail: never) =>
        (trail as { legs: { some(test: unknown): unknown } }).legs.some(
          (leg: { hut: { beds: { atLeast(n: number): unknown } } }) => leg.hut.beds.atLeast(20),
        ),
      )
      .count(),
  ).toBe(11)
  expect((await huts.bySlug('gable')).name).toBe('Gable Hut')
  expect((await trails.loadBody('north-fell/high-traverse')).html).toContain('>The High Traverse</h1>')
})

describe('Builds', () => {
  test('Two builds of the same content write the same bytes, the second none', async () => {
    const [first, second] = [makeFolder({}, SITE), makeFolder({}, SITE)]
    await build(first)
    await build(second)
    expect(readOutput(second)).toEqual(readOutput(first))
    expect((await build(first)).writtenCount).toBe(0)
  })

  test('With errors the last good output stays', async () => {
    const root = makeFolder({}, SITE)
    await build(root)
    const before = readOutput(root)
    writeFileSync(join(root, 'content/huts/gable.yaml'), 'beds: many\n')
    const { output } = await build(root)
    expect(output).toBeUndefined()
    expect(readOutput(root)).toEqual(before)
  })

  test('A reader that holds the module of the last generation still finds its chunks', async () => {
    const root = makeFolder({}, SITE)
    await build(root)
    const held = Object.keys(readOutput(root)).filter((path) => path.startsWith('rows/'))
    writeFileSync(join(root, 'content/huts/gable.yaml'), 'name: Gable House\n')
    await build(root)
    expect(Object.keys(readOutput(root))).toEqual(expect.arrayContaining(held))
    writeFileSync(join(root, 'content/huts/gable.yaml'), 'name: Gable Inn\n')
    await build(root)
    const left = Object.keys(readOutput(root)).filter((path) => path.startsWith('rows/huts'))
    expect(left).toHaveLength(2)
    expect(left).not.toEqual(expect.arrayContaining(held.filter((path) => path.startsWith('rows/huts'))))
  })

  test('While another build is under way no chunk is removed', async () => {
    const root = makeFolder({}, SITE)
    const rename = async (name: string): Promise<string[]> => {
      writeFileSync(join(root, 'content/huts/gable.yaml'), `name: ${name}\n`)
      await build(root)
      return Object.keys(readOutput(root)).filter((path) => path.startsWith('rows/huts'))
    }
    const lock = createNodeHost(root).lock('generated/pantry')
    for (const [at, name] of ['Gable House', 'Gable Inn', 'Gable Hall'].entries())
      expect(await rename(name)).toHaveLength(at + 1)
    lock.end()
    expect(await rename('Gable Barn')).toHaveLength(2)
  })

  test('Files of other people in the folder are never deleted', async () => {
    const root = makeFolder({ 'generated/pantry/notes.txt': 'mine', 'generated/pantry/rows/huts.js': 'mine' }, SITE)
    await build(root)
    const { 'notes.txt': notes, 'rows/huts.js': huts } = readOutput(root)
    expect([notes, huts]).toEqual(['mine', 'mine'])
  })

  test('A damaged part or manifest is written anew', async () => {
    const root = makeFolder({}, SITE)
    await build(root)
    const good = readOutput(root)
    const part = Object.keys(good).find((path) => path.startsWith('catalogues/')) ?? ''
    writeFileSync(join(root, 'generated/pantry', part), '')
    writeFileSync(join(root, 'generated/pantry/manifest.json'), '{')
    rmSync(join(root, 'generated/pantry/index.js'))
    await build(root)
    expect(readOutput(root)).toEqual(good)
  })

  test('The chunks are there before a module names them', async () => {
    const host = createMemoryHost(
      { 'content/a.yaml': 'name: A\n' },
      pantry({ collections: { notes: { files: '*.yaml', fields: { name: text() } } } }),
    )
    const order: string[] = []
    const write = (file: string, content: string): void => {
      order.push(file.replace(/^generated\/pantry\/|-[0-9a-f]{12}(?:-\d+)?/g, ''))
      host.write(file, content)
    }
    // A disk that is as slow as it may be.
    const late: (() => void)[] = []
    const startWriting: Host['startWriting'] = () => ({
      ...host.startWriting(),
      write(file, content) {
        late.push(() => write(file, String(content)))
        return content.length
      },
      async settled() {
        for (const land of late.splice(0)) land()
      },
    })
    await buildSite({ host: { ...host, write, startWriting }, configurationFile: 'pantry.config.ts', cache: false })
    expect(order).toEqual([
      'rows/notes.js',
      'catalogues/notes.js',
      'package.json',
      'index.d.ts',
      'manifest.json',
      'index.js',
    ])
  })
})

describe('Files that cannot be read or written', () => {
  const configuration = pantry({ collections: { notes: { files: '**', fields: { name: text() } } } })
  const files = { 'content/a.yaml': 'name: A\n', 'content/b.yaml': 'name: B\n' }

  async function report(change: (host: Host) => Partial<Host>): Promise<string> {
    const host = createMemoryHost(files, configuration)
    return textOf(await buildSite({ host: { ...host, ...change(host) }, configurationFile: 'pantry.config.ts' }))
  }
  const refused = (reason: string) => (): never => {
    throw new HostError(reason)
  }

  test.each([
    [
      'unreadable',
      (host: Host) => ({
        read: (file: string) => (file.endsWith('b.yaml') ? refused('access is not permitted')() : host.read(file)),
      }),
    ],
    [
      'too-large',
      (host: Host) => ({
        read: (file: string) => (file.endsWith('b.yaml') ? new Uint8Array(33 * 2 ** 20) : host.read(file)),
      }),
    ],
    [
      'listing',
      () => ({
        list: () => ({
          files: ['a.yaml'],
          strayLinks: ['outside.yaml'],
          unreadable: [{ path: 'shut', reason: 'access is not permitted' }],
        }),
      }),
    ],
    [
      'names',
      (host: Host) => ({
        list: () => ({
          files: ['aux.yaml', 'new\nline.yaml', 'places/what?.yaml', 'trailing./x.yaml'],
          strayLinks: [],
          unreadable: [],
        }),
        read: (file: string) => (file.startsWith('content/') ? new TextEncoder().encode('name: A\n') : host.read(file)),
      }),
    ],
    [
      'foreign',
      (host: Host) => ({
        read: (file: string) =>
          file === 'generated/pantry/manifest.json'
            ? new TextEncoder().encode('{ "name": "A site" }')
            : host.read(file),
      }),
    ],
    ['unwritable', () => ({ write: refused('the disk is full') })],
    // It turns out while other work goes on.
    [
      'unwritable',
      (host: Host) => ({
        startWriting: () => ({ ...host.startWriting(), settled: async () => refused('the disk is full')() }),
      }),
    ],
  ])('%s', async (name, change) => {
    await expect(await report(change)).toMatchFileSnapshot(join(FIXTURES, 'hosts', `${name}.expected.txt`))
  })

  test('A file that something else is in the way of', async () => {
    const root = makeFolder({ generated: 'a file' }, SITE)
    expect(textOf(await build(root))).toContain('Output cannot be written: a folder in its path is a file')
  })

  test('Links out of the folder and in circles are not followed', async () => {
    const { symlinkSync } = await import('node:fs')
    const root = makeFolder({ 'secret.yaml': 'name: Secret\n' }, SITE)
    symlinkSync(join(root, 'secret.yaml'), join(root, 'content/huts/secret.yaml'))
    symlinkSync('..', join(root, 'content/huts/circle'))
    symlinkSync('gable.yaml', join(root, 'content/huts/alias.yaml'))
    const found = await checkSite({ host: createNodeHost(root), configurationFile: 'pantry.config.ts' })
    expect(found.diagnostics.map(({ code, file }) => `${code} ${file}`)).toEqual([
      'file-link-stray content/huts/circle',
      'file-link-stray content/huts/secret.yaml',
    ])
    expect(found.entryCount).toBe(4)
  })
})

import { spawn } from 'node:child_process'
import { cpSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { pathToFileURL } from 'node:url'
import { describe, expect, test } from 'vitest'
import { openEditor, type ProtocolOffer, positionAt } from './editor-client.ts'
import { linkPackages, makeFile, makeFolder } from './helpers.ts'

const CONFIGURATION = `import { int, pantry, ref, text } from 'zinc-pantry'
export default pantry({ collections: {
  huts: { files: 'huts/*.yaml', fields: { name: text(), beds: int({ optional: true }) } },
  notes: { files: 'notes/*.md', body: true, fields: { title: text(), hut: ref('huts') } },
} })
`
const FILES = {
  'pantry.config.ts': CONFIGURATION,
  'content/huts/gable.yaml': 'name: Gable Hut\n',
  'content/notes/one.md': '---\ntitle: One\nhut: gable\n---\n\nText.\n',
}
const NOTE = 'content/notes/one.md'

function makeSite(files: Readonly<Record<string, string>> = FILES): string {
  const root = makeFolder(files)
  linkPackages(root)
  return root
}

describe('An editor whose site changes elsewhere', () => {
  test('is told of it: a file that comes, changes and goes, and ten hundred at once', async () => {
    const root = makeSite()
    const editor = await openEditor(root)
    editor.open(NOTE, FILES[NOTE])
    expect(await editor.problems(NOTE)).toEqual([])
    rmSync(join(root, 'content/huts/gable.yaml'))
    await expect
      .poll(
        () =>
          editor
            .published()
            .get(NOTE)
            ?.map(({ code }) => code),
        POLL,
      )
      .toEqual(['ref-dangling'])
    writeFileSync(join(root, 'content/huts/gable.yaml'), 'name: Gable Hut\nbeds: many\n')
    await expect.poll(() => editor.published().get(NOTE), POLL).toEqual([])
    await expect
      .poll(
        () =>
          editor
            .published()
            .get('content/huts/gable.yaml')
            ?.map(({ code }) => code),
        POLL,
      )
      .toEqual(['value-type'])
    for (let at = 0; at < 1_000; at++) makeFile(root, `content/huts/h${at}.yaml`, `name: Hut ${at}\nbeds: x\n`)
    await expect.poll(() => [...editor.published()].filter(([, own]) => own.length > 0).length, POLL).toBe(1_001)
    expect(await editor.stop()).toBe(0)
  })

  test('has help while the configuration is broken, and problems again once it is mended', async () => {
    const root = makeSite()
    const editor = await openEditor(root)
    editor.open(NOTE, FILES[NOTE])
    await editor.problems(NOTE)
    const config = 'pantry.config.ts'
    editor.open(config, CONFIGURATION)
    editor.edit(
      config,
      CONFIGURATION.indexOf("ref('huts')"),
      CONFIGURATION.indexOf("ref('huts')") + "ref('huts')".length,
      "ref('hats')",
    )
    await expect
      .poll(
        () =>
          editor
            .published()
            .get(config)
            ?.map(({ code }) => code),
        POLL,
      )
      .toEqual(['config-ref-unknown'])
    const { items } = await editor.askAt<{ items: readonly ProtocolOffer[] }>('completion', NOTE, 'hut: |gable')
    expect(items.map(({ label }) => label)).toEqual(['Gable Hut'])
    editor.edit(
      config,
      0,
      editor.textOf(config).length,
      CONFIGURATION.replace('title: text()', 'title: text({ maxLength: 2 })'),
    )
    await expect
      .poll(
        () =>
          editor
            .published()
            .get(NOTE)
            ?.map(({ code }) => code),
        POLL,
      )
      .toEqual(['text-too-long'])
    expect(editor.published().get(config)).toEqual([])
    // What was typed there and not saved counts no more.
    editor.close(config)
    await expect.poll(() => editor.published().get(NOTE), POLL).toEqual([])
    await editor.stop()
  })

  test('goes on where the folder vanishes and comes back, and where there never was a site', async () => {
    const root = makeSite()
    const editor = await openEditor(root)
    editor.open(NOTE, FILES[NOTE])
    await editor.problems(NOTE)
    renameSync(join(root, 'content'), join(root, 'elsewhere'))
    await expect
      .poll(
        () =>
          editor
            .published()
            .get('pantry.config.ts')
            ?.map(({ code }) => code),
        POLL,
      )
      .toEqual(['config-folder-missing'])
    renameSync(join(root, 'elsewhere'), join(root, 'content'))
    await expect.poll(() => editor.published().get('pantry.config.ts'), POLL).toEqual([])
    expect(await editor.problems(NOTE)).toEqual([])
    await editor.stop()
    const bare = await openEditor(makeFolder({ 'notes.md': '# Notes\n' }))
    bare.open('notes.md', '# Notes\n')
    expect(await bare.ask('hover', 'notes.md', { position: { line: 0, character: 3 } })).toBeNull()
    expect(await bare.ask('completion', 'notes.md', { position: { line: 0, character: 3 } })).toBeNull()
    expect(await bare.stop()).toBe(0)
  })

  test('has a site of its own for every folder, also below another, and for those that come later', async () => {
    const root = makeFolder({})
    const sites = ['one', 'two/inner'].map((name) => {
      cpSync(makeSite(), join(root, name), { recursive: true, verbatimSymlinks: true })
      return name
    })
    const editor = await openEditor(root, { folders: [join(root, 'one')] })
    for (const site of sites) {
      const file = `${site}/${NOTE}`
      editor.open(file, FILES[NOTE].replace('gable', 'none'))
      expect((await editor.problems(file)).map(({ code }) => code)).toEqual(['ref-dangling'])
    }
    await editor.stop()
  })
})

test.each(['map', 'list'])('In a long file that is a %s, each record is known by its own place', async (form) => {
  const record = (at: number): string =>
    form === 'map'
      ? `h${at}:\n  name: Hut ${at}\n  near: h${at + 1}\n`
      : `- id: h${at}\n  name: Hut ${at}\n  near: h${at + 1}\n`
  const text = Array.from({ length: 1_500 }, (_, at) => record(at))
    .join('')
    .replace('near: h1500', 'near: h0')
  const file = 'content/huts.yaml'
  const root = makeSite({
    'pantry.config.ts': `import { pantry, ref, text } from 'zinc-pantry'
export default pantry({ collections: { huts: { files: 'huts.yaml'${form === 'list' ? ", id: 'id'" : ''}, fields: { name: text(), near: ref('huts'), more: text({ optional: true }) } } } })
`,
    [file]: text,
  })
  const editor = await openEditor(root)
  editor.open(file, text)
  expect(await editor.problems(file)).toEqual([])
  const hovered = await editor.askAt<{ contents: { value: string } }>('hover', file, 'near: h12|00')
  expect(hovered.contents.value).toMatch(/^\*\*Hut 1200\*\*/)
  const mark = form === 'map' ? '\nh12|00:' : 'id: h12|00'
  expect(await editor.askAt('prepareRename', file, mark)).toMatchObject({ placeholder: 'h1200' })
  const { items } = await editor.askAt<{ items: readonly ProtocolOffer[] }>('completion', file, 'near: h1200|')
  expect(items[0]?.label).toBe('Hut 1200')
  expect(items.length).toBeLessThan(100)
  const at = text.indexOf('  name: Hut 1300\n')
  editor.edit(file, at, at, '  \n')
  const keys = await editor.ask<{ items: readonly ProtocolOffer[] }>('completion', file, {
    position: { ...positionAt(text, at), character: 2 },
  })
  expect(keys.items.map(({ label }) => label)).toEqual(['more'])
  await editor.stop()
})

test('Hostile documents are opened, typed into and asked about, and the server goes on', async () => {
  const root = makeSite()
  const editor = await openEditor(root)
  const bomb = [
    'a0: &a0 [x, x, x, x, x, x, x, x, x, x]',
    ...Array.from({ length: 9 }, (_, at) => `a${at + 1}: &a${at + 1} [${`*a${at}, `.repeat(10)}]`),
  ]
  const hostile: Readonly<Record<string, string>> = {
    'content/huts/a.yaml': '__proto__: { name: x }\nconstructor: 1\nname: \ud800\n',
    'content/huts/b.yaml': `${bomb.join('\n')}\n`,
    'content/huts/c.yaml': `name: ${'['.repeat(5_000)}\n`,
    'content/huts/d.yaml': `name: ${'x'.repeat(200_000)}\nbeds: \n`,
    'content/huts/e.yaml': '\0\u0007: \u2028\n\t- x\n',
    'content/notes/f.md': `---\ntitle: ${'{'.repeat(2_000)}\n---\n${'['.repeat(2_000)}](`,
    'content/notes/g.md': `${'> '.repeat(500)}x\n${'- '.repeat(500)}y\n`,
    'content/notes/h.md': '---\n---\n---\n+++\n...\n',
  }
  for (const [file, text] of Object.entries(hostile)) {
    editor.open(file, text)
    for (const at of [0, 1, Math.floor(text.length / 2), text.length]) {
      editor.edit(file, Math.min(at, editor.textOf(file).length), Math.min(at, editor.textOf(file).length), ':')
      const before = editor.textOf(file).slice(0, at).split('\n')
      const position = { line: before.length - 1, character: before.at(-1)?.length ?? 0 }
      for (const method of [
        'completion',
        'hover',
        'definition',
        'prepareRename',
        'documentSymbol',
        'foldingRange',
        'documentLink',
      ])
        await editor.ask(method, file, { position })
    }
  }
  editor.open(NOTE, FILES[NOTE])
  expect(await editor.problems(NOTE)).toEqual([])
  expect(await editor.stop()).toBe(0)
}, 60_000)

test('A server that is killed leaves nothing behind that the next one minds', async () => {
  const root = makeSite()
  for (let at = 0; at < 300; at++) makeFile(root, `content/huts/h${at}.yaml`, `name: Hut ${at}\n`)
  const params = JSON.stringify({
    jsonrpc: '2.0',
    id: 1,
    method: 'initialize',
    params: {
      processId: null,
      rootUri: null,
      workspaceFolders: [{ uri: pathToFileURL(root).href, name: 'x' }],
      capabilities: {},
    },
  })
  const started = JSON.stringify({ jsonrpc: '2.0', method: 'initialized', params: {} })
  for (const wait of [300, 500, 700, 900]) {
    const server = spawn(
      process.execPath,
      [join(root, 'node_modules/zinc-pantry/bin/zinc-pantry.js'), 'language-server', '--stdio'],
      { cwd: root },
    )
    for (const message of [params, started])
      server.stdin.write(`Content-Length: ${Buffer.byteLength(message)}\r\n\r\n${message}`)
    await new Promise((resolve) => setTimeout(resolve, wait))
    server.kill('SIGKILL')
    const editor = await openEditor(root)
    editor.open(NOTE, FILES[NOTE].replace('gable', 'h299'))
    expect(await editor.problems(NOTE)).toEqual([])
    expect(await editor.stop()).toBe(0)
  }
}, 60_000)

test('Positions are counted in UTF-8 where the client asks for it', async () => {
  const root = makeSite()
  const editor = await openEditor(root, { capabilities: { general: { positionEncodings: ['utf-8', 'utf-16'] } } })
  expect(editor.capabilities.positionEncoding).toBe('utf-8')
  const text = '---\ntitle: "Größe 🥾"\nhut: { é: 1 }\n---\n'
  editor.open(NOTE, text)
  const [problem] = await editor.problems(NOTE)
  const lines = text.split('\n').map((line) => Buffer.from(line))
  const { start, end } = problem?.range ?? { start: { line: 0, character: 0 }, end: { line: 0, character: 0 } }
  expect(lines[start.line]?.subarray(start.character, end.character).toString()).toBe('{ é: 1 }')
  await editor.stop()
})

test('A byte order mark and line ends of Windows move no place', async () => {
  const root = makeSite()
  const windows = `\ufeff${FILES[NOTE].replaceAll('\n', '\r\n').replace('gable', 'gabel')}`
  writeFileSync(join(root, NOTE), windows)
  const editor = await openEditor(root)
  editor.open(NOTE, windows.slice(1))
  const [problem] = await editor.problems(NOTE)
  expect(problem?.range).toEqual({ start: { line: 2, character: 5 }, end: { line: 2, character: 10 } })
  expect(readFileSync(join(root, NOTE), 'utf8')).toBe(windows)
  await editor.stop()
})

const POLL = { interval: 20 }

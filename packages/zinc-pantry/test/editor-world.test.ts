import { cpSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { describe, expect, test } from 'vitest'
import { openEditor, type ProtocolOffer } from './editor-client.ts'
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

const POLL = { timeout: 10_000, interval: 20 }

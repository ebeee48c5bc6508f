import { execFileSync, spawnSync } from 'node:child_process'
import {
  existsSync,
  mkdirSync,
  readdirSync,
  readFileSync,
  rmSync,
  symlinkSync,
  truncateSync,
  writeFileSync,
} from 'node:fs'
import { join } from 'node:path'
import { pathToFileURL } from 'node:url'
import { describe, expect, test } from 'vitest'
import { type BuildReport, createNodeHost, watchSite } from 'zinc-pantry/engine'
import { makeFolder, REPOSITORY } from './helpers.ts'

const COMMAND = join(REPOSITORY, 'packages/zinc-pantry/bin/zinc-pantry.js')

const CONFIGURATION = `
import { file, image, list, map, markdown, pantry, ref, text } from 'zinc-pantry'
export default pantry({
  collections: {
    notes: {
      files: 'notes/**/*.{md,mdx,yaml,json,toml,csv}',
      body: true,
      fields: {
        title: text({ optional: true }),
        code: text({ optional: true, pattern: '^(?=(a+)+$)a' }),
        photo: image({ optional: true }),
        sheet: file({ optional: true }),
        near: ref('notes', { optional: true }),
        remark: markdown({ optional: true }),
        any: map(text(), { optional: true }),
        words: list(text(), { optional: true }),
      },
    },
  },
})
`

/** A site within a folder that has something to hide. */
function makeSite(files: Readonly<Record<string, string | Uint8Array>>): { root: string; outside: string } {
  const outside = makeFolder({
    'secret.txt': 'secret',
    'secret.md': '---\ntitle: Secret\n---\nSecret\n',
    'secret.js': 'globalThis.stolen = true\nexport const secret = 1\n',
    'site/package.json': '{ "type": "module" }',
    'site/pantry.config.ts': CONFIGURATION,
    ...Object.fromEntries(Object.entries(files).map(([path, content]) => [`site/content/notes/${path}`, content])),
  })
  const root = join(outside, 'site')
  symlinkSync(join(REPOSITORY, 'node_modules'), join(root, 'node_modules'), 'dir')
  return { root, outside }
}

/** Runs the command with little memory and within a minute. Nobody is shown a stack. */
function run(root: string, ...args: readonly string[]): { status: number | null; stdout: string } {
  const { status, signal, stdout, stderr } = spawnSync(
    process.execPath,
    ['--max-old-space-size=400', COMMAND, ...args],
    {
      cwd: root,
      encoding: 'utf8',
      timeout: 60_000,
      maxBuffer: 2 ** 28,
    },
  )
  expect(signal).toBeNull()
  expect(stdout + stderr).not.toMatch(/^\s+at \S+ \(/m)
  return { status, stdout }
}

/** The files of a folder, but those of a site in it, with their texts. */
const filesBeside = (folder: string): Readonly<Record<string, string>> =>
  Object.fromEntries(
    readdirSync(folder, { withFileTypes: true })
      .filter((item) => item.isFile())
      .map(({ name }) => [name, readFileSync(join(folder, name), 'utf8')]),
  )

const PICTURE = readFileSync(join(REPOSITORY, 'examples/fellmark/content/pictures/shingle.png'))
const LETTERS = [...'abcdefghi']
const BOMB = [
  'a: &a [x,x,x,x,x,x,x,x,x]',
  ...LETTERS.slice(1).map((letter, at) => `${letter}: &${letter} [${Array(9).fill(`*${LETTERS[at]}`)}]`),
].join('\n')
const deep = (start: string, end = '', count = 10_000): string => `${start.repeat(count)}x${end.repeat(count)}\n`
const titled = '---\ntitle: x\n---\n'

/** Content that means ill, and the codes it ends in. */
const HOSTILE: Readonly<Record<string, readonly [content: string | Uint8Array, ...codes: string[]]>> = {
  'bomb.yaml': [BOMB, 'yaml-too-large'],
  'zeros.json': [new Uint8Array(100), 'json-syntax'],
  'bytes.md': [Uint8Array.of(0x2d, 0x2d, 0x2d, 0x0a, 0x74, 0x3a, 0xff, 0xfe, 0xc3, 0x28, 0x0a), 'text-encoding'],
  'half-a-letter.yaml': [Uint8Array.of(0x74, 0x69, 0xe2, 0x82), 'text-encoding'],
  // Markdown that is nested without an end is cut short by its reader, and stays text.
  'quotes.md': [deep('> ')],
  'brackets.md': [deep('[', ']')],
  'stars.md': [deep('*a **b ')],
  'links.md': [deep('[a](')],
  'lists.md': [Array.from({ length: 1000 }, (_, at) => `${' '.repeat(at * 2)}- x\n`).join('')],
  'tags.mdx': [deep('<b>', '</b>'), 'mdx-syntax'],
  'braces.mdx': [`{${deep('(', ')')}}`, 'mdx-syntax'],
  // Runs of one sign, which a pattern may try from each of their places, or share between its parts.
  'heading.mdx': [`# a${' '.repeat(300_000)}b\n`],
  'paragraph.mdx': [`a${' '.repeat(300_000)}b\nc\n`],
  'dots.mdx': [`http://a.example/${'.'.repeat(300_000)}x\n`],
  'spaces.yaml': [`title: a${' '.repeat(300_000)}b: c\n`, 'yaml-colon'],
  'drawn.svg': [`${'<!---->'.repeat(140)}<g>`],
  'drawn.yaml': ['photo: drawn.svg\n', 'image-unreadable'],
  'rows.csv': [`id,title\n${'"'.repeat(100_001)}`, 'csv-quote'],
  'tables.toml': [`${'[a.'.repeat(2000)}b]`, 'toml-syntax'],
  'slow.yaml': [`code: ${'a'.repeat(40)}!\n`, 'pattern-slow'],
  'photo.yaml': ['photo: ../../../secret.txt\n', 'asset-outside'],
  'encoded.yaml': ['photo: ..%2f..%2f..%2fsecret.txt\n', 'asset-missing'],
  'backslashes.yaml': ["photo: '..\\..\\..\\secret.txt'\n", 'asset-missing'],
  'absolute.yaml': ['photo: /etc/passwd\n', 'asset-missing'],
  'sheet.yaml': ['sheet: notes/../../../secret.txt\n', 'asset-outside'],
  'linked.yaml': ['sheet: ./out/secret.txt\n', 'asset-missing'],
  'near.yaml': ['near: ../../../secret\n', 'ref-dangling'],
  'remark.yaml': ['remark: "[a](../../../secret.md) ![b](../../../secret.txt)"\n', 'link-broken', 'link-broken'],
  'body.md': ['[a](../../../secret.md)\n\n<img alt="" src="../../../secret.txt">\n', 'link-broken', 'link-broken'],
  'slug.md': ['---\nslug: ../../../secret\n---\n', 'field-unknown'],
  'con.md': [titled, 'file-name-unportable'],
  'new\nline.md': [titled, 'file-name-unportable'],
  'quote"\'.md': [titled, 'file-name-unportable'],
  'up..\\..\\.md': [titled, 'file-name-unportable'],
  'caf\u00e9.yaml': ['title: x\n', 'slug-duplicate'],
  'cafe\u0301.yaml': ['title: x\n'],
}

describe('Hostile content', () => {
  const contents = Object.fromEntries(Object.entries(HOSTILE).map(([name, [content]]) => [name, content]))
  const { root, outside } = makeSite({ ...contents, 'huge.yaml': '' })
  truncateSync(join(root, 'content/notes/huge.yaml'), 100 * 2 ** 20)
  symlinkSync(outside, join(root, 'content/notes/out'))
  symlinkSync('..', join(root, 'content/notes/circle'))

  test('ends in diagnostics, within bounded time and memory, and changes nothing outside', () => {
    const before = filesBeside(outside)
    const { status, stdout } = run(root, 'check', '--format', 'json')
    expect(status).toBe(1)
    const found: Record<string, string[]> = {}
    for (const { file, code } of JSON.parse(stdout).diagnostics as { file: string; code: string }[]) {
      const name = file.replace('content/notes/', '')
      found[name] = [...(found[name] ?? []), code]
    }
    const expected = Object.entries(HOSTILE).flatMap(([name, [, ...codes]]) =>
      codes.length > 0 ? [[name, codes]] : [],
    )
    expect(found).toEqual({
      ...Object.fromEntries(expected),
      'huge.yaml': ['file-too-large'],
      out: ['file-link-stray'],
      circle: ['file-link-stray'],
    })
    expect(run(root, 'build').status).toBe(1)
    expect(existsSync(join(root, 'generated/pantry/index.js'))).toBe(false)
    expect(filesBeside(outside)).toEqual(before)
  })

  test('is found by a watch too, which goes on', async () => {
    const reports: BuildReport[] = []
    const host = createNodeHost(root)
    const watched = await watchSite({
      host,
      configurationFile: 'pantry.config.ts',
      onReport: (report) => reports.push(report),
    })
    const codes = () => new Set(reports.at(-1)?.diagnostics.map(({ code }) => code))
    expect(codes()).toContain('pattern-slow')
    rmSync(join(root, 'content/notes/slow.yaml'))
    await expect.poll(() => codes().has('pattern-slow'), { timeout: 20_000 }).toBe(false)
    expect(codes()).toContain('yaml-too-large')
    await watched.close()
  })
})

test('What is no file, too large, or reached by links without number ends all the same', async () => {
  const { root } = makeSite({ 'a.md': titled, 'photo.yaml': 'photo: ./big.png\nsheet: ./big.bin\n' })
  const notes = join(root, 'content/notes')
  execFileSync('mkfifo', [join(notes, 'pipe.yaml'), join(root, 'content/pipe')])
  symlinkSync('../pipe', join(notes, 'linked.md'))
  for (const name of ['big.md', 'big.png', 'big.bin']) {
    writeFileSync(join(notes, name), name.endsWith('.png') ? PICTURE : '')
    truncateSync(join(notes, name), 3 * 2 ** 30)
  }
  // At each of sixteen levels two links lead to the next: 65,536 ways to the last.
  mkdirSync(join(notes, 'deep/l16'), { recursive: true })
  writeFileSync(join(notes, 'deep/l16/end.md'), titled)
  for (let level = 0; level < 16; level++) {
    mkdirSync(join(notes, `deep/l${level}`))
    for (const link of ['x', 'y']) symlinkSync(`../l${level + 1}`, join(notes, `deep/l${level}/${link}`))
  }
  const started = performance.now()
  const { status, stdout } = run(root, 'check', '--format', 'json')
  expect(performance.now() - started).toBeLessThan(20_000)
  expect(status).toBe(1)
  const { diagnostics } = JSON.parse(stdout) as { diagnostics: { file: string; code: string }[] }
  const told = diagnostics
    .filter(({ file }) => !file.includes('/deep/'))
    .map(({ file, code }) => `${file.slice(14)} ${code}`)
  expect(told).toEqual(['big.md file-too-large', 'linked.md file-link-stray', 'photo.yaml image-alternative'])
  expect(diagnostics.filter(({ code }) => code === 'file-link-stray').length).toBeLessThan(1_000)
})

test('A watch leaves nothing open when it is closed', async () => {
  const { root } = makeSite({ 'a.md': titled, 'deep/er/b.md': titled })
  const opened = (): number => readdirSync('/proc/self/fd').length
  const watch = async (): Promise<void> => {
    const watched = await watchSite({
      host: createNodeHost(root),
      configurationFile: 'pantry.config.ts',
      onReport() {},
    })
    await watched.close()
  }
  await watch()
  const before = opened()
  for (let time = 0; time < 12; time++) await watch()
  expect(opened() - before).toBeLessThan(4)
}, 60_000)

/** Names that are only odd. */
const ODD = [
  'new\nline',
  'quote"\'`',
  '${',
  '__proto__',
  'constructor',
  'back\\slash',
  '<b>&amp;',
  '\u202egnp',
  ' ',
  '%2e%2e',
]

test('Odd names become entries, and their files modules that can be read', async () => {
  const files = Object.fromEntries(ODD.map((name, at) => [`${name}.md`, `---\ntitle: T${at}\n---\nBody ${at}\n`]))
  const { root, outside } = makeSite(files)
  const before = filesBeside(outside)
  expect(run(root, 'build').status).toBe(0)
  expect(filesBeside(outside)).toEqual(before)
  const written = readdirSync(join(root, 'generated/pantry'), { recursive: true, encoding: 'utf8' })
  expect(written.filter((path) => !/^[\w./-]+$/.test(path))).toEqual([])
  const { notes } = await import(pathToFileURL(join(root, 'generated/pantry/index.js')).href)
  const entries: { id: string; title: string }[] = await notes.toArray()
  expect(entries.map(({ title }) => title).sort()).toEqual(ODD.map((_, at) => `T${at}`))
  for (const { id, title } of entries) {
    expect(await notes.byId(id)).toMatchObject({ title })
    expect((await notes.loadBody(id)).html).toBe(`<p>Body ${title.slice(1)}</p>\n`)
  }
  execFileSync(join(REPOSITORY, 'node_modules/.bin/tsc'), ['--noEmit', '--strict', 'generated/pantry/index.d.ts'], {
    cwd: root,
  })
})

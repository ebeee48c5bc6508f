import { chmodSync, cpSync, readdirSync, readFileSync, rmSync, symlinkSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { anything, date, image, pantry, text } from 'zinc-pantry'
import { buildSite, checkSite, createMemoryHost, createNodeHost, type Host, openContent } from 'zinc-pantry/engine'
import { openCollection } from 'zinc-pantry/query'
import { makeFolder, PNG, REPOSITORY, runCommand, runs, textOf } from './helpers.ts'

const DEMO = join(REPOSITORY, 'examples/fellmark')
const CONFIGURATION = `import { flag, list, pantry, ref, text } from 'zinc-pantry'
export default pantry({ collections: {
  huts: { files: 'huts/*.yaml', address: 'url', fields: { name: text() }, derive: { url: { field: text(), from: ({ slug }) => '/huts/' + slug } } },
  trails: { files: 'trails/*.{md,mdx}', body: true, search: { body: 1 }, fields: { title: text(), huts: list(ref('huts')) } },
} })
`
const FILES = {
  'pantry.config.ts': CONFIGURATION,
  ...Object.fromEntries(['a', 'b', 'c'].map((id) => [`content/huts/${id}.yaml`, `name: Hut ${id}\n`])),
  ...Object.fromEntries(
    ['a', 'b', 'c'].map((id) => [
      `content/trails/${id}.md`,
      `---\ntitle: ${id}\nhuts: [${id}]\n---\nTo [it](../huts/${id}.yaml)\n`,
    ]),
  ),
  'content/trails/d.mdx': '---\ntitle: d\nhuts: []\n---\n# {1 + 1}\n',
}

/** A host that counts what is read and written of a site, its cache aside. */
function countingHost(root: string): { host: Host; read: string[]; written: string[] } {
  const inner = createNodeHost(root)
  const read: string[] = []
  const written: string[] = []
  const isOwn = (file: string): boolean => !file.startsWith('.pantry/')
  const host: Host = {
    ...inner,
    read(file) {
      if (isOwn(file)) read.push(file)
      return inner.read(file)
    },
    write(file, content) {
      if (isOwn(file)) written.push(file)
      inner.write(file, content)
    },
    startWriting() {
      const writing = inner.startWriting()
      return {
        ...writing,
        write(file, content) {
          if (isOwn(file)) written.push(file)
          return writing.write(file, content)
        },
      }
    },
  }
  return { host, read, written }
}

const configurationFile = 'pantry.config.ts'
const settle = (): Promise<void> => new Promise((resolve) => setTimeout(resolve, 150))

/** Every file of a folder by its path. */
const filesOf = (folder: string): Record<string, string> =>
  Object.fromEntries(
    readdirSync(folder, { recursive: true, withFileTypes: true })
      .filter((item) => item.isFile())
      .map((item) => join(item.parentPath, item.name))
      .sort()
      .map((path) => [path.slice(folder.length), readFileSync(path, 'latin1')]),
  )

describe('A build after another', () => {
  test('reads no content and writes nothing where nothing changed, and says the same', async () => {
    const root = makeFolder(FILES)
    await settle()
    const first = await buildSite({ host: createNodeHost(root), configurationFile })
    const { host, read, written } = countingHost(root)
    const again = await buildSite({ host, configurationFile })
    expect(again).toMatchObject({
      entryCount: first.entryCount,
      fileCount: 7,
      output: 'generated/pantry',
      writtenCount: 0,
    })
    expect(read.filter((file) => file.startsWith('content/'))).toEqual([])
    expect(written).toEqual([])
  })

  test('reads just what changed, and brings back what is missing of the output', async () => {
    const root = makeFolder(FILES)
    await settle()
    await buildSite({ host: createNodeHost(root), configurationFile })
    const before = filesOf(join(root, 'generated'))
    writeFileSync(join(root, 'content/huts/a.yaml'), 'name: Hut of a\n')
    await settle()
    const { host, read, written } = countingHost(root)
    await buildSite({ host, configurationFile })
    expect(read.filter((file) => file.startsWith('content/'))).toEqual(['content/huts/a.yaml'])
    expect(
      written.every((file) => /^generated\/pantry\/(?:index|manifest|(?:rows|catalogues|indexes)\/huts-)/.test(file)),
    ).toBe(true)
    // The digest of an index is in its name; that of the names did not change.
    expect(written.length).toBeLessThan(7)
    writeFileSync(join(root, 'content/huts/a.yaml'), 'name: Hut a\n')
    rmSync(join(root, 'generated'), { recursive: true })
    await buildSite({ host: createNodeHost(root), configurationFile })
    expect(filesOf(join(root, 'generated'))).toEqual(before)
  })

  test('finds again what takes many files to keep', async () => {
    const long = (at: number): string => `# Note ${at}\n\n${'Long words, ☂ and *more*. '.repeat(3000)}\n`
    const files = Object.fromEntries(Array.from({ length: 60 }, (_, at) => [`content/${at}.md`, long(at)]))
    const configuration = (rest: string): string =>
      `import { pantry } from 'zinc-pantry'\nexport default pantry({ collections: { notes: { files: '*.md', body: true, fields: {} } } })\n${rest}`
    const root = makeFolder({ 'pantry.config.ts': configuration(''), ...files })
    await settle()
    await buildSite({ host: createNodeHost(root), configurationFile })
    const before = filesOf(join(root, 'generated'))
    const cache = join(root, '.pantry/cache')
    expect(readdirSync(cache).filter((name) => name.endsWith('.records')).length).toBeGreaterThan(4)
    // Twice, since what was recalled is kept too.
    for (const at of [1, 2]) {
      writeFileSync(join(root, 'pantry.config.ts'), configuration(`// ${at}\n`))
      rmSync(join(root, 'generated'), { recursive: true })
      await settle()
      const { host, read } = countingHost(root)
      await buildSite({ host, configurationFile })
      expect(read.filter((file) => file.startsWith('content/'))).toEqual([])
      expect(filesOf(join(root, 'generated'))).toEqual(before)
    }
  })

  test('tells what it says of bodies again, also where nothing else is read of them', async () => {
    const configuration = (rest: string): string =>
      `import { pantry } from 'zinc-pantry'\nexport default pantry({ highlight: true, collections: { notes: { files: '*.{md,mdx}', body: true, fields: {} } } })\n${rest}`
    const problems = [
      ['code-language-unknown', '```jss\nconst a = 1\n```\n'],
      ['link-broken', '[nowhere](x.md)\n'],
      ['link-fragment', '[here](#none)\n'],
    ] as const
    for (const [name, [code, body]] of ['a.md', 'a.mdx'].flatMap((one) =>
      problems.map((problem) => [one, problem] as const),
    )) {
      const root = makeFolder({ 'pantry.config.ts': configuration(''), [`content/${name}`]: body })
      const check = async () => textOf(await checkSite({ host: createNodeHost(root), configurationFile }))
      const first = await check()
      expect(first).toContain(code)
      writeFileSync(join(root, 'pantry.config.ts'), configuration('// other\n'))
      expect(await check()).toBe(first)
    }
  })

  test('tells problems again, and what begins or ends to be seen in time', async () => {
    const fields = { title: text(), from: date() }
    const site = (more = {}) =>
      pantry({ ...more, collections: { notes: { files: '*.yaml', publication: { from: 'from' }, fields } } })
    const host = createMemoryHost(
      { 'content/a.yaml': 'title: A\nfrom: 2026-05-02\n', 'content/b.yaml': 'title: 1\n' },
      site(),
    )
    const known: Host = { ...host, loadConfiguration: async () => ({ kind: 'loaded', value: site(), digest: 'same' }) }
    const say = async () => textOf(await checkSite({ host: known, configurationFile, instant: '2026-05-01T00:00:00Z' }))
    expect(await say()).toBe(await say())
    expect(await say()).toContain('content/b.yaml:1:1 error field-missing')
    host.files.set('content/b.yaml', 'title: B\nfrom: 2026-01-01\n')
    const seen = async (instant: string) => {
      await buildSite({ host: known, configurationFile, instant })
      return JSON.parse(String(host.files.get('generated/pantry/manifest.json'))).collections.notes.entries
    }
    expect([
      await seen('2026-05-01T00:00:00Z'),
      await seen('2026-05-01T23:00:00Z'),
      await seen('2026-05-02T00:00:00Z'),
    ]).toEqual([1, 1, 2])
  })

  test('--why says what was done with a file, and what depends on it', async () => {
    const root = makeFolder(FILES)
    await runCommand(root, ['build'])
    const why = async (file: string) =>
      (await runCommand(root, ['build', '--why', file])).stdout.split('\n').slice(2).join('\n')
    expect(await why('content/huts/a.yaml')).toBe(
      'content/huts/a.yaml\n  Nothing was done: neither its content nor what it depends on changed\n  Holds huts/a\n' +
        '  Looked at again when it changes:\n    trails/a  refers to it (huts.0), links to it\n',
    )
    writeFileSync(join(root, 'content/huts/b.yaml'), 'name: Other\n')
    expect(await why('content/huts/b.yaml')).toContain('Checked again, since its content changed')
    const configure = (name: string): void =>
      writeFileSync(join(root, 'pantry.config.ts'), CONFIGURATION.replace('name: text()', `name: ${name}`))
    configure('text({ maxLength: 50 })')
    expect(await why('content/huts/c.yaml')).toContain('its values were checked alone')
    configure("text({ default: 'None' })")
    expect(await why('content/huts/c.yaml')).toContain('since what the configuration says of its collection changed')
    expect(await why('content/trails/c.md')).toContain('Nothing was done')
    expect(await why('pantry.config.ts')).toContain('Part of the configuration')
    const missing = await runCommand(root, ['build', '--why', 'content/huts/x.yaml'])
    expect([missing.code, missing.stdout]).toEqual([2, expect.stringContaining('No such file belongs to the site')])
  })
})

describe('A cache', () => {
  test('that is damaged anywhere, or cannot be written, changes no output', async () => {
    const root = makeFolder({}, DEMO)
    const options = { host: createNodeHost(root), configurationFile, instant: '2026-11-25T00:00:00Z' }
    await buildSite({ ...options, cache: false })
    const clean = filesOf(join(root, 'generated'))
    const cache = join(root, '.pantry/cache')
    const damage = fc.record({
      file: fc.nat(),
      at: fc.double({ min: 0, max: 1, noNaN: true }),
      bit: fc.option(fc.nat(7)),
    })
    await fc.assert(
      fc.asyncProperty(fc.array(damage, { minLength: 1, maxLength: 20 }), fc.boolean(), async (damages, isEdited) => {
        rmSync(cache, { recursive: true, force: true })
        await buildSite(options)
        for (const { file, at, bit } of damages) {
          const all = readdirSync(cache, { recursive: true, withFileTypes: true })
          const names = all.flatMap((one) =>
            one.isFile() && !one.name.startsWith('.') ? [join(one.parentPath, one.name)] : [],
          )
          const path = names[file % names.length] ?? ''
          const bytes = readFileSync(path)
          const place = Math.floor(at * (bytes.length - 1))
          if (bit !== null) bytes[place] = (bytes[place] ?? 0) ^ (1 << bit)
          writeFileSync(path, bit === null ? bytes.subarray(0, place) : bytes)
        }
        const hut = join(root, 'content/huts/gable.yaml')
        const text = readFileSync(hut, 'utf8')
        // With a change the records of files are read, not just the state of the last run.
        if (isEdited) {
          writeFileSync(hut, text.replace('name:', 'name:  '))
          await buildSite(options)
          writeFileSync(hut, text)
        }
        rmSync(join(root, 'generated'), { recursive: true })
        expect(await buildSite(options)).toMatchObject({ output: 'generated/pantry' })
        expect(filesOf(join(root, 'generated'))).toEqual(clean)
      }),
      { numRuns: runs(9, 150) },
    )
    rmSync(cache, { recursive: true })
    writeFileSync(cache, 'in the way')
    expect(await buildSite(options)).toMatchObject({ output: 'generated/pantry' })
    chmodSync(join(root, '.pantry'), 0o500)
    expect(await buildSite(options)).toMatchObject({ output: 'generated/pantry' })
    chmodSync(join(root, '.pantry'), 0o700)
  })

  test('serves builders elsewhere: what one has made no other makes again, but for what is its own', async () => {
    const counting = `import { pantry, text } from 'zinc-pantry'
const count = (markdown) => markdown.core.ruler.push('count', ({ src }) => void (globalThis.rendered ??= []).push(src.trim()))
export default pantry({ collections: {
  notes: { files: 'notes/*.md', body: { markdownPlugins: [count] }, search: { body: 1 }, fields: { title: text() } },
} })
`
    const noteOf = (at: number): string => `---\ntitle: Note ${at}\n---\nText ${at} with *words*.\n`
    const names = Array.from({ length: 30 }, (_, at) => `content/notes/n${at}.md`)
    const files = Object.fromEntries(names.map((name, at) => [name, noteOf(at)]))
    const rendered = async (root: string): Promise<string[]> => {
      const seen = globalThis as { rendered?: string[] }
      seen.rendered = []
      const report = await buildSite({ host: createNodeHost(root), configurationFile })
      expect(report.diagnostics).toEqual([])
      return [...new Set(seen.rendered)]
    }
    const one = makeFolder({ ...files, 'pantry.config.ts': counting })
    expect((await rendered(one)).length).toBe(30)
    // The other machine has a note of its own, and another one is not as it was.
    const own = { 'content/notes/n3.md': noteOf(300), 'content/notes/own.md': noteOf(400) }
    const other = makeFolder({ ...files, ...own, 'pantry.config.ts': counting })
    cpSync(join(one, '.pantry/cache'), join(other, '.pantry/cache'), { recursive: true })
    expect((await rendered(other)).toSorted()).toEqual(['Text 300 with *words*.', 'Text 400 with *words*.'])
    const clean = makeFolder({ ...files, ...own, 'pantry.config.ts': counting })
    await buildSite({ host: createNodeHost(clean), configurationFile, cache: false })
    expect(filesOf(join(other, 'generated'))).toEqual(filesOf(join(clean, 'generated')))
    // What came back from there is known here as well.
    cpSync(join(other, '.pantry/cache'), join(one, '.pantry/cache'), { recursive: true })
    writeFileSync(join(one, 'content/notes/n3.md'), noteOf(300))
    expect(await rendered(one)).toEqual([])
  })

  test('gives every value back as it was read', async () => {
    const values = { a: '-0', b: '0', c: '-0.0', d: '1e300', e: '{ deep: [-0, "x"] }', f: '!!float -0', g: '"-0"' }
    const derive = {
      kind: {
        field: text(),
        from: ({ value }: { value?: unknown }) => {
          const all = [value, (value as { deep?: unknown[] } | null)?.deep?.[0]]
          return `${all.map((one) => (Object.is(one, -0) ? 'minus nought' : JSON.stringify(one)))}`
        },
      },
    }
    const configuration = pantry({ collections: { all: { files: '*.yaml', fields: { value: anything() }, derive } } })
    const files = Object.entries(values).map(([id, written]) => [`content/${id}.yaml`, `value: ${written}\n`])
    const host = createMemoryHost(Object.fromEntries(files), configuration)
    const kinds = async (rest: object) => {
      const { site } = await openContent({ host, configurationFile, ...rest })
      return openCollection<{ kind: string }, never, string>(site, 'all').toArray()
    }
    await checkSite({ host, configurationFile })
    // What is computed anew reads what was kept.
    host.files.set('content/z.yaml', 'value: 1\n')
    expect(await kinds({})).toEqual(await kinds({ cache: false }))
    expect((await kinds({})).filter(({ kind }) => kind.includes('minus'))).toHaveLength(4)
  })

  test('keeps nothing of files whose pictures went, came or became others', async () => {
    const fields = { photo: image({ maxSizeBytes: PNG.length, alternative: 'none' }) }
    const configuration = pantry({ collections: { a: { files: '*.yaml', fields } } })
    const host = createMemoryHost({ 'content/a.yaml': 'photo: hut.png\n', 'content/hut.png': PNG }, configuration)
    const check = async () => (await checkSite({ host, configurationFile })).diagnostics.map(({ code }) => code)
    const larger = Uint8Array.from([...PNG, 0])
    for (const [content, expected] of [
      [PNG, []],
      [undefined, ['asset-missing']],
      [PNG, []],
      [larger, ['asset-too-large']],
      [PNG, []],
    ] as const) {
      if (content) host.files.set('content/hut.png', content)
      else host.files.delete('content/hut.png')
      expect(await check()).toEqual(expected)
      expect(await check()).toEqual(expected)
    }
  })

  test('keeps nothing that a schema or a validator would now refuse', async () => {
    const body = (rest: string) =>
      `import { image, list, markdown, pantry, ref, text } from 'zinc-pantry'\nimport { z } from 'zod'\nexport default pantry({ collections: { a: { files: '*.yaml', fields: { name: ${rest} } } } })\n`
    const root = makeFolder({
      'pantry.config.ts': body('text()'),
      'content/a.yaml': 'name: long enough\n',
      'package.json': '{}',
    })
    symlinkSync(join(REPOSITORY, 'node_modules'), join(root, 'node_modules'), 'dir')
    const check = async () => textOf(await checkSite({ host: createNodeHost(root), configurationFile }))
    expect(await check()).toBe('')
    writeFileSync(join(root, 'pantry.config.ts'), body('text({ maxLength: 4 })'))
    expect(await check()).toContain('text-too-long')
    writeFileSync(join(root, 'pantry.config.ts'), body('z.string().min(3)'))
    expect(await check()).toBe('')
    writeFileSync(join(root, 'pantry.config.ts'), body('z.string().min(30)'))
    expect(await check()).toContain('validator-issue')
  })
})

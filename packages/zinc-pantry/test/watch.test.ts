import { mkdirSync, renameSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { afterEach, beforeEach, describe, expect, test } from 'vitest'
import { type BuildReport, createNodeHost, type WatchedSite, watchSite } from 'zinc-pantry/engine'
import { makeFolder, runCommand, textOf } from './helpers.ts'

const CONFIGURATION = `import { int, list, pantry, ref, text } from 'zinc-pantry'
import { most } from './limits.ts'
export default pantry({ collections: {
  huts: { files: 'huts/*.yaml', fields: { name: text(), beds: int({ maximum: most }) } },
  trails: { files: 'trails/*.md', body: true, fields: { title: text(), huts: list(ref('huts'), { default: [] }) } },
} })
`
const FILES = {
  'pantry.config.ts': CONFIGURATION,
  'limits.ts': 'export const most = 20\n',
  'content/huts/gable.yaml': 'name: Gable\nbeds: 12\n',
  'content/trails/one.md': '---\ntitle: One\nhuts: [gable]\n---\n',
}

describe('A watched site', () => {
  let root: string
  let reports: BuildReport[]
  let watched: WatchedSite
  const path = (file: string): string => join(root, file)
  const said = (): string => {
    const last = reports.at(-1)
    return last ? textOf(last) : ''
  }
  const counts = () => reports.at(-1)?.entryCount
  beforeEach(async () => {
    root = makeFolder(FILES)
    reports = []
    const onReport = (report: BuildReport): void => void reports.push(report)
    watched = await watchSite({ host: createNodeHost(root), configurationFile: 'pantry.config.ts', onReport })
  })
  afterEach(() => watched.close())

  test('tells problems as they come and go, whatever way a file is written', async () => {
    expect([reports.length, said()]).toEqual([1, ''])
    writeFileSync(path('content/huts/gable.yaml'), 'name: Gable\nbeds: many\n')
    await expect.poll(said).toContain('content/huts/gable.yaml:2:7 error value-type')
    writeFileSync(path('content/huts/new.tmp'), 'name: Gable\nbeds: 13\n')
    renameSync(path('content/huts/new.tmp'), path('content/huts/gable.yaml'))
    await expect.poll(said).toBe('')
    rmSync(path('content/huts/gable.yaml'))
    await expect.poll(said).toContain('ref-dangling')
    writeFileSync(path('content/huts/gable.yaml'), 'name: Gable\nbeds: 12\n')
    await expect.poll(said).toBe('')
    expect(reports.at(-1)?.output).toBe('generated/pantry')
  })

  test('follows the configuration and what it imports, broken and mended', async () => {
    writeFileSync(path('limits.ts'), 'export const most = 10\n')
    await expect.poll(said).toContain('number-too-large')
    writeFileSync(path('limits.ts'), 'export const most = (\n')
    await expect.poll(said).toContain('limits.ts:2:1 error config-syntax')
    writeFileSync(path('content/huts/second.yaml'), 'name: Second\nbeds: 9\n')
    writeFileSync(path('limits.ts'), 'export const most = 20\n')
    await expect.poll(said).toBe('')
    await expect.poll(counts).toBe(3)
  })

  test('a folder that goes away comes back, and thousands of files at once make few builds', async () => {
    renameSync(path('content/trails'), path('trails'))
    await expect.poll(said).toContain('config-collection-empty')
    writeFileSync(path('trails/two.md'), '---\ntitle: Two\n---\n')
    renameSync(path('trails'), path('content/trails'))
    await expect.poll(counts).toBe(3)
    writeFileSync(path('content/trails/two.md'), '---\ntitle: 2\n---\n')
    await expect.poll(said).toContain('content/trails/two.md:2:8 error value-type')
    rmSync(path('content/trails/two.md'))
    await expect.poll(said).toBe('')
    const before = reports.length
    for (let at = 0; at < 3_000; at++)
      writeFileSync(path(`content/trails/t${at}.md`), `---\ntitle: T${at}\n---\n# Text\n`)
    await expect.poll(counts, { timeout: 30_000 }).toBe(3_002)
    for (let at = 0; at < 3_000; at++) rmSync(path(`content/trails/t${at}.md`))
    await expect.poll(counts, { timeout: 30_000 }).toBe(2)
    expect(reports.length - before).toBeLessThan(40)
    expect(said()).toBe('')
  })

  test('what changes nothing makes no build', async () => {
    writeFileSync(path('content/huts/gable.yaml'), FILES['content/huts/gable.yaml'])
    writeFileSync(path('content/huts/.gable.swp'), 'x')
    mkdirSync(path('src'))
    writeFileSync(path('src/page.ts'), 'export {}')
    await new Promise((resolve) => setTimeout(resolve, 400))
    expect(reports).toHaveLength(1)
  })
})

test('The command tells every build, and ends when it is told to', async () => {
  const root = makeFolder(FILES)
  let stop = (): void => undefined
  const stopped = new Promise<void>((resolve) => {
    stop = resolve
  })
  let seen = ''
  const ended = runCommand(
    root,
    ['build', '--watch'],
    {},
    { stopped: () => stopped, onOutput: (text) => (seen += text) },
  )
  await expect.poll(() => seen).toContain('Watching .; Ctrl+C ends it')
  writeFileSync(join(root, 'content/huts/gable.yaml'), 'name: Gable\nbeds: 21\n')
  await expect
    .poll(() => seen)
    .toMatch(/\d\d:\d\d:\d\d content\/huts\/gable\.yaml\ncontent\/huts\/gable\.yaml:2:7 error number-too-large/)
  writeFileSync(join(root, 'content/huts/gable.yaml'), 'name: Gable\nbeds: 19\n')
  await expect
    .poll(() => seen)
    .toMatch(
      /Output in generated\/pantry: \d+ files written\n2 entries in 2 collections from 2 files: no problems \(\d\.\d\d s\)\n$/,
    )
  stop()
  expect((await ended).code).toBe(0)
  expect((await runCommand(root, ['build', '--watch', '--format', 'sarif'])).code).toBe(2)
})

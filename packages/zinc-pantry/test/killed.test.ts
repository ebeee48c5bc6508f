import { spawn } from 'node:child_process'
import { existsSync, mkdirSync, readdirSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { setTimeout as wait } from 'node:timers/promises'
import { expect, test } from 'vitest'
import { makeFolder, REPOSITORY, runCommand } from './helpers.ts'

const BIN = join(REPOSITORY, 'packages/zinc-pantry/bin/zinc-pantry.js')
/** Few in every run of the tests; `PANTRY_KILLS=200 PANTRY_BUILDS=50` for as many as were promised. */
const KILLS = Number(process.env.PANTRY_KILLS ?? 10)
const BUILDS = Number(process.env.PANTRY_BUILDS ?? 3)
const CONFIGURATION = `import { number, pantry, ref, text } from 'zinc-pantry'
const fields = { generation: number(), next: ref('a'), name: text() }
export default pantry({ collections: { a: { files: 'a.json', fields }, b: { files: 'b.json', fields }, c: { files: 'c.json', body: true, fields } } })
`

/** All collections of one generation say its number in every entry. */
function contentOf(generation: number): string {
  return JSON.stringify(
    Array.from({ length: 2_000 }, (_, at) => ({
      id: `e${at}`,
      generation,
      next: `e${(at * 7) % 2_000}`,
      name: `Entry ${at} of ${generation}`,
    })),
  )
}

function writeGeneration(root: string, generation: number): void {
  for (const name of ['a', 'b', 'c']) writeFileSync(join(root, `content/${name}.json`), contentOf(generation))
}

/** Puts content of a generation in the place of the present one, all of it at once. */
function swapGeneration(root: string, generation: number): void {
  const aside = join(root, `aside-${generation}`)
  mkdirSync(join(aside, 'content'), { recursive: true })
  writeGeneration(aside, generation)
  renameSync(join(root, 'content'), join(aside, 'before'))
  renameSync(join(aside, 'content'), join(root, 'content'))
  rmSync(aside, { recursive: true })
}

/** Reads a generated folder as an importer does: the head, then every part that it names. */
function readGenerations(root: string): Set<number> | undefined {
  const folder = join(root, 'generated/pantry')
  const head = join(folder, 'index.js')
  if (!existsSync(head)) return undefined
  const text = readFileSync(head, 'utf8')
  const catalogues = [...text.matchAll(/import\('\.\/catalogues\/(\w+)-([^']+)'\)/g)]
  expect(catalogues).toHaveLength(3)
  const parts = catalogues.flatMap(([, name, rest]) => {
    const catalogue = readFileSync(join(folder, `catalogues/${name}-${rest}`), 'utf8')
    const names = /"rows":\{"size":16,"group":1,"names":"([0-9a-f]+)"/.exec(catalogue)?.[1]?.match(/.{12}/g) ?? []
    const count = 2_000 / 16
    expect(names).toHaveLength(count)
    return Array.from({ length: count }, (_, part) =>
      readFileSync(join(folder, `rows/${name}-${names[part]}-0.js`), 'utf8'),
    )
  })
  return new Set(
    parts.flatMap((part) => [...part.matchAll(/"generation":([\d.]+)/g)].map(([, number]) => Number(number))),
  )
}

test('A reader never sees a mixture, whenever a build is killed, and the next build is right', async () => {
  const root = makeFolder({
    'pantry.config.ts': CONFIGURATION,
    'content/a.json': '',
    'content/b.json': '',
    'content/c.json': '',
  })
  let killed = 0
  for (let generation = 1; generation <= KILLS; generation++) {
    writeGeneration(root, generation)
    // Every other one goes on until it is killed, while the content changes once more.
    const isWatch = generation % 2 === 0
    const build = spawn(process.execPath, [BIN, 'build', ...(isWatch ? ['--watch'] : [])], {
      cwd: root,
      stdio: 'ignore',
    })
    const ended = new Promise<void>((resolve) => build.on('exit', () => resolve()))
    const killAt = 150 + ((generation * 97) % (isWatch ? 2_500 : 900))
    const started = Date.now()
    let running = true
    let isChanged = !isWatch
    void ended.then(() => {
      running = false
    })
    while (running) {
      const seen = readGenerations(root)
      if (seen) expect(seen.size).toBe(1)
      // Not while the content is being read, which would be a mixture of its own.
      if (!isChanged && seen?.has(generation)) {
        isChanged = true
        swapGeneration(root, generation + 0.5)
      }
      if (Date.now() - started > killAt && !build.killed && build.kill('SIGKILL')) killed++
      await wait(5)
    }
    await ended
    const left = readGenerations(root)
    if (left) expect(left.size).toBe(1)
  }
  expect(killed).toBeGreaterThan(KILLS / 4)
  writeGeneration(root, 99)
  expect((await runCommand(root, ['build'])).code).toBe(0)
  expect(readGenerations(root)).toEqual(new Set([99]))
  const files = readdirSync(join(root, 'generated/pantry'), { recursive: true, encoding: 'utf8' })
  expect(files.filter((path) => path.endsWith('.tmp'))).toEqual([])
}, 600_000)

test('Two builds at once leave one whole output', async () => {
  const root = makeFolder({
    'pantry.config.ts': CONFIGURATION,
    'content/a.json': '',
    'content/b.json': '',
    'content/c.json': '',
  })
  for (let round = 1; round <= BUILDS; round++) {
    writeGeneration(root, round)
    const codes = await Promise.all(
      [1, 2].map(
        () =>
          new Promise<number | null>((resolve) =>
            spawn(process.execPath, [BIN, 'build'], { cwd: root, stdio: 'ignore' }).on('exit', resolve),
          ),
      ),
    )
    expect(codes).toEqual([0, 0])
    expect(readGenerations(root)).toEqual(new Set([round]))
  }
}, 600_000)

import { execFileSync } from 'node:child_process'
import { mkdirSync, symlinkSync, writeFileSync } from 'node:fs'
import { dirname, join } from 'node:path'
import { pathToFileURL } from 'node:url'
import fc from 'fast-check'
import { expect, test } from 'vitest'
import { buildSite, createMemoryHost, messageOf } from 'zinc-pantry/engine'
import { makeFolder, REPOSITORY, runs } from './helpers.ts'
import { makeTypedSite, type TypedSite, typedConfiguration } from './typed-model.ts'

/** Sites that are compiled together: starting the compiler takes most of the time. */
const BATCH = 12

/** Writes the output of a site below a folder; undefined where its content is not sound after all. */
async function writeOutput(site: TypedSite, folder: string): Promise<boolean> {
  const host = createMemoryHost(site.files, typedConfiguration(site))
  const { output, diagnostics } = await buildSite({ host, configurationFile: 'pantry.config.ts', cache: false })
  const errors = diagnostics.filter(({ severity }) => severity === 'error')
  // Of two references to one text, or a hidden entry, a strict site cannot be built.
  if (output === undefined) expect(errors.map((one) => [one.code, messageOf(one)])).not.toEqual([])
  if (output === undefined) return false
  for (const [path, content] of host.files) {
    if (!path.startsWith('generated/')) continue
    const target = join(folder, path.slice('generated/pantry/'.length))
    mkdirSync(dirname(target), { recursive: true })
    writeFileSync(target, String(content))
  }
  return true
}

// biome-ignore lint/suspicious/noExplicitAny: generated modules have no types here; their types are what is tested
type Generated = any

/** Code in which everything that queries give stands beside the type that it is said to have. */
async function writeProbe({ picks }: TypedSite, folder: string): Promise<string> {
  const { many, other, front }: Generated = await import(pathToFileURL(join(folder, 'index.js')).href)
  const lines = ["import { front, many, other } from './index.js'"]
  const add = (type: string, value: unknown): void => {
    lines.push(`export const v${lines.length}: ${type} = ${JSON.stringify(value) ?? 'undefined'}`)
  }
  const entries = await many.toArray()
  for (const entry of entries) add('Awaited<ReturnType<typeof many.toArray>>[number]', entry)
  for (const entry of await other.toArray()) add('Awaited<ReturnType<typeof other.toArray>>[number]', entry)
  for (const { id } of entries) {
    const known = JSON.stringify(id)
    lines.push(`const byId${lines.length} = () => many.byId(${known})`)
    add(`Awaited<ReturnType<typeof byId${lines.length - 1}>>`, await many.byId(id))
    lines.push(`const body${lines.length} = () => many.loadBody(${known})`)
    add(`Awaited<ReturnType<typeof body${lines.length - 1}>>`, await many.loadBody(id))
  }
  add('Awaited<ReturnType<typeof front.get>>', await front.get())
  add('Awaited<ReturnType<typeof front.loadBody>>', await front.loadBody())
  for (const pick of picks) {
    const build = `(one) => ({ it: one${pick} })`
    lines.push(`const pick${lines.length} = () => many.pick(${build}).toArray()`)
    const type = `Awaited<ReturnType<typeof pick${lines.length - 1}>>[number]`
    for (const value of await many.pick(new Function('one', `return { it: one${pick} }`)).toArray()) add(type, value)
  }
  return `${lines.join('\n')}\n`
}

test('Generated declarations compile, and say of everything that queries give what it is', async () => {
  let built = 0
  await fc.assert(
    fc.asyncProperty(fc.array(fc.infiniteStream(fc.nat()), { minLength: BATCH, maxLength: BATCH }), async (streams) => {
      const root = makeFolder({
        'package.json': '{ "type": "module" }',
        'tsconfig.json': JSON.stringify({
          compilerOptions: {
            strict: true,
            exactOptionalPropertyTypes: true,
            noEmit: true,
            skipLibCheck: false,
            module: 'nodenext',
            target: 'es2023',
            lib: ['es2023', 'dom'],
            types: [],
          },
          include: ['*/*.ts'],
        }),
      })
      symlinkSync(join(REPOSITORY, 'node_modules'), join(root, 'node_modules'), 'dir')
      const sites: string[] = []
      for (const [at, stream] of streams.entries()) {
        const site = makeTypedSite((below) => (below <= 1 ? 0 : (stream.next().value as number) % below))
        const folder = join(root, `s${at}`)
        if (!(await writeOutput(site, folder))) continue
        built++
        writeFileSync(join(folder, 'probe.ts'), await writeProbe(site, folder))
        sites.push(site.code)
      }
      const compiler = join(REPOSITORY, 'node_modules/typescript/bin/tsc')
      const run = (): string => {
        try {
          return execFileSync(process.execPath, [compiler, '-p', root], { encoding: 'utf8' })
        } catch (error) {
          return (error as { stdout: string }).stdout
        }
      }
      expect(run().slice(0, 3_000)).toBe('')
    }),
    { numRuns: runs(1, 80), endOnFailure: true },
  )
  expect(built).toBeGreaterThan(BATCH / 2)
})

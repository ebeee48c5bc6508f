import {
  appendFileSync,
  cpSync,
  existsSync,
  mkdirSync,
  readdirSync,
  readFileSync,
  renameSync,
  rmSync,
  statSync,
  symlinkSync,
  writeFileSync,
} from 'node:fs'
import { dirname, join } from 'node:path'
import fc from 'fast-check'
import { expect, test } from 'vitest'
import { buildSite, createNodeHost, watchSite } from 'zinc-pantry/engine'
import { makeFolder, runs } from './helpers.ts'

const SITE = {
  'pantry.config.ts': `import { file, int, list, markdown, pantry, ref, text } from 'zinc-pantry'
import { most } from './limits.ts'
export default pantry({ collections: {
  huts: { files: 'huts/**/*.yaml', fields: { name: text(), beds: int({ maximum: most, optional: true }) } },
  trails: { files: 'trails/**/*.md', body: true, fields: { title: text(), sheet: file({ optional: true }) } },
} })
`,
  'limits.ts': 'export const most = 900\n',
  'content/huts/gable.yaml': 'name: Gable\nbeds: 12\n',
  'content/huts/deep/ford.yaml': 'name: Ford\n',
  'content/trails/one.md': '---\ntitle: One\n---\n[Gable](../huts/gable.yaml)\n',
  'content/sheets/plan.txt': 'plan\n',
}

const OUTPUT = 'generated/pantry'
const configurationFile = 'pantry.config.ts'

/** A step of somebody's work; whatever cannot be done at the moment is left out. */
type Step = (root: string, number: number) => void
const hut = (number: number): string => `name: Hut ${number}\nbeds: ${number % 800}\n`
const place = (number: number): string =>
  ['huts/gable', 'huts/deep/ford', 'huts/new/er/one', 'huts/x'][number % 4] ?? ''
const linkTo = (target: string, link: string): void => {
  rmSync(link, { force: true })
  symlinkSync(target, link)
}
const write = (path: string, text: string): void => {
  mkdirSync(dirname(path), { recursive: true })
  writeFileSync(path, text)
}
const STEPS: Readonly<Record<string, Step>> = {
  'saves in place': (root, n) => write(join(root, `content/${place(n)}.yaml`), hut(n)),
  'saves beside and puts in place'(root, n) {
    const path = join(root, `content/${place(n)}.yaml`)
    write(`${path}~new`, hut(n))
    renameSync(`${path}~new`, path)
  },
  'keeps the old one, and writes anew'(root, n) {
    const path = join(root, `content/${place(n)}.yaml`)
    write(path, hut(n))
    renameSync(path, `${path}~`)
    writeFileSync(path, hut(n + 1))
    rmSync(`${path}~`)
  },
  'empties and fills'(root, n) {
    const path = join(root, `content/${place(n)}.yaml`)
    write(path, '')
    appendFileSync(path, hut(n))
  },
  'makes folders at once': (root, n) => write(join(root, `content/huts/a${n % 3}/b/c${n % 2}/hut.yaml`), hut(n)),
  'edits far below'(root, n) {
    const path = join(root, `content/huts/a${n % 3}/b/c${n % 2}/hut.yaml`)
    if (existsSync(path)) writeFileSync(path, hut(n))
  },
  'copies a folder'(root, n) {
    const from = join(root, 'kept')
    const filter = (path: string): boolean => !path.includes('copy') && !path.includes('link')
    cpSync(join(root, 'content/huts'), from, { recursive: true, filter })
    cpSync(from, join(root, `content/huts/copy${n % 2}`), { recursive: true })
    rmSync(from, { recursive: true })
  },
  'edits a copy'(root, n) {
    const path = join(root, `content/huts/copy${n % 2}/gable.yaml`)
    if (existsSync(path)) writeFileSync(path, hut(n))
  },
  'moves a folder'(root, n) {
    const [from, to] = n % 2 === 0 ? ['huts/deep', 'huts/moved'] : ['huts/moved', 'huts/deep']
    rmSync(join(root, `content/${to}`), { recursive: true, force: true })
    if (existsSync(join(root, `content/${from}`)))
      renameSync(join(root, `content/${from}`), join(root, `content/${to}`))
  },
  'edits what was moved'(root, n) {
    const path = join(root, 'content/huts/moved/ford.yaml')
    if (existsSync(path)) writeFileSync(path, hut(n))
  },
  'removes and brings back'(root, n) {
    cpSync(join(root, 'content'), join(root, 'kept'), { recursive: true, verbatimSymlinks: true })
    rmSync(join(root, 'content'), { recursive: true })
    renameSync(join(root, 'kept'), join(root, 'content'))
    write(join(root, 'content/huts/back.yaml'), hut(n))
  },
  'takes another branch'(root, n) {
    for (const path of ['huts/gable.yaml', 'trails/one.md', 'huts/branch/one.yaml']) {
      rmSync(join(root, `content/${path}`), { force: true })
      const text = path.endsWith('.md') ? `---\ntitle: Branch ${n}\n---\nText ${n}\n` : hut(n)
      write(join(root, `content/${path}`), text)
    }
  },
  'links to a file'(root, n) {
    write(join(root, 'content/sheets/target.yaml'), hut(n))
    linkTo('../sheets/target.yaml', join(root, 'content/huts/link.yaml'))
  },
  'edits the target of a link'(root, n) {
    if (existsSync(join(root, 'content/sheets/target.yaml')))
      writeFileSync(join(root, 'content/sheets/target.yaml'), hut(n))
  },
  'links to a folder'(root, n) {
    write(join(root, 'content/sheets/more/hut.yaml'), hut(n))
    linkTo('../sheets/more', join(root, 'content/huts/linked'))
  },
  'edits in the target of a link'(root, n) {
    if (existsSync(join(root, 'content/sheets/more'))) writeFileSync(join(root, 'content/sheets/more/hut.yaml'), hut(n))
  },
  'edits the configuration': (root, n) => write(join(root, 'limits.ts'), `export const most = ${900 + (n % 5)}\n`),
  'removes the output': (root) => rmSync(join(root, 'generated'), { recursive: true, force: true }),
  'damages the output'(root, n) {
    const parts = listFiles(join(root, OUTPUT)).filter((path) => path.endsWith('.js'))
    const part = parts[n % Math.max(1, parts.length)]
    if (part === undefined) return
    const bytes = readFileSync(join(root, OUTPUT, part))
    bytes[n % bytes.length] = 33
    writeFileSync(join(root, OUTPUT, part), bytes)
  },
}

const listFiles = (folder: string): string[] =>
  existsSync(folder)
    ? readdirSync(folder, { recursive: true, encoding: 'utf8' }).filter((path) =>
        statSync(join(folder, path), { throwIfNoEntry: false })?.isFile(),
      )
    : []

/** What a clean build of the same content gives. */
async function buildClean(root: string): Promise<Map<string, string>> {
  const clean = makeFolder({})
  for (const path of ['content', 'limits.ts', configurationFile])
    cpSync(join(root, path), join(clean, path), { recursive: true, verbatimSymlinks: true })
  const { output } = await buildSite({ host: createNodeHost(clean), configurationFile, cache: false })
  if (output === undefined) throw new Error('the content is not clean')
  return new Map(listFiles(join(clean, OUTPUT)).map((path) => [path, readFileSync(join(clean, OUTPUT, path), 'utf8')]))
}

/** The files of the clean output that the watched one does not have. */
const differing = (root: string, clean: ReadonlyMap<string, string>): string[] =>
  [...clean].flatMap(([path, text]) => {
    try {
      return readFileSync(join(root, OUTPUT, path), 'utf8') === text ? [] : [path]
    } catch {
      return [path]
    }
  })

const names = Object.keys(STEPS)
const work = fc.array(fc.tuple(fc.constantFrom(...names), fc.nat(999), fc.constantFrom(0, 0, 5, 60, 400)), {
  minLength: 3,
  maxLength: 12,
})

test('Whatever is done while a site is watched, the output ends as that of a clean build', async () => {
  await fc.assert(
    fc.asyncProperty(work, async (steps) => {
      const root = makeFolder(SITE)
      const watched = await watchSite({ host: createNodeHost(root), configurationFile, onReport: () => undefined })
      try {
        for (const [name, number, pause] of steps) {
          STEPS[name]?.(root, number)
          await new Promise((resolve) => setTimeout(resolve, pause))
        }
        const clean = await buildClean(root)
        await expect.poll(() => differing(root, clean), { interval: 50 }).toEqual([])
      } finally {
        await watched.close()
        rmSync(root, { recursive: true, force: true })
      }
    }),
    { numRuns: runs(8, 300), endOnFailure: true },
  )
})

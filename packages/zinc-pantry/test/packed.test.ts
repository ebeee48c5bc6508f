import { execFileSync, spawnSync } from 'node:child_process'
import { mkdirSync, symlinkSync } from 'node:fs'
import { join } from 'node:path'
import { beforeAll, describe, expect, test } from 'vitest'
import { makeFolder, REPOSITORY } from './helpers.ts'

const PACKAGE = join(REPOSITORY, 'packages/zinc-pantry')
const bin = (path: string) => join(REPOSITORY, 'node_modules', path)

/** What a newcomer writes after reading the README. */
const files = {
  'package.json':
    '{ "name": "site", "private": true, "type": "module", "imports": { "#pantry": "./generated/pantry/index.js" } }',
  'tsconfig.json':
    '{ "compilerOptions": { "module": "nodenext", "strict": true, "noEmit": true, "target": "es2023", "types": [] }, "include": ["*.ts"] }',
  'pantry.config.ts': `import { int, pantry, ref, text } from 'zinc-pantry'
export default pantry({
  collections: {
    huts: { files: 'huts/*.yaml', entry: 'Hut', fields: { name: text(), beds: int() } },
    trails: { files: 'trails/*.md', entry: 'Trail', fields: { title: text(), hut: ref('huts') } },
  },
})
`,
  'content/huts/gable.yaml': 'name: Gable Hut\nbeds: 24\n',
  'content/trails/high.md': '---\ntitle: The High Way\nhut: gable\n---\n',
  'list.ts': `import { type Hut, huts, trails } from '#pantry'
export const large: readonly Hut[] = await huts.where((hut) => hut.beds.atLeast(20)).toArray()
// @ts-expect-error There is no such hut
trails.where((trail) => trail.hut.is('gabel'))
`,
  'list.mjs': `import { trails } from '#pantry'
console.log((await trails.where((trail) => trail.hut.beds.atLeast(20)).first()).title)
`,
}

let tarball: string
let project: string

beforeAll(() => {
  const folder = makeFolder({})
  execFileSync(process.execPath, [join(REPOSITORY, 'scripts/copy-documents.mjs')])
  const packed = execFileSync('npm', ['pack', '--json', '--ignore-scripts', '--pack-destination', folder], {
    cwd: PACKAGE,
    encoding: 'utf8',
    stdio: ['ignore', 'pipe', 'ignore'],
  })
  tarball = join(folder, JSON.parse(packed)[0].filename)
  project = makeFolder(files)
  mkdirSync(join(project, 'node_modules'), { recursive: true })
  execFileSync(
    'npm',
    ['install', tarball, '--engine-strict', '--no-audit', '--no-fund', '--prefer-offline', '--loglevel=error'],
    {
      cwd: project,
      stdio: 'ignore',
    },
  )
})

describe('The packed package, installed into an empty project', () => {
  test('Its command checks and builds, and the output answers queries', () => {
    const run = (program: string, ...args: string[]) => spawnSync(program, args, { cwd: project, encoding: 'utf8' })
    const built = run(join(project, 'node_modules/.bin/zinc-pantry'), 'build')
    expect(built.stderr + built.stdout).toContain('2 entries in 2 collections from 2 files: no problems')
    expect(run(process.execPath, 'list.mjs').stdout).toBe('The High Way\n')
  })

  test('What only some sites need is asked for where it is not there', () => {
    const site = makeFolder({
      ...files,
      'pantry.config.ts': files['pantry.config.ts'].replace('pantry({', 'pantry({\n  highlight: true,'),
    })
    symlinkSync(join(project, 'node_modules'), join(site, 'node_modules'), 'dir')
    const { stdout } = spawnSync(join(project, 'node_modules/.bin/zinc-pantry'), ['check'], {
      cwd: site,
      encoding: 'utf8',
    })
    expect(stdout).toMatch(
      /^pantry\.config\.ts:3:3 error config-package-missing\n {2}highlight needs the package lowlight/,
    )
    expect(stdout).toContain('help: Install it: npm install lowlight')
  })

  test('A package of CommonJS can use the output', () => {
    const site = makeFolder({
      ...files,
      'package.json': '{ "name": "site", "type": "commonjs", "imports": { "#pantry": "./generated/pantry/index.js" } }',
      'list.cjs': "import('#pantry').then(async ({ trails }) => console.log((await trails.first()).title))\n",
    })
    symlinkSync(join(project, 'node_modules'), join(site, 'node_modules'), 'dir')
    const run = (program: string, ...args: string[]) => spawnSync(program, args, { cwd: site, encoding: 'utf8' })
    expect(run(join(project, 'node_modules/.bin/zinc-pantry'), 'build').status).toBe(0)
    expect(run(process.execPath, 'list.cjs').stdout).toBe('The High Way\n')
  })

  test('Its types work in the configuration and in the site', () => {
    const { stdout, status } = spawnSync(process.execPath, [bin('typescript/bin/tsc'), '-p', project], {
      encoding: 'utf8',
    })
    expect(stdout).toBe('')
    expect(status).toBe(0)
  })

  test('It holds what it should, and nothing else', () => {
    const listed = execFileSync('tar', ['-tzf', tarball], { encoding: 'utf8' }).trim().split('\n')
    expect(listed).toEqual(
      expect.arrayContaining([
        'package/docs/guide/1-model.md',
        'package/docs/reference.md',
        'package/docs/diagnostics/ref-dangling.md',
        'package/dist/inspect/page/index.html',
      ]),
    )
    const usual =
      /^package\/(?:dist\/.+\.(?:js|d\.ts)|dist\/inspect\/page\/.+\.(?:css|html)|bin\/zinc-pantry\.js|docs\/.+\.md)$/
    expect(listed.filter((path) => !usual.test(path)).sort()).toEqual([
      'package/LICENSE',
      'package/README.md',
      'package/dist/build.txt',
      // Of what is bundled.
      'package/dist/bundle/licences.txt',
      'package/dist/query/stemmers/licences.txt',
      'package/dist/runtime/licences.txt',
      'package/package.json',
      'package/styles/code.css',
    ])
  })

  test('Its entries are right by the rules of package checkers', () => {
    const checked = spawnSync(process.execPath, [bin('publint/src/cli.js'), tarball, '--strict'], { encoding: 'utf8' })
    expect(checked.stdout).toContain('All good!')
    const types = spawnSync(
      process.execPath,
      [
        bin('@arethetypeswrong/cli/dist/index.js'),
        tarball,
        '--profile',
        'esm-only',
        '--exclude-entrypoints',
        './code.css',
      ],
      { encoding: 'utf8' },
    )
    expect(types.status).toBe(0)
  })
})

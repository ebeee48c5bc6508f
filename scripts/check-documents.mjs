/**
 * Type-checks the code in documents: every ```ts block of the Markdown files and of the docstrings in
 * the package's sources, each as a module of its own. Blocks of a Markdown file whose first line names
 * a file, as `// pantry.config.ts`, are kept under that name, so that others can import them.
 */
import { spawnSync } from 'node:child_process'
import { mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { dirname, join } from 'node:path'

const OUTPUT = 'node_modules/.cache/documents'
const SOURCE = 'packages/zinc-pantry/src'

rmSync(OUTPUT, { recursive: true, force: true })
const documents = ['README.md', 'CONTRIBUTING.md', 'packages/zinc-pantry/README.md', ...listFiles('docs', '.md')]
const sources = listFiles(SOURCE, '.ts')
let count = 0

for (const file of documents) writeBlocks(file, readFileSync(file, 'utf8'))
for (const file of sources) {
  const comments = readFileSync(file, 'utf8').match(/\/\*\*[\s\S]*?\*\//g) ?? []
  writeBlocks(file, comments.map((comment) => comment.replace(/^[ \t]*\* ?/gm, '')).join('\n'))
}

writeFileSync(
  join(OUTPUT, 'tsconfig.json'),
  JSON.stringify({
    extends: '../../../tsconfig.base.json',
    compilerOptions: {
      noEmit: true,
      composite: false,
      incremental: false,
      allowImportingTsExtensions: true,
      types: ['node'],
      typeRoots: ['../../@types'],
    },
    include: ['**/*.ts'],
  }),
)
const { status } = spawnSync(process.execPath, ['node_modules/typescript/bin/tsc', '-p', OUTPUT], { stdio: 'inherit' })
if (status === 0) console.log(`${count} blocks of code in ${documents.length} documents and ${sources.length} sources`)
process.exitCode = status ?? 1

function listFiles(folder, extension) {
  return readdirSync(folder, { recursive: true, encoding: 'utf8' })
    .filter((path) => path.endsWith(extension))
    .map((path) => join(folder, path))
}

function writeBlocks(file, text) {
  const folder = join(OUTPUT, file.replace(/\W+/g, '-'))
  let number = 0
  for (const [, code] of text.matchAll(/^```ts\n([\s\S]*?)^```/gm)) {
    count++
    number++
    const named = /^\/\/ ([\w./-]+\.ts)\n/.exec(code)?.[1]
    const path = join(folder, named ?? `block-${number}.ts`)
    mkdirSync(dirname(path), { recursive: true })
    const isModule = /^(?:import|export) /m.test(code)
    writeFileSync(path, isModule ? code : `${code}\nexport {}\n`)
  }
}

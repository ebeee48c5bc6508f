import { mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { describe, expect, test } from 'vitest'
import { checkSite, createNodeHost } from 'zinc-pantry/engine'
import { FIXTURES, makeFolder, runCommand, textOf } from './helpers.ts'

const content = { 'content/huts/gable.yaml': 'name: Gable\n' }

describe('Problems of a configuration name the setting at its place', () => {
  const folder = join(FIXTURES, 'configurations')
  const names = readdirSync(folder).filter((name) => name.endsWith('.ts'))
  test.each(names)('%s', async (name) => {
    const configuration = readFileSync(join(folder, name), 'utf8')
    const root = makeFolder({ ...content, 'pantry.config.ts': configuration })
    const report = await checkSite({ host: createNodeHost(root), configurationFile: 'pantry.config.ts' })
    await expect(textOf(report)).toMatchFileSnapshot(join(folder, `${name}.expected.txt`))
    expect((await runCommand(root, ['check'])).code).toBe(
      report.diagnostics.every(({ severity }) => severity === 'warning') ? 0 : 2,
    )
  })
})

const plain = "pantry({ collections: { huts: { files: 'huts/*.yaml', fields: { name: text() } } } })"
const imports = "import { pantry, text } from 'zinc-pantry'\n"

test.each([
  ['pantry.config.ts', `${imports}const site: unknown = ${plain}\nexport default site`],
  ['pantry.config.mts', `${imports}export default ${plain} satisfies object`],
  ['pantry.config.js', `${imports}export default ${plain}`],
  ['pantry.config.mjs', `${imports}export default ${plain}`],
])('%s is found from a folder below it', async (name, text) => {
  const root = makeFolder({ ...content, [name]: text, 'content/deep/er/none.txt': '' })
  const { code, stdout } = await runCommand(join(root, 'content/deep/er'), ['check'])
  expect(stdout).toMatch(
    /^1 entry in 1 collection from 1 file, \d files? in no collection: no problems \(\d+\.\d\d s\)\n$/,
  )
  expect(code).toBe(0)
})

test('A configuration may import files of the site and packages that it installed', async () => {
  const root = makeFolder({
    ...content,
    'pantry.config.ts': `${imports}import { name } from './model/fields.ts'\nimport { depth } from 'fells'\nimport data from './data.json'\n
export default pantry({ collections: { huts: { files: data.files, fields: { name, depth: text(depth) } } } })`,
    'model/fields.ts': "import { text } from 'zinc-pantry'\nexport const name = text({ maxLength: 3 } as const)\n",
    'data.json': '{ "files": "huts/*.yaml" }',
    'node_modules/fells/package.json': '{ "name": "fells", "type": "module", "exports": "./index.js" }',
    'node_modules/fells/index.js': 'export const depth = { optional: true }\n',
  })
  const { stdout } = await runCommand(root, ['check'])
  expect(stdout).toContain('Text has 5 characters, expected at most 3')
})

test('Each run reads the configuration anew', async () => {
  const root = makeFolder({ ...content, 'pantry.config.ts': `${imports}export default ${plain}` })
  expect((await runCommand(root, ['check'])).code).toBe(0)
  writeFileSync(
    join(root, 'pantry.config.ts'),
    `${imports}export default ${plain.replace('text()', 'text({ maxLength: 2 })')}`,
  )
  expect((await runCommand(root, ['check'])).code).toBe(1)
})

test('Without a configuration the command says where it looked', async () => {
  const root = makeFolder(content)
  mkdirSync(join(root, 'below'))
  const { code, stdout } = await runCommand(root, ['check', '--root', 'below'])
  expect(stdout.replaceAll(root, 'ROOT')).toMatchInlineSnapshot(`
    "below/pantry.config.ts:1:1 error config-not-found
      No pantry.config file in "ROOT/below"
      help: Create pantry.config.ts there

    0 entries in 0 collections from 0 files: 1 error (0.00 s)
    "
  `)
  expect(code).toBe(2)
})

import { existsSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { Ajv2020 } from 'ajv/dist/2020.js'
import addFormats from 'ajv-formats'
import { describe, expect, test } from 'vitest'
import { readJsonc, readMarkdown, readToml, readYaml } from 'zinc-pantry/read'
import { linkPackages, makeFile, makeFolder, REPOSITORY, runCommand } from './helpers.ts'

const READERS: Readonly<Record<string, typeof readYaml>> = {
  yaml: readYaml,
  md: readMarkdown,
  mdx: readMarkdown,
  json: readJsonc,
  jsonc: readJsonc,
  toml: readToml,
}

function readValue(root: string, file: string): unknown {
  const text = readFileSync(join(root, file), 'utf8')
  return READERS[file.slice(file.lastIndexOf('.') + 1)]?.({ file, text }).document?.value
}

/** The test of values that an independent validator makes of a schema. */
function openSchema(root: string, name: string) {
  const ajv = new Ajv2020({ strict: false, allErrors: true, multipleOfPrecision: 9 })
  addFormats.default(ajv)
  return ajv.compile(JSON.parse(readFileSync(join(root, 'schemas', `${name}.json`), 'utf8')))
}

describe('schema --write', () => {
  test('writes a schema of every shape of file, by which the demo is right and what check refuses is not', async () => {
    const root = makeFolder({}, join(REPOSITORY, 'examples/fellmark'))
    linkPackages(root)
    const { code, stdout } = await runCommand(root, ['schema', '--write', 'schemas'])
    expect([code, stdout]).toEqual([0, '15 schemas in schemas; builds keep them fresh\n'])
    const files = readdirSync(join(root, 'content'), { recursive: true, encoding: 'utf8' }).map(
      (path) => `content/${path}`,
    )
    let count = 0
    for (const name of readdirSync(join(root, 'schemas'))) {
      const [collection = ''] = name.split('.')
      const fits = openSchema(root, name.replace(/\.json$/, ''))
      for (const file of files.filter((one) =>
        new RegExp(`^content/${collection}[./].*(?:yaml|mdx?|jsonc?|toml)$`).test(one),
      )) {
        count++
        expect([file, fits(readValue(root, file)), fits.errors]).toEqual([file, true, null])
      }
    }
    expect(count).toBeGreaterThan(70)

    const huts = openSchema(root, 'huts')
    const gable = readValue(root, 'content/huts/gable.yaml') as object
    expect(huts({ ...gable, region: 'north-fel' })).toBe(false)
    const { region } = JSON.parse(readFileSync(join(root, 'schemas/huts.json'), 'utf8')).properties
    expect(region.oneOf[0]).toEqual({ const: 'north-fell', title: 'North Fell' })
  })

  test('drafts are among what references may lead to, before and after a build', async () => {
    const root = makeFolder({
      'pantry.config.ts': `import { flag, pantry, ref } from 'zinc-pantry'
const fields = { draft: flag({ default: false }), near: ref('huts', { optional: true }) }
export default pantry({ collections: { huts: { files: 'huts/*.yaml', publication: { draft: 'draft' }, fields } } })
`,
      'content/huts/a.yaml': 'draft: true\n',
      'content/huts/b.yaml': 'draft: true\nnear: a\n',
      'content/huts/c.yaml': '{}\n',
    })
    linkPackages(root)
    await runCommand(root, ['schema', '--write', 'schemas'])
    const written = readFileSync(join(root, 'schemas/huts.json'), 'utf8')
    expect(openSchema(root, 'huts')({ near: 'a' })).toBe(true)
    expect((await runCommand(root, ['build'])).code).toBe(0)
    expect(readFileSync(join(root, 'schemas/huts.json'), 'utf8')).toBe(written)
  })

  test('builds keep them fresh, and nothing else is touched', async () => {
    const root = makeFolder({
      'pantry.config.ts': `import { pantry, ref, text } from 'zinc-pantry'
export default pantry({ collections: {
  tags: { files: 'tags.yaml', fields: { name: text() }, createFrom: 'name' },
  huts: { files: 'huts/*.yaml', records: '/all', perFile: 'many', fields: { tag: ref('tags', { create: false }), near: ref('huts', { optional: true }) } },
} })
`,
      'content/tags.yaml': '7: { name: Seven }\nold: { name: Old }\n',
      'content/huts/a.yaml': 'all:\n  - { id: one, tag: old }\n',
      'schemas/mine.json': '{}\n',
    })
    linkPackages(root)
    await runCommand(root, ['schema', '--write', 'schemas'])
    expect(openSchema(root, 'huts.many')({ all: [{ id: 'two', tag: 7, near: 'one' }] })).toBe(true)
    expect(openSchema(root, 'huts.many')({ all: { two: { tag: 'none' } } })).toBe(false)
    makeFile(root, 'content/tags.yaml', '7: { name: Seven }\nold: { name: Old }\nnone: { name: None }\n')
    expect((await runCommand(root, ['build'])).code).toBe(0)
    expect(openSchema(root, 'huts.many')({ all: { two: { tag: 'none' } } })).toBe(true)
    const config = readFileSync(join(root, 'pantry.config.ts'), 'utf8')
    writeFileSync(
      join(root, 'pantry.config.ts'),
      config.replace('huts:', 'cabins:').replace("ref('huts'", "ref('cabins'"),
    )
    expect((await runCommand(root, ['build'])).code).toBe(0)
    expect(readdirSync(join(root, 'schemas')).sort()).toEqual(['cabins.many.json', 'mine.json', 'tags.many.json'])
    rmSync(join(root, 'schemas'), { recursive: true })
    expect((await runCommand(root, ['build'])).code).toBe(0)
    expect(existsSync(join(root, 'schemas'))).toBe(false)
  })

  test.each([
    [['schema'], 'Name a collection, or a folder with --write'],
    [['schema', 'huts', '--write', 'x'], 'Name a collection, or a folder with --write'],
    [['schema', '--write', '../x'], '../x is no folder below the configuration'],
    [['schema', '--write', 'content/huts'], 'Nothing was written: content is not ours'],
    [['schema', '--write', 'own'], 'Nothing was written: own/huts.json is not ours'],
  ])('%j is refused', async (args, message) => {
    const root = makeFolder({
      'pantry.config.ts': `import { pantry, text } from 'zinc-pantry'\nexport default pantry({ collections: { huts: { files: 'huts/*.yaml', fields: { name: text() } } } })\n`,
      'content/huts/a.yaml': 'name: A\n',
      'own/huts.json': '{}\n',
    })
    linkPackages(root)
    const { code, stderr } = await runCommand(root, args)
    expect([code, stderr.split('\n')[0]]).toEqual([2, `error ${message}`])
    expect(readFileSync(join(root, 'own/huts.json'), 'utf8')).toBe('{}\n')
  })
})

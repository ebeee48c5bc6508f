import fc from 'fast-check'
import { parseTree } from 'jsonc-parser'
import { parse as parseToml } from 'smol-toml'
import { expect, test } from 'vitest'
import { parse as parseYaml } from 'yaml'
import { block, choice, flag, group, int, list, map, markdown, number, pantry, text } from 'zinc-pantry'
import { type ChangeReport, changeSite, createMemoryHost } from 'zinc-pantry/engine'
import { undoChange } from '../dist/engine/change-journal.js'
import { runs } from './helpers.ts'

const configurationFile = 'pantry.config.ts'
const configuration = pantry({
  blocks: { note: { fields: { text: text() } }, count: { fields: { of: int() } } },
  collections: {
    huts: {
      files: 'huts/*.{md,yaml,json,jsonc,toml}',
      body: true,
      fields: {
        name: text({ optional: true }),
        beds: int({ optional: true }),
        open: flag({ optional: true }),
        about: markdown({ optional: true }),
        tags: list(text(), { optional: true }),
        water: group(
          { source: choice(['tap', 'spring'], { optional: true }), depth: int({ optional: true }) },
          { optional: true },
        ),
        legs: list(group({ to: text(), hours: number(), note: text({ optional: true }) }), { optional: true }),
        panels: list(block('note', 'count'), { optional: true }),
        names: map(text(), { optional: true }),
        called: text({ optional: true, writtenAs: 'also called' }),
      },
    },
  },
} as never)

/** The same entry in every format, with comments, quotes and line ends of all sorts. */
const FILES: Readonly<Record<string, string>> = {
  'content/huts/a.md': `---
# first
name: A # of a
tags: [x, "y"] # of tags
legs:
  # to the first
  - to: b # inside
    hours: 2
  # to the second
  - { to: c, hours: 3.5 }

  - to: d
    hours: 1
    note: 'quoted'
panels:
  - block: note
    text: One
  - block: count # how many
    of: 2
names:
  no: Hytta # of names
  cy: Cwt
---
# not a comment

A body.
`,
  'content/huts/b.yaml':
    "name: 'B'\r\ntags:\r\n  - x # one\r\n  - y\r\n  - z\r\nwater: { source: spring }\r\nabout: |\r\n  Two lines\r\n  of text\r\nopen: true\r\n",
  'content/huts/c.json': `{
  "name": "C",
  "tags": ["x", "y"],
  "water": { "depth": 2 },
  "legs": [
    { "to": "a", "hours": 1 },
    { "to": "b", "hours": 2 }
  ],
  "names": { "no": "Hytta" }
}
`,
  'content/huts/d.jsonc': `{
  // one
  "name": "D", // of d
  "tags": [
    "x", // in a list
    "y"
  ],
  "legs": [{ "to": "a", "hours": 1 }]
}
`,
  'content/huts/e.toml': '# one\nname = "E" # of e\nbeds = 4\ntags = ["x", "y"]\n\n[water]\nsource = "tap"\n',
}

type Loose = Record<string, unknown>

/** The data of a file as another parser than ours reads it. */
function readOther(file: string, content: string): Loose {
  if (file.endsWith('.json')) return JSON.parse(content)
  if (file.endsWith('.jsonc')) return readNode(parseTree(content, [], { allowTrailingComma: true })) as Loose
  if (file.endsWith('.toml')) return parseToml(content) as Loose
  return parseYaml(file.endsWith('.md') ? (/^---\r?\n([\s\S]*?\n)---\s*$/m.exec(content)?.[1] ?? '') : content) ?? {}
}

const readNode = (node: ReturnType<typeof parseTree>): unknown =>
  node?.type === 'object'
    ? Object.fromEntries((node.children ?? []).map(({ children: [key, value] = [] }) => [key?.value, readNode(value)]))
    : node?.type === 'array'
      ? (node.children ?? []).map(readNode)
      : node?.value

const WORD = fc.constantFrom(
  'word',
  'two words',
  'yes',
  '007',
  'a: b',
  '# no',
  "it's",
  'say "x"',
  '-',
  'ünï',
  'true',
  '[x]',
  'null',
  ' led',
)
const LINES = fc.oneof(WORD, fc.constantFrom('Two\nlines', 'Ends\n', 'Three\n\n  inwards\nlines\n', ' led\nby a space'))
const LEG = fc.record(
  { to: WORD, hours: fc.constantFrom(1, 2.5, 0), note: fc.option(WORD, { nil: undefined }) },
  { requiredKeys: ['to', 'hours'] },
)
const PANEL = fc.oneof(
  fc.record({ block: fc.constant('note'), text: WORD }),
  fc.record({ block: fc.constant('count'), of: fc.nat(9) }),
)

/** Somebody changes a value: sets it, empties it, or works on a list or a map. */
const STEP = fc.oneof(
  ...(['name', 'also called'] as const).map((key) =>
    fc.record({ key: fc.constant(key), value: fc.option(WORD, { nil: undefined }) }),
  ),
  fc.record({ key: fc.constant('about'), value: fc.option(LINES, { nil: undefined }) }),
  fc.record({ key: fc.constant('beds'), value: fc.option(fc.nat(40), { nil: undefined }) }),
  fc.record({ key: fc.constant('open'), value: fc.option(fc.boolean(), { nil: undefined }) }),
  fc.record({
    key: fc.constant('water'),
    value: fc.option(fc.record({ source: fc.constantFrom('tap', 'spring'), depth: fc.nat(9) }, { requiredKeys: [] }), {
      nil: undefined,
    }),
  }),
  fc.record({
    key: fc.constant('names'),
    value: fc.option(fc.dictionary(fc.constantFrom('no', 'cy', 'gd', 'a b'), WORD, { maxKeys: 3 }), { nil: undefined }),
  }),
  fc.record({ key: fc.constant('tags'), items: fc.constant(WORD), seed: fc.nat() }),
  fc.record({ key: fc.constant('legs'), items: fc.constant(LEG as fc.Arbitrary<unknown>), seed: fc.nat() }),
  fc.record({ key: fc.constant('panels'), items: fc.constant(PANEL as fc.Arbitrary<unknown>), seed: fc.nat() }),
) as fc.Arbitrary<{ key: string; value?: unknown; items?: fc.Arbitrary<unknown>; seed?: number }>

/** A list in which an item was moved, taken out, put in or changed. */
function changeList(list: readonly unknown[], items: fc.Arbitrary<unknown>, seed: number): readonly unknown[] {
  const [item] = fc.sample(items, { numRuns: 1, seed }) as [unknown]
  const at = list.length === 0 ? 0 : seed % list.length
  const to = list.length === 0 ? 0 : Math.floor(seed / 7) % list.length
  const left = list.filter((_, position) => position !== at)
  switch (Math.floor(seed / 3) % 4) {
    case 0:
      return [...left.slice(0, to), ...list.slice(at, at + 1), ...left.slice(to)]
    case 1:
      return left
    case 2:
      return [...list.slice(0, to), item, ...list.slice(to)]
    default:
      return list.map((one, position) =>
        position === at ? (typeof one === 'object' ? { ...(one as object), ...(item as object) } : item) : one,
      )
  }
}

/** Without what is undefined, and with lists and groups that nothing is in as they are. */
const plain = (value: unknown): unknown => JSON.parse(JSON.stringify(value))

test('An entry is written in every format as it is meant, comments stay, and it is undone to the byte', async () => {
  const tried = new Map<string, { all: number; byHand: number }>()
  await fc.assert(
    fc.asyncProperty(
      fc.constantFrom(...Object.keys(FILES)),
      fc.array(STEP, { minLength: 1, maxLength: 3 }),
      async (file, steps) => {
        const host = createMemoryHost(FILES, configuration)
        const before = readOther(file, FILES[file] ?? '')
        const record: Loose = { ...before }
        for (const { key, value, items, seed = 0 } of steps) {
          const fresh = items ? changeList((record[key] as unknown[] | undefined) ?? [], items, seed) : value
          if (fresh === undefined || (Array.isArray(fresh) && fresh.length === 0)) delete record[key]
          else record[key] = fresh
        }
        const wanted = plain(record) as Loose
        const id = file.slice(file.lastIndexOf('/') + 1, file.lastIndexOf('.'))
        const answer = await changeSite({ host, configurationFile, anyway: true } as never, {
          kind: 'write',
          collection: 'huts',
          id,
          record: wanted,
        })
        if (!('change' in answer)) throw new Error(`${answer.refused} ${JSON.stringify(wanted)}`)
        const count = tried.get(file) ?? { all: 0, byHand: 0 }
        tried.set(file, count)
        count.all++
        const content = host.files.get(file)
        const written = typeof content === 'string' ? content : new TextDecoder().decode(content)
        if (answer.change.attention.length > 0) count.byHand++
        else expect(readOther(file, written), written).toEqual(wanted)
        expectComments(answer as ChangeReport, before, wanted, written, FILES[file] ?? '')
        if (file.endsWith('.md')) expect(written).toMatch(/---\n# not a comment\n\nA body\.\n$/)
        for (const [other, old] of Object.entries(FILES)) if (other !== file) expect(host.files.get(other)).toBe(old)
        if (answer.isWritten) await undoChange(host)
        const back = host.files.get(file)
        expect(typeof back === 'string' ? back : new TextDecoder().decode(back)).toBe(FILES[file])
      },
    ),
    { numRuns: runs(180, 20_000) },
  )
  for (const [file, { all, byHand }] of tried) expect(byHand, `${file} by hand`).toBeLessThan(2 + all / 10)
})

/** Comments are gone only where what they stand in is gone. */
function expectComments({ change }: ChangeReport, before: Loose, wanted: Loose, written: string, old: string): void {
  const gone = Object.keys(before).filter((key) => JSON.stringify(before[key]) !== JSON.stringify(wanted[key]))
  for (const [comment] of old.matchAll(/(?<=^|\s)(?:#|\/\/) [\w ]+$/gm)) {
    const isOf = gone.some((key) => commentsOf(old, key).includes(comment))
    if (!isOf) expect(written, JSON.stringify(change.steps)).toContain(comment)
  }
}

/** The comments in the lines of a key and of what stands below it. */
function commentsOf(content: string, key: string): string {
  const lines = content.split('\n')
  const at = lines.findIndex((line) => new RegExp(`^\\s*"?${key}"?\\s*[:=]`).test(line))
  const end = lines.findIndex(
    (line, position) =>
      position > at &&
      /^\s{0,2}"?[\w ]+"?\s*[:=]|^---/.test(line) &&
      !/^\s{3,}/.test(line) &&
      !/^\s*-/.test(line) &&
      (!/^\s/.test(line) || content.startsWith('{')),
  )
  return at === -1 ? '' : lines.slice(at, end === -1 ? undefined : end).join('\n')
}

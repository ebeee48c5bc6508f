import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { choice, int, list, pantry, text } from 'zinc-pantry'
import { checkSite, createMemoryHost } from 'zinc-pantry/engine'
import { runs } from './helpers.ts'

/** Every span, sliced from the text, reads back to the value that the problem is about. */

const ENDS = ['\n', '\r\n', '\r'] as const

/** Pieces of a body, each with addresses that lead nowhere; `n` makes them unlike all others. */
const pieces: readonly ((n: number) => string)[] = [
  (n) => `A [link](bad-${n}.md) in text.`,
  (n) => `An *emphasised [link \`code\`](bad-${n}.md)* and more`,
  (n) => `Two [a](bad-${n}-a.md)\nlines [b](bad-${n}-b.md)`,
  (n) => `<div>\n  <a class="x"\n     href="bad-${n}.md">x</a>\n</div>`,
  (n) => `<p>Ω <img alt="" src='bad-${n}.png'></p>`,
  (n) => `Inline <a href="bad-${n}.md">x</a> 🏔 <a href=bad-${n}-q.md>y</a>`,
  (n) => `<table>\n<tr><td>\n<a href="bad-${n}.md?a&amp;b">x</a>\n</td></tr>\n</table>`,
  (n) => `| a \\| b | [x](bad-${n}.md) |\n| --- | --- |\n| c \\| d \\| e | \`f\` [y](bad-${n}-c.md) |`,
  (n) => `| h |\n| - |\n| <a href="bad-${n}.md">x</a> |`,
  (n) => `## Heading [x](<bad-${n} with spaces.md>)`,
  (n) => `![picture](bad-${n}.png "Title")`,
]
/** What stands around them. */
const around: readonly ((inner: string) => string)[] = [
  (inner) => inner,
  (inner) => prefix(inner, '> ', '> '),
  (inner) => prefix(inner, '- ', '  '),
  (inner) => prefix(inner, '12. ', '    '),
  (inner) => prefix(inner, '>', '>'),
]
const prefix = (text: string, first: string, rest: string): string =>
  text
    .split('\n')
    .map((line, at) => (at === 0 ? first : rest) + line)
    .join('\n')

describe('In bodies', () => {
  const site = pantry({
    severities: { 'image-alternative': 'off' },
    collections: { pages: { files: '*.md', body: true, fields: { title: text({ optional: true }) } } },
  })
  const block = fc.tuple(fc.nat(pieces.length - 1), fc.array(fc.nat(around.length - 1), { maxLength: 2 })).map(
    ([piece, holders]) =>
      (n: number) =>
        holders.reduce((inner, holder) => around[holder]?.(inner) ?? inner, pieces[piece]?.(n) ?? ''),
  )

  test('links are told at their addresses, in quotes, lists, tables and HTML, whatever ends the lines', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.array(block, { minLength: 1, maxLength: 4 }),
        fc.constantFrom(...ENDS),
        fc.constantFrom('', '---\ntitle: x\n---\n'),
        async (blocks, end, front) => {
          const body = blocks.map((make, at) => make(at)).join('\n\n')
          const source = `${front}${body}\n`.replaceAll('\n', end)
          const host = createMemoryHost({ 'content/a.md': source }, site)
          const { diagnostics } = await checkSite({ host, configurationFile: 'c' })
          const told = diagnostics.map(({ span }) => source.slice(...span)).sort()
          const written = source.match(/bad-\d+(?: with spaces|-[a-z])?\.(?:md|png)(?:\?a&amp;b)?/g) ?? []
          expect(told).toEqual([...written].sort())
        },
      ),
      { numRuns: runs(300, 20_000) },
    )
  })
})

describe('In values', () => {
  const fields = {
    size: int({ optional: true }),
    kind: choice(['low', 'high'], { optional: true }),
    tags: list(text({ maxLength: 3 }), { optional: true }),
  }
  const site = pantry({ collections: { things: { files: 'a.*', perFile: 'many', id: 'id', fields } } })
  const values = fc.record({
    size: fc.option(fc.constantFrom('Ω-wrong', '🏔 wrong', "wr'ong", 'wrong "x"')),
    kind: fc.option(fc.constantFrom('wrong kind', 'Ωrong')),
    tags: fc.array(fc.constantFrom('ok', 'wrong tag', 'ωrong'), { maxLength: 3 }),
    odd: fc.option(fc.constantFrom('wrong-key', 'ωrongKey')),
  })
  type Record = { [name: string]: unknown }
  const recordOf = (
    { size, kind, tags, odd }: { size: string | null; kind: string | null; tags: string[]; odd: string | null },
    at: number,
  ) => {
    const record: Record = { id: `e${at}` }
    if (size !== null) record.size = size
    if (kind !== null) record.kind = kind
    if (tags.length > 0) record.tags = tags
    if (odd !== null) record[odd] = 1
    return record
  }
  const json = (value: unknown): string => JSON.stringify(value)
  const formats: { readonly [ending: string]: (records: readonly Record[]) => string } = {
    json: (records) => JSON.stringify(records, null, 2),
    jsonc: (records) => `// Ω\n${JSON.stringify(records, null, 1)}`,
    jsonl: (records) => records.map(json).join('\n'),
    'flow.yaml': (records) => `# 🏔\n${records.map((record) => `- ${json(record)}\n`).join('')}`,
    yaml: (records) =>
      records
        .map((record) =>
          Object.entries(record)
            .map(([key, value], at) => `${at === 0 ? '- ' : '  '}${json(key)}: ${json(value)}\n`)
            .join(''),
        )
        .join(''),
    toml: (records) =>
      records
        .map(
          (record) =>
            `[[things]]\n${Object.entries(record)
              .map(([key, value]) => `${json(key)} = ${json(value)}\n`)
              .join('')}`,
        )
        .join('\n'),
  }
  /** A value as its slice reads: in quotes or without. */
  const read = (slice: string): string => (/^["'].*["']$/s.test(slice) ? (JSON.parse(slice) as string) : slice)

  test.each(Object.keys(formats))('%s', async (ending) => {
    const isToml = ending === 'toml'
    const configuration = isToml
      ? pantry({ collections: { things: { files: 'a.*', perFile: 'many', id: 'id', records: '/things', fields } } })
      : site
    const file = `content/a.${ending.split('.').at(-1)}`
    await fc.assert(
      fc.asyncProperty(
        fc.array(values, { minLength: 1, maxLength: 4 }),
        fc.constantFrom(...ENDS.slice(0, 2)),
        async (all, end) => {
          const records = all.map(recordOf)
          const source = (formats[ending]?.(records) ?? '').replaceAll('\n', end)
          const host = createMemoryHost({ [file]: source }, configuration)
          const { diagnostics } = await checkSite({ host, configurationFile: 'c' })
          const told = diagnostics.map(({ span }) => read(source.slice(...span))).sort()
          const wrong = all.flatMap(({ size, kind, tags, odd }) => [
            ...[size, kind, odd].filter((one) => one !== null),
            ...tags.filter((tag) => tag !== 'ok'),
          ])
          expect(told).toEqual(wrong.sort())
        },
      ),
      { numRuns: runs(60, 3000) },
    )
  })
})

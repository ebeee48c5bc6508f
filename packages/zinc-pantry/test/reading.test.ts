import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { pantry, text } from 'zinc-pantry'
import { createLineIndex } from 'zinc-pantry/engine'
import { runQuery } from 'zinc-pantry/query'
import {
  type ReadResult,
  readCsv,
  readJson,
  readJsonc,
  readJsonLines,
  readMarkdown,
  readToml,
  readYaml,
  type SourceText,
} from 'zinc-pantry/read'
import { createDocument } from '../dist/read/document.js'
import { buildJsonPlaces } from '../dist/read/json-places.js'
import { expectShare, openFiles, runs, textOf } from './helpers.ts'

const readers = {
  'a.yaml': readYaml,
  'a.json': readJson,
  'a.md': readMarkdown,
  'a.toml': readToml,
  'a.csv': readCsv,
  'a.jsonc': readJsonc,
  'a.jsonl': readJsonLines,
}

/** Texts that look like content, with signs that readers trip over. */
const scraps = fc.oneof(
  fc.constantFrom(
    '---\n',
    '+++\n',
    ' = ',
    '[[a]]\n',
    '//',
    'title: ',
    '- ',
    '\t',
    '\r\n',
    '\ufeff',
    '"',
    "'",
    '{',
    '}',
    '[',
    ']',
    ',',
    ': ',
    '#',
    '|',
    '>',
  ),
  fc.constantFrom(
    '&a ',
    '*a',
    '!!int ',
    '<<: ',
    '__proto__: ',
    'constructor: ',
    '%YAML 1.2\n',
    '...\n',
    '? ',
    '🏔',
    '\u0000',
    '\\u12',
    '1e999',
  ),
  fc.string({ maxLength: 8, unit: 'binary' }),
)
const texts = fc.array(scraps, { maxLength: 25 }).map((parts) => parts.join(''))

describe('Reading never throws, and every place lies in the text', () => {
  test.each(Object.entries(readers))('%s', (file, readText) => {
    const read = readText as (source: SourceText) => ReadResult
    fc.assert(
      fc.property(texts, (source) => {
        const { document, diagnostics } = read({ file, text: source })
        for (const { span } of diagnostics) {
          expect(span[0]).toBeGreaterThanOrEqual(0)
          expect(span[1]).toBeLessThanOrEqual(source.length + 1)
          expect(span[1]).toBeGreaterThanOrEqual(span[0])
        }
        if (document) document.locate(['title'], 'value')
      }),
      { numRuns: 1500 },
    )
  })
})

const word = fc.string({ minLength: 1, maxLength: 10 }).filter((key) => key !== '__proto__')
const { value: json } = fc.letrec<{ value: unknown }>((tie) => ({
  value: fc.oneof(
    { maxDepth: 4 },
    fc.string({ unit: 'grapheme' }),
    fc.integer(),
    fc.double({ noNaN: true, noDefaultInfinity: true }),
    fc.boolean(),
    fc.constant(null),
    fc.array(tie('value'), { maxLength: 4 }),
    fc.dictionary(word, tie('value'), { maxKeys: 4 }),
  ),
}))

/** Calls back for every value in a value, with its path. */
function visit(
  value: unknown,
  found: (path: (string | number)[], value: unknown) => void,
  path: (string | number)[] = [],
): void {
  found(path, value)
  if (typeof value !== 'object' || value === null) return
  for (const [key, inner] of Object.entries(value))
    visit(inner, found, [...path, Array.isArray(value) ? Number(key) : key])
}

describe('A span sliced from the text reads back to the value', () => {
  // JSON texts are YAML texts too, but for the escapes of lone surrogates.
  test.each([
    ['JSON', readJson, 2],
    ['JSON on one line', readJson, 0],
    ['YAML', readYaml, 2],
  ] as const)('%s', (_, read, indent) => {
    fc.assert(
      fc.property(json, (value) => {
        const source = JSON.stringify(value, null, indent)
        const { document, diagnostics } = read({ file: 'a', text: source })
        expect(diagnostics).toEqual([])
        expect(document?.value).toEqual(JSON.parse(source))
        visit(JSON.parse(source), (path, expected) => {
          const slice = source.slice(...(document?.locate(path, 'value') ?? [0, 0]))
          expect(JSON.parse(slice)).toEqual(expected)
          const key = path.at(-1)
          if (typeof key === 'string')
            expect(JSON.parse(source.slice(...(document?.locate(path, 'key') ?? [0, 0])))).toBe(key)
        })
      }),
      { numRuns: 400 },
    )
  })
})

test('Places of a large JSON text, worked out in parts, are those of a small one', () => {
  const size = fc.nat(60)
  fc.assert(
    fc.property(json, size, fc.constantFrom(0, 2), (value, small, indent) => {
      const source = JSON.stringify(value, null, indent)
      const [parts, whole] = [buildJsonPlaces(source, small), buildJsonPlaces(source)].map((places) =>
        createDocument(undefined, () => places),
      )
      visit(JSON.parse(source), (path) => {
        for (const [at, part] of [
          [path, 'value'],
          [path, 'key'],
          [[...path, 'nowhere'], 'absent'],
        ] as const)
          expect([small, at, part, parts?.locate(at, part)]).toEqual([small, at, part, whole?.locate(at, part)])
      })
    }),
    { numRuns: 400 },
  )
})

const site = pantry({
  collections: { notes: { files: '**/*.{md,yaml,json}', unknownKeys: 'ignore', fields: { title: text() } } },
})

describe('A list of JSON that was read before', () => {
  const value = fc.letrec((tie) => ({
    one: fc.oneof(
      { depthSize: 'small' },
      fc.constantFrom<unknown>(1, -0.5, null, true, '', 'a, b', ']', '[{', '\\"', 'é'),
      fc.array(tie('one'), { maxLength: 2 }),
      fc.dictionary(fc.constantFrom('a', 'b', ':'), tie('one'), { maxKeys: 2 }),
    ),
  })).one
  const list = fc
    .tuple(fc.array(value, { maxLength: 6 }), fc.constantFrom(undefined, 1))
    .map(([items, indent]) => JSON.stringify(items, null, indent))
  const piece = fc.constantFrom(
    '',
    ',',
    ' ',
    '"',
    '{',
    ']',
    '[1]',
    '{"a":1,"a":2}',
    ',2',
    '1,',
    '//',
    '\n',
    '\\',
    '"x",',
  )
  const edit = fc.record({
    at: fc.nat(99),
    length: fc.nat(6),
    text: fc.oneof(
      piece,
      value.map((one) => JSON.stringify(one)),
    ),
  })

  test('gives what reading all of the new text gives, and the same values for what stayed', () => {
    let tried = 0
    let reread = 0
    let kept = 0
    fc.assert(
      fc.property(list, fc.array(edit, { maxLength: 6 }), (first, edits) => {
        let text = first
        let last: ReadResult = readJson({ file: 'a.json', text })
        for (const { at, length, text: put } of edits) {
          const start = Math.floor((at / 100) * (text.length + 1))
          const next = text.slice(0, start) + put + text.slice(start + length)
          const again = last.reread?.({ file: 'a.json', text: next })
          const whole = readJson({ file: 'a.json', text: next })
          if (last.reread && whole.reread) tried++
          if (again) {
            reread++
            const before = new Set(last.document?.value as readonly unknown[])
            const items = again.document?.value as readonly unknown[]
            if (items.some((one) => typeof one === 'object' && one !== null && before.has(one))) kept++
            expect(items).toEqual(whole.document?.value)
            expect(again.diagnostics).toEqual(whole.diagnostics)
            for (const step of items.keys())
              expect(again.document?.locate([step], 'value')).toEqual(whole.document?.locate([step], 'value'))
          }
          text = next
          last = again ?? whole
        }
      }),
      { numRuns: runs(500, 100_000) },
    )
    expectShare(reread, tried, 1 / 2)
    expectShare(kept, reread, 1 / 10)
  })
})

describe('Hostile input', () => {
  test.each([
    ['proto.yaml', '__proto__: { polluted: yes }\nconstructor: { prototype: { polluted: yes } }\ntitle: x\n'],
    ['proto.json', '{ "__proto__": { "polluted": true }, "constructor": 1, "title": "x" }'],
    ['proto.md', '---\n__proto__: [a]\ntoString: x\nhasOwnProperty: 1\ntitle: x\n---\n'],
    ['bom.json', '\ufeff{ "title": "x" }'],
    ['bom.md', '\ufeff---\ntitle: x\n---\nText\n'],
    ['crlf.md', '---\r\ntitle: x\r\n---\r\nText\r\n'],
    ['cr.yaml', 'other: y\rtitle: x\r'],
    ['astral.yaml', 'other: 🏔🏔\ntitle: x\n'],
    ['long-line.json', `{ "other": "${'x'.repeat(3e6)}", "title": "x" }`],
    ['many-keys.yaml', `title: x\n${Array.from({ length: 20_000 }, (_, at) => `key${at}: ${at}\n`).join('')}`],
  ])('%s is read', async (file, source) => {
    const { diagnostics, site: opened } = await openFiles({ [file]: source }, site)
    expect(diagnostics.filter(({ code }) => code !== 'body-dropped')).toEqual([])
    const { entries } = await runQuery(opened, { collection: 'notes' })
    expect(entries[0]?.title).toBe('x')
    expect(Object.getPrototypeOf(entries[0])).toBe(Object.prototype)
    expect(({} as Record<string, unknown>).polluted).toBeUndefined()
  })

  test.each([
    ['empty.md', '', 'This file has no front matter, which must give "title"'],
    ['empty.yaml', '', 'An entry is a group of keys, found nothing'],
    ['deep.yaml', `title: ${'['.repeat(20_000)}`, 'Nested more than 100 levels deep'],
    ['deep.json', `${'['.repeat(200_000)}`, 'Nested more than 100 levels deep'],
    ['deep-closed.json', `${'['.repeat(50_000)}${']'.repeat(50_000)}`, 'Nested more than 100 levels deep'],
    [
      'indented.yaml',
      `${Array.from({ length: 3000 }, (_, at) => `${' '.repeat(at)}k:\n`).join('')}`,
      'Nested more than 100 levels deep',
    ],
  ])('%s is refused', async (file, source, message) => {
    const report = await openFiles({ [file]: source }, site)
    expect(textOf(report)).toContain(message)
    expect(report.diagnostics).toHaveLength(1)
  })

  test('Places count in UTF-16 code units after a byte order mark and wide characters', async () => {
    const report = await openFiles({ 'a.yaml': '\ufeffother: "🏔🏔"\r\nmountain: 🏔\r\ntitle:   12\r\n' }, site)
    expect(textOf(report)).toContain('content/a.yaml:3:10 error value-type')
  })

  test('The first byte that is no UTF-8 is told at its place, behind a mark and wide characters too', async () => {
    for (const before of ['', '\ufeff', 'a: 🏔\n', '\ufeffa: é🏔\n'])
      for (const wrong of [[0xff], [0xe2, 0x82], [0xc3, 0x28]]) {
        const bytes = Uint8Array.from([...new TextEncoder().encode(before), ...wrong, 0x0a])
        const { diagnostics } = await openFiles({ 'a.yaml': bytes }, site)
        const offset = before.replace('\ufeff', '').length
        expect(diagnostics).toMatchObject([{ code: 'text-encoding', span: [offset, offset + 1] }])
      }
  })
})

test('Lines end at LF, CR and CR LF, and columns count code units', () => {
  fc.assert(
    fc.property(fc.array(fc.constantFrom('a', 'é', '🏔', '\n', '\r', '\r\n'), { maxLength: 12 }), (parts) => {
      const source = parts.join('')
      const lines = source.split(/\r\n|\n|\r/)
      const index = createLineIndex(source)
      expect(Array.from({ length: index.lineCount }, (_, at) => index.lineText(at + 1))).toEqual(lines)
      for (let offset = 0; offset <= source.length; offset++) {
        const { line, column } = index.at(offset)
        // Between CR and LF the line has not ended.
        const isWithin = source[offset - 1] === '\r' && source[offset] === '\n'
        const before = source.slice(0, isWithin ? offset - 1 : offset).split(/\r\n|\n|\r/)
        expect([line, column]).toEqual([before.length, (before.at(-1)?.length ?? 0) + (isWithin ? 2 : 1)])
      }
    }),
    { numRuns: runs(200, 5000) },
  )
})

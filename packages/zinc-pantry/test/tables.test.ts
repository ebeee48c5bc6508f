import { existsSync, readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import fc from 'fast-check'
import Papa from 'papaparse'
import { describe, expect, test } from 'vitest'
import {
  choice,
  colour,
  date,
  duration,
  email,
  flag,
  group,
  int,
  list,
  number,
  pantry,
  ref,
  text,
  time,
  url,
} from 'zinc-pantry'
import { openCollection } from 'zinc-pantry/query'
import { readCsv, readJsonc, readToml } from 'zinc-pantry/read'
import { createCsvScanner } from '../dist/read/csv-places.js'
import { openFiles, REPOSITORY, textOf } from './helpers.ts'

const records = [
  {
    id: 'NO',
    name: 'Norway, "north"',
    size: 12,
    ratio: 0.5,
    open: true,
    on: '2026-05-01',
    at: '10:30',
    tags: ['a', 'b'],
    place: { height: 612, valley: 'Nord' },
    next: '0',
  },
  {
    id: '0',
    name: 'Zero\nline',
    size: 0,
    ratio: 1000,
    open: false,
    on: '2024-02-29',
    at: '23:59:59',
    tags: ['NO'],
    place: { height: 1 },
    next: '1e3',
  },
  {
    id: '1e3',
    name: ' spaces ',
    size: -5,
    ratio: -0.25,
    open: true,
    on: '0001-01-01',
    at: '00:00',
    tags: ['__proto__', 'yes'],
    place: { height: 0 },
    next: 'NO',
  },
  {
    id: 'constructor',
    name: 'toString',
    size: 7,
    ratio: 2,
    open: false,
    on: '2026-12-31',
    at: '06:00',
    tags: ['x'],
    place: { height: 7 },
    next: 'constructor',
  },
]
/** Cells that keep their spaces, where everything is one. */
const siteOf = (hasCells: boolean) =>
  pantry({
    collections: {
      things: {
        files: 'things.*',
        perFile: 'many',
        ...(hasCells ? { cells: { trim: false } } : {}),
        fields: {
          name: text(),
          size: int(),
          ratio: number(),
          open: flag(),
          on: date(),
          at: time(),
          tags: list(text()),
          place: group({ height: int(), valley: text({ optional: true }) }),
          next: ref('things'),
        },
      },
    },
  })

const rows = records.map(({ place, tags, ...rest }) => ({
  ...rest,
  tags: tags.join('; '),
  'place.height': place.height,
  'place.valley': place.valley ?? '',
}))
const allTexts = records.map(({ place, tags, ...rest }) => ({
  ...Object.fromEntries(Object.entries(rest).map(([key, value]) => [key, String(value)])),
  tags: tags.join('; '),
  place: { height: String(place.height), valley: place.valley ?? '' },
}))
const yaml = (value: unknown): string => `# A comment\n${JSON.stringify(value, null, 2)}\n`
const toml = records
  .map(({ id, place, tags, on, at, ...rest }) => {
    const plain = Object.entries({ ...rest, tags }).map(([key, value]) => `${key} = ${JSON.stringify(value)}`)
    const inner = Object.entries(place).map(([key, value]) => `place.${key} = ${JSON.stringify(value)}`)
    const clock = at.length === 5 ? `${at}:00` : at
    return [`[${JSON.stringify(id)}]`, ...plain, `on = ${on}`, `at = ${clock}`, ...inner].join('\n')
  })
  .join('\n\n')
const keyed = Object.fromEntries(records.map(({ id, ...rest }) => [id, rest]))

test.each<[string, string, boolean?]>([
  ['json', JSON.stringify(records)],
  ['jsonc', `// all of them\n${JSON.stringify(records)}`],
  ['jsonl', records.map((record) => JSON.stringify(record)).join('\r\n')],
  ['yaml', yaml(records)],
  ['yml', yaml(keyed)],
  ['csv', Papa.unparse(rows), true],
  ['tsv', Papa.unparse(rows, { delimiter: '\t' }), true],
  ['jsonc', JSON.stringify(allTexts), true],
  ['toml', toml],
])('The same records as %s give the same entries', async (ending, content, hasCells = false) => {
  const opened = await openFiles({ [`things.${ending}`]: content }, siteOf(hasCells))
  expect(textOf(opened)).toBe('')
  const entries = await openCollection<Record<string, unknown>, unknown, string>(opened.site, 'things').toArray()
  const values = entries.map(({ source: _source, collection: _collection, slug: _slug, ...rest }) => rest)
  const expected = records.map((record) => ({ ...record, place: { valley: null, ...record.place } }))
  // Keys of an object that look like whole numbers come first, in every engine.
  const byId = (all: readonly object[]) => new Map(all.map((one) => [(one as { id: string }).id, one]))
  expect(byId(values)).toEqual(byId(expected))
})

describe('CSV', () => {
  const spectrum = join(REPOSITORY, 'node_modules/csv-spectrum')
  // One file of the suite and its JSON hold different telephone numbers.
  const names = readdirSync(join(spectrum, 'csvs')).filter((name) => name !== 'location_coordinates.csv')
  test.each(names)('%s of the public suite', (name) => {
    const source = readFileSync(join(spectrum, 'csvs', name), 'utf8')
    const expected = JSON.parse(readFileSync(join(spectrum, 'json', name.replace(/csv$/, 'json')), 'utf8')) as
      | Record<string, string>
      | Record<string, string>[]
    const { document, diagnostics } = readCsv({ file: 'a.csv', text: source })
    expect(diagnostics).toEqual([])
    const rows = Array.isArray(expected) ? expected : [expected]
    const filled = rows.map((row) => Object.fromEntries(Object.entries(row).filter(([, cell]) => cell !== '')))
    expect(document?.value).toEqual(filled)
  })

  test('Places of cells agree with the parser that reads them', () => {
    const cell = fc
      .array(fc.constantFrom('a', ' ', ',', '"', '\n', '\r\n', '🏔', ';', "'"), { maxLength: 5 })
      .map((parts) => parts.join(''))
    fc.assert(
      fc.property(
        fc.array(fc.array(cell, { minLength: 2, maxLength: 4 }), { minLength: 1, maxLength: 5 }),
        fc.constantFrom(',', ';', '\t'),
        (rows, delimiter) => {
          const source = Papa.unparse(rows, { delimiter })
          const parsed = Papa.parse<string[]>(source, { delimiter, skipEmptyLines: true }).data
          const scanner = createCsvScanner(source, { delimiter, quote: '"' })
          const read = scanner.findRows().map(({ span }) =>
            scanner
              .locateRow(span[0])
              .map(({ span }) => source.slice(...span))
              .map((text) => (text.startsWith('"') ? text.slice(1, -1).replaceAll('""', '"') : text)),
          )
          expect(read).toEqual(parsed)
        },
      ),
      { numRuns: 500 },
    )
  })

  test('Spaces around what is no text are no part of it, whatever the field', async () => {
    const values = {
      size: '12',
      ratio: '0.5',
      open: 'true',
      on: '2026-05-01',
      at: '10:30',
      grade: 'hard',
      tint: '#aabbcc',
    }
    const fields = {
      size: int(),
      ratio: number(),
      open: flag(),
      on: date(),
      at: time(),
      grade: choice(['easy', 'hard']),
      tint: colour(),
      mail: email(),
      page: url(),
      takes: duration(),
      near: ref('rows', { optional: true }),
      sizes: list(int()),
    }
    const row = { ...values, mail: 'a@b.example', page: 'https://x.example/', takes: 'PT2H', near: 'one', sizes: '1;2' }
    const tableOf = (pad: string): string =>
      `id,${Object.keys(row).join(',')}\none,${Object.values(row)
        .map((cell) => pad + cell.replaceAll(';', `${pad};${pad}`) + pad)
        .join(',')}\n`
    const open = async (pad: string) => {
      const configuration = pantry({ collections: { rows: { files: 'rows.csv', fields } } })
      const { site, diagnostics } = await openFiles({ 'rows.csv': tableOf(pad) }, configuration)
      expect(diagnostics).toEqual([])
      return openCollection<object, never, string>(site, 'rows').byId('one')
    }
    expect(await open('  ')).toEqual(await open(''))
  })

  test('A column may have any name', () => {
    const { document } = readCsv({ file: 'a.csv', text: '__proto__,constructor,toString\na,b,c\n' })
    const [row] = (document?.value ?? []) as object[]
    expect(Object.entries(row ?? {})).toEqual([
      ['__proto__', 'a'],
      ['constructor', 'b'],
      ['toString', 'c'],
    ])
  })
})

describe('JSON with comments', () => {
  test('An editor-made file is read, with places', () => {
    const source = '{\n  // one\n  "a": [1, 2,], /* two */\n}'
    const { document, diagnostics } = readJsonc({ file: 'a.jsonc', text: source })
    expect(diagnostics).toEqual([])
    expect(document?.value).toEqual({ a: [1, 2] })
    expect(source.slice(...(document?.locate(['a', 1], 'value') ?? [0, 0]))).toBe('2')
  })
})

/** The suite comes with a package of the operating system; the test command installs it where it may. */
const SUITE = '/usr/share/gocode/src/github.com/BurntSushi/toml/internal/toml-test/tests'
/** Cases that the parser takes by the rules of TOML 1.1; docs/formats.md lists them. */
const DEPARTURES = [
  'invalid/datetime/no-secs.toml',
  'invalid/inline-table/linebreak-1.toml',
  'invalid/inline-table/linebreak-2.toml',
  'invalid/inline-table/linebreak-3.toml',
  'invalid/inline-table/linebreak-4.toml',
  'invalid/inline-table/trailing-comma.toml',
  'invalid/string/basic-byte-escapes.toml',
]

describe.skipIf(!existsSync(SUITE))('TOML suite', () => {
  const list = (kind: string): string[] =>
    existsSync(SUITE)
      ? readdirSync(join(SUITE, kind), { recursive: true, encoding: 'utf8' }).filter(
          (path) => path.endsWith('.toml') && !DEPARTURES.includes(`${kind}/${path}`),
        )
      : []
  const load = (kind: string, path: string): string => readFileSync(join(SUITE, kind, path), 'utf8')

  test.each(list('valid'))('valid/%s', (path) => {
    const { document, diagnostics } = readToml({ file: 'a.toml', text: load('valid', path) })
    expect(diagnostics).toEqual([])
    expect(untag(JSON.parse(load('valid', path.replace(/toml$/, 'json'))))).toEqual(sameForms(document?.value))
    document?.locate(['a'], 'value')
  })

  test.each(list('invalid'))('invalid/%s', (path) => {
    // Bytes that are not UTF-8 are refused before any reader sees the text.
    const bytes = readFileSync(join(SUITE, 'invalid', path))
    if (Buffer.compare(Buffer.from(bytes.toString('utf8')), bytes) !== 0) return
    const source = bytes.toString('utf8')
    const { document, diagnostics } = readToml({ file: 'a.toml', text: source })
    expect(document).toBeUndefined()
    const [start, end] = diagnostics[0]?.span ?? [-1, -1]
    expect(start).toBeGreaterThanOrEqual(0)
    expect(end).toBeLessThanOrEqual(source.length + 1)
  })
})

interface Tagged {
  readonly type: string
  readonly value: string
}

const isTagged = (value: object): value is Tagged =>
  'type' in value && 'value' in value && typeof value.type === 'string' && typeof value.value === 'string'

/** The suite writes every value as its type and its text. */
function untag(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(untag)
  if (typeof value !== 'object' || value === null) return value
  if (!isTagged(value)) return Object.fromEntries(Object.entries(value).map(([key, inner]) => [key, untag(inner)]))
  const { type, value: written } = value
  if (type === 'bool') return written === 'true'
  if (type === 'integer') return Number(written)
  if (type === 'float') return Number(written.replace('inf', 'Infinity').replace('nan', 'NaN'))
  return type === 'string' ? written : canonical(written)
}

/** Dates and times in one form, to thousandths of seconds. */
const canonical = (text: string): string =>
  text
    .replace(' ', 'T')
    .replace(/(\.\d+)/, (fraction) => (Number(fraction) === 0 ? '' : fraction.slice(0, 4).padEnd(4, '0')))
    .replace(/z$/, 'Z')

const FORM = /^(?:\d{4}-\d\d-\d\d(?:[Tt ]\d\d:\d\d.*)?|\d\d:\d\d:\d\d.*)$/

function sameForms(value: unknown): unknown {
  if (value === 0) return 0
  if (typeof value === 'string') return FORM.test(value) ? canonical(value) : value
  if (Array.isArray(value)) return value.map(sameForms)
  if (typeof value !== 'object' || value === null) return value
  return Object.fromEntries(Object.entries(value).map(([key, inner]) => [key, sameForms(inner)]))
}

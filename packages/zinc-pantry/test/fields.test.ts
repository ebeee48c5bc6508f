import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import {
  anything,
  choice,
  colour,
  date,
  duration,
  email,
  type Field,
  flag,
  instant,
  int,
  list,
  map,
  markdown,
  number,
  pantry,
  text,
  time,
  url,
} from 'zinc-pantry'
import { openCollection } from 'zinc-pantry/query'
import { openFiles } from './helpers.ts'

type Verdict = { readonly value: unknown } | { readonly codes: readonly string[] }

/** What a field makes of values as they are written in a file. */
async function readAll(field: Field, written: readonly string[], format: 'yaml' | 'json' | 'toml'): Promise<Verdict[]> {
  const site = pantry({
    collections: { things: { files: `*.${format}`, fields: { value: field as Field<unknown, never> } } },
  })
  const wrap = {
    yaml: (value: string) => `value: ${value}\n`,
    json: (value: string) => `{ "value": ${value} }`,
    toml: (value: string) => `value = ${value}\n`,
  }
  return Promise.all(
    written.map(async (value) => {
      const opened = await openFiles({ [`a.${format}`]: wrap[format](value) }, site)
      const codes = opened.diagnostics.filter(({ severity }) => severity === 'error').map(({ code }) => code)
      if (codes.length > 0) return { codes }
      const [entry] = await openCollection<{ value: unknown }, unknown, string>(opened.site, 'things').toArray()
      return { value: entry?.value }
    }),
  )
}

interface Case {
  readonly name: string
  readonly field: Field
  /** As written in YAML, and the value it gives. */
  readonly taken: readonly (readonly [written: string, value: unknown])[]
  /** As written in YAML, and the code that refuses it. */
  readonly refused: readonly (readonly [written: string, code: string])[]
}

const cases: readonly Case[] = [
  {
    name: 'text',
    field: text({ minLength: 2, maxLength: 5, pattern: '^[^x]' }),
    taken: [
      ['ab', 'ab'],
      ['"12"', '12'],
      ["'true'", 'true'],
      ['yes', 'yes'],
      ['NO', 'NO'],
      ['🏔🏔🏔🏔🏔', '🏔🏔🏔🏔🏔'],
      ['12:30', '12:30'],
      ['"a\\nb"', 'a\nb'],
      ['0x', '0x'],
      ['1_000', '1_000'],
      ['~x', '~x'],
    ],
    refused: [
      ['a', 'text-too-short'],
      ['abcdef', 'text-too-long'],
      ['xab', 'text-pattern'],
      ['12', 'value-type'],
      ['0x1F', 'value-type'],
      ['0o17', 'value-type'],
      ['1e3', 'value-type'],
      ['true', 'value-type'],
      ['[a, b]', 'value-type'],
      ['{ a: b }', 'value-type'],
      ['', 'field-empty'],
      ['~', 'field-empty'],
      ['null', 'field-empty'],
      ['.nan', 'value-type'],
    ],
  },
  {
    name: 'text of one line',
    field: text({ lines: 'single' }),
    taken: [
      ['a', 'a'],
      ['>-\n  a\n  b', 'a b'],
      ['""', ''],
    ],
    refused: [
      ['|-\n  a\n  b', 'text-line-break'],
      ['"a\\rb"', 'text-line-break'],
    ],
  },
  {
    name: 'markdown',
    field: markdown({ maxLength: 10 }),
    taken: [
      ['"**a**"', { text: '**a**', html: '<p><strong>a</strong></p>\n' }],
      ['|\n  a\n  b\n', { text: 'a\nb\n', html: '<p>a\nb</p>\n' }],
    ],
    refused: [
      ['"12345678901"', 'text-too-long'],
      ['3', 'value-type'],
    ],
  },
  {
    name: 'int',
    field: int({ minimum: -5, maximum: 2_000, multipleOf: 1 }),
    taken: [
      ['12', 12],
      ['-5', -5],
      ['+7', 7],
      ['12.0', 12],
      ['1e3', 1000],
      ['0x1F', 31],
      ['0o17', 15],
      ['017', 17],
      ['-0', -0],
    ],
    refused: [
      ['-6', 'number-too-small'],
      ['2001', 'number-too-large'],
      ['1.5', 'value-type'],
      ['"12"', 'value-type'],
      ['9007199254740993', 'number-not-exact'],
      ['.inf', 'value-type'],
      ['true', 'value-type'],
      ['1,000', 'value-type'],
      ['12 beds', 'value-type'],
    ],
  },
  {
    name: 'number',
    field: number({ exclusiveMinimum: 0, exclusiveMaximum: 10, multipleOf: 0.1 }),
    taken: [
      ['0.1', 0.1],
      ['0.3', 0.3],
      ['9.9', 9.9],
      ['.5', 0.5],
      ['5.', 5],
      ['1e-1', 0.1],
    ],
    refused: [
      ['0', 'number-too-small'],
      ['10', 'number-too-large'],
      ['0.05', 'number-not-multiple'],
      ['.nan', 'value-type'],
      ['-.inf', 'value-type'],
      ['1.2.3', 'value-type'],
    ],
  },
  {
    name: 'flag',
    field: flag(),
    taken: [
      ['true', true],
      ['False', false],
      ['TRUE', true],
    ],
    refused: [
      ['yes', 'value-type'],
      ['on', 'value-type'],
      ['1', 'value-type'],
      ['"true"', 'value-type'],
      ['tRUE', 'value-type'],
    ],
  },
  {
    name: 'date',
    field: date({ minimum: '1900-01-01', maximum: '2100-12-31' }),
    taken: [
      ['2026-05-01', '2026-05-01'],
      ['"2026-05-01"', '2026-05-01'],
      ['2024-02-29', '2024-02-29'],
      ['2000-02-29', '2000-02-29'],
    ],
    refused: [
      ['2026-02-29', 'date-invalid'],
      ['1900-02-29', 'date-invalid'],
      ['2026-04-31', 'date-invalid'],
      ['2026-00-01', 'date-invalid'],
      ['2026-1-1', 'date-invalid'],
      ['20260501', 'value-type'],
      ['1899-12-31', 'date-too-early'],
      ['2101-01-01', 'date-too-late'],
      ['2026-05-01T10:00:00Z', 'date-invalid'],
      ['"2026-05-01 "', 'date-invalid'],
      ['"２０２６-05-01"', 'date-invalid'],
    ],
  },
  {
    name: 'time',
    field: time({ minimum: '06:00', maximum: '22:00' }),
    taken: [
      ['06:00', '06:00'],
      ['22:00:00', '22:00'],
      ['10:30:59', '10:30:59'],
    ],
    refused: [
      ['05:59:59', 'form-too-low'],
      ['22:00:01', 'form-too-high'],
      ['24:00', 'form-invalid'],
      ['7:30', 'form-invalid'],
      ['10:60', 'form-invalid'],
      ['10:30Z', 'form-invalid'],
      ['1030', 'value-type'],
    ],
  },
  {
    name: 'instant',
    field: instant(),
    taken: [
      ['2026-05-01T10:30:00Z', '2026-05-01T10:30:00Z'],
      ['2026-05-01 12:30+02:00', '2026-05-01T10:30:00Z'],
      ['2026-05-01t10:30:00.5z', '2026-05-01T10:30:00.500Z'],
      ['2026-12-31T23:30:00-01:00', '2027-01-01T00:30:00Z'],
    ],
    refused: [
      ['2026-05-01T10:30', 'form-invalid'],
      ['2026-05-01', 'form-invalid'],
      ['2026-02-30T10:00Z', 'form-invalid'],
      ['2026-05-01T25:00Z', 'form-invalid'],
      ['10:30Z', 'form-invalid'],
      ['2026-05-01T10:30:60Z', 'form-invalid'],
    ],
  },
  {
    name: 'duration',
    field: duration(),
    taken: [
      ['PT1H30M', 'PT1H30M'],
      ['P3D', 'P3D'],
      ['P2W', 'P2W'],
      ['P1Y2M3DT4H5M6S', 'P1Y2M3DT4H5M6S'],
    ],
    refused: [
      ['P', 'form-invalid'],
      ['PT', 'form-invalid'],
      ['1h', 'form-invalid'],
      ['P1W2D', 'form-invalid'],
      ['PT1.5H', 'form-invalid'],
      ['P1H', 'form-invalid'],
      ['-P1D', 'form-invalid'],
    ],
  },
  {
    name: 'choice',
    field: choice(['easy', 'NO', '1']),
    taken: [
      ['easy', 'easy'],
      ['NO', 'NO'],
      ['"1"', '1'],
    ],
    refused: [
      ['Easy', 'choice-unknown'],
      ['1', 'value-type'],
      ['""', 'choice-unknown'],
    ],
  },
  {
    name: 'url',
    field: url(),
    taken: [
      ['https://huts.example/a?b=c#d', 'https://huts.example/a?b=c#d'],
      ['HTTP://HUTS.example', 'HTTP://HUTS.example'],
      ['https://hütten.example/ä', 'https://hütten.example/ä'],
    ],
    refused: [
      ['huts.example', 'url-invalid'],
      ['//huts.example', 'url-invalid'],
      ['/huts', 'url-invalid'],
      ['mailto:a@b.example', 'url-scheme'],
      ['"javascript:alert(1)"', 'url-scheme'],
      ['"https://a b"', 'url-invalid'],
      ['"https://"', 'url-invalid'],
    ],
  },
  {
    name: 'email',
    field: email(),
    taken: [
      ['a@b.example', 'a@b.example'],
      ['"a+b.c@d-e.example"', 'a+b.c@d-e.example'],
    ],
    refused: [
      ['a', 'form-invalid'],
      ['a@', 'form-invalid'],
      ['"a b@c.example"', 'form-invalid'],
      ['a@b..example', 'form-invalid'],
      ['a@-b.example', 'form-invalid'],
    ],
  },
  {
    name: 'colour',
    field: colour(),
    taken: [
      ['"#abc"', '#aabbcc'],
      ['"#ABCD"', '#aabbccdd'],
      ['"#3A6B35"', '#3a6b35'],
    ],
    refused: [
      ['red', 'form-invalid'],
      ['"#12"', 'form-invalid'],
      ['"#12345g"', 'form-invalid'],
      ['#abc', 'field-empty'],
      ['123456', 'value-type'],
    ],
  },
  {
    name: 'list',
    field: list(int(), { minItems: 1, maxItems: 2, uniqueItems: true }),
    taken: [
      ['[1]', [1]],
      ['\n  - 1\n  - 2', [1, 2]],
    ],
    refused: [
      ['[]', 'list-too-short'],
      ['[1, 2, 3]', 'list-too-long'],
      ['[1, 1]', 'list-item-repeated'],
      ['1', 'value-type'],
      ['{ a: 1 }', 'value-type'],
    ],
  },
  {
    name: 'map',
    field: map(int(), { keyPattern: '^[a-z]+$' }),
    taken: [
      ['{ a: 1 }', { a: 1 }],
      ['{}', {}],
    ],
    refused: [
      ['{ A: 1 }', 'map-key-pattern'],
      ['{ a: x }', 'value-type'],
      ['[1]', 'value-type'],
      ['{ a: }', 'field-empty'],
    ],
  },
  {
    name: 'anything',
    field: anything(),
    taken: [
      ['{ a: [1, null, x] }', { a: [1, null, 'x'] }],
      ['12', 12],
      ['2026-05-01', '2026-05-01'],
    ],
    refused: [
      ['.inf', 'value-type'],
      ['[.nan]', 'value-type'],
      ['', 'field-empty'],
    ],
  },
]

describe.each(cases)('$name', ({ name, field, taken, refused }) => {
  test('takes', async () => {
    const verdicts = await readAll(
      field,
      taken.map(([written]) => written),
      'yaml',
    )
    expect(verdicts).toEqual(taken.map(([, value]) => ({ value })))
  })

  test('refuses', async () => {
    const verdicts = await readAll(
      field,
      refused.map(([written]) => written),
      'yaml',
    )
    const seen = verdicts.map((verdict, at) => [
      refused[at]?.[0],
      'codes' in verdict ? verdict.codes[0] : verdict.value,
    ])
    expect(seen).toEqual(refused)
  })

  test('gives the same values from JSON, and what is optional is null', async () => {
    // Negative zero and texts over several lines are written otherwise in JSON; values are the same.
    const written = taken.map(([, value]) => JSON.stringify(name === 'markdown' ? Object(value).text : value))
    const plain = taken.map(([, value]) => ({ value: JSON.parse(JSON.stringify(value)) }))
    expect(await readAll(field, written, 'json')).toEqual(plain)
    const loose = { ...field, options: { ...field.options, optional: true } } as Field
    expect(await readAll(loose, ['', '~', 'null'], 'yaml')).toEqual([{ value: null }, { value: null }, { value: null }])
  })
})

test('Dates, quoted or not, in YAML, JSON and TOML, are one value', async () => {
  for (const [format, forms] of [
    ['yaml', ['2026-05-01', '"2026-05-01"', "'2026-05-01'"]],
    ['json', ['"2026-05-01"']],
    ['toml', ['2026-05-01', '"2026-05-01"']],
  ] as const)
    expect(await readAll(date(), forms, format)).toEqual(forms.map(() => ({ value: '2026-05-01' })))
  expect(
    await readAll(
      instant({ zone: '+02:00' }),
      ['2026-05-01T10:30:00', '2026-05-01 10:30:00', '2026-05-01T08:30:00Z'],
      'toml',
    ),
  ).toEqual([1, 2, 3].map(() => ({ value: '2026-05-01T08:30:00Z' })))
})

describe('Zones', () => {
  const zones = [
    'Europe/Oslo',
    'Europe/London',
    'America/New_York',
    'Australia/Lord_Howe',
    'Asia/Kathmandu',
    'America/Sao_Paulo',
    'UTC',
  ]

  test('A local time read in a zone is shown by a clock of that zone', async () => {
    const moments = fc.date({
      min: new Date('1990-01-01T00:00:00Z'),
      max: new Date('2035-01-01T00:00:00Z'),
      noInvalidDate: true,
    })
    await fc.assert(
      fc.asyncProperty(
        fc.constantFrom(...zones),
        fc.array(moments, { minLength: 5, maxLength: 10 }),
        async (zone, all) => {
          const clock = new Intl.DateTimeFormat('sv-SE', { timeZone: zone, dateStyle: 'short', timeStyle: 'medium' })
          const shown = all.map((moment) => clock.format(moment))
          const verdicts = await readAll(instant({ zone }), shown, 'yaml')
          for (const [at, verdict] of verdicts.entries()) {
            // What a clock has shown exists, and is shown again at the instant that was read.
            if (!('value' in verdict)) throw new Error(`${shown[at]} in ${zone}: ${verdict.codes}`)
            expect(clock.format(new Date(String(verdict.value)))).toBe(shown[at])
            expect(new Date(String(verdict.value)).getTime()).toBeLessThanOrEqual(
              Math.floor((all[at]?.getTime() ?? 0) / 1000) * 1000,
            )
          }
        },
      ),
      { numRuns: 60 },
    )
  })

  test('A time that clocks skip is refused, one that they show twice is the first', async () => {
    const oslo = instant({ zone: 'Europe/Oslo' })
    expect(await readAll(oslo, ['2026-03-29 02:30', '2026-10-25 02:30'], 'yaml')).toEqual([
      { codes: ['form-invalid'] },
      { value: '2026-10-25T00:30:00Z' },
    ])
  })
})

import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { date, type Field, instant, pantry } from 'zinc-pantry'
import { openCollection } from 'zinc-pantry/query'
import { cases } from './field-cases.ts'
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
  ).toEqual([1, 2, 3].map(() => ({ value: '2026-05-01T08:30:00.000Z' })))
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
      { value: '2026-10-25T00:30:00.000Z' },
    ])
  })
})

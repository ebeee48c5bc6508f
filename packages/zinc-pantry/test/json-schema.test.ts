import { Ajv2020 } from 'ajv/dist/2020.js'
import addFormats from 'ajv-formats'
import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import * as fields from 'zinc-pantry'
import { createMemoryHost, describeCollection } from 'zinc-pantry/engine'
import { openFiles, runs, textOf } from './helpers.ts'

type Field = fields.Field
const {
  adapt,
  anything,
  block,
  choice,
  colour,
  date,
  duration,
  either,
  email,
  flag,
  group,
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
  variant,
} = fields

/** A schema and values that mostly fit it, so that both verdicts occur. */
interface Sample {
  readonly field: Field
  readonly value: fc.Arbitrary<unknown>
}

const common = fc.constantFrom({}, { optional: true } as const, { description: 'Help', label: 'Name' })
const short = fc.constantFrom('', 'a', 'ab', 'A', 'abc', 'é🏔', 'a\nb', '12', 'true')
const small = fc.constantFrom(-3, -1, 0, 0.5, 1, 2, 2.5, 3, 10)
const bound = fc.constantFrom(undefined, 0, 1, 2)
const defined = <Value extends object>(value: Value): Value => JSON.parse(JSON.stringify(value))
const sample = (field: Field, value: fc.Arbitrary<unknown>): Sample => ({ field, value })

const texts = fc.record({
  minLength: bound,
  more: bound,
  pattern: fc.constantFrom(undefined, '^[a-z]*$', '\\d', '^.{2}$'),
  lines: fc.constantFrom(undefined, 'single' as const),
})
const limits = fc.record({
  minimum: bound,
  more: bound,
  exclusiveMaximum: fc.constantFrom(undefined, 5),
  multipleOf: fc.constantFrom(undefined, 1, 0.5),
})

const leaf: fc.Arbitrary<Sample> = fc.oneof(
  fc.tuple(common, texts).map(([options, { minLength, more, ...rest }]) =>
    sample(
      text(
        defined({
          ...options,
          ...rest,
          minLength,
          maxLength: more === undefined ? undefined : (minLength ?? 0) + more,
        }),
      ),
      short,
    ),
  ),
  common.map((options) => sample(markdown({ ...options, maxLength: 2 }), short)),
  fc
    .tuple(common, limits)
    .map(([options, { minimum, more, ...rest }]) =>
      sample(
        int(defined({ ...options, ...rest, minimum, maximum: more === undefined ? undefined : (minimum ?? 0) + more })),
        small,
      ),
    ),
  fc
    .tuple(common, limits)
    .map(([options, { minimum, more, ...rest }]) =>
      sample(
        number(
          defined({ ...options, ...rest, minimum, maximum: more === undefined ? undefined : (minimum ?? 0) + more }),
        ),
        small,
      ),
    ),
  common.map((options) => sample(flag(options), fc.boolean())),
  common.map((options) => sample(flag({ ...options, default: true }), fc.boolean())),
  common.map((options) =>
    sample(
      flag({ ...options, true: ['ab', '1'], false: ['A'] }),
      fc.constantFrom(true, 'ab', 'AB', 1, '1', 'A', 'a', 0, 'true'),
    ),
  ),
  common.map((options) =>
    sample(
      date(options),
      fc.constantFrom('2026-02-28', '2026-02-29', '2024-02-29', '26-1-1', '2026-13-01', '2026-00-10', '2026-01-00'),
    ),
  ),
  common.map((options) => sample(time(options), fc.constantFrom('10:30', '10:30:59', '24:00', '9:00', '10:60'))),
  common.map((options) =>
    sample(
      instant(options),
      fc.constantFrom('2026-05-01T10:30:00Z', '2026-05-01 10:30+02:00', '2026-05-01T10:30', '2026-05-01'),
    ),
  ),
  common.map((options) =>
    sample(duration(options), fc.constantFrom('P1D', 'PT1H30M', 'P', 'PT', 'P1H', 'P2W', 'P1W2D', 'P1YT1S', 'p1d')),
  ),
  common.map((options) => sample(email(options), fc.constantFrom('a@b.example', 'a@b', '@b', 'a b@c', 'a@-b'))),
  common.map((options) =>
    sample(colour(options), fc.constantFrom('#abc', '#ABCD', '#12345', '#aabbcc', 'red', '#gggggg')),
  ),
  common.map((options) =>
    sample(
      url(options),
      fc.constantFrom('https://a.example/b', 'HTTP://a.example', 'ftp://a.example', 'a.example', 'https://a b'),
    ),
  ),
  common.map((options) => sample(choice(['a', 'ab'], options), short)),
  common.map((options) => sample(choice({ a: 'A', abc: 'ABC' }, options), short)),
  common.map((options) => sample(anything(options), fc.oneof(short, small))),
  common.map((options) =>
    sample(
      block('note', 'mark'),
      fc.constantFrom(
        { block: 'note', text: 'a' },
        { block: 'mark' },
        { block: 'mark', off: true },
        { block: 'none' },
        { text: 'a' },
        { block: 'note', text: 1, ...options },
      ),
    ),
  ),
)

const { field: samples } = fc.letrec<{ field: Sample }>((tie) => ({
  field: fc.oneof(
    { maxDepth: 3 },
    leaf,
    fc.tuple(tie('field'), common, bound, bound, fc.boolean()).map(([inner, options, minItems, more, uniqueItems]) =>
      sample(
        list(
          inner.field,
          defined({
            ...options,
            minItems,
            maxItems: more === undefined ? undefined : (minItems ?? 0) + more,
            uniqueItems,
          }),
        ),
        fc.array(inner.value, { maxLength: 3 }),
      ),
    ),
    fc
      .tuple(tie('field'), common)
      .map(([inner, options]) =>
        sample(
          map(inner.field, { ...options, propertyNames: text({ pattern: '^[a-z]+$' }), maxProperties: 2 }),
          fc.dictionary(fc.constantFrom('a', 'b', 'c', '1'), inner.value),
        ),
      ),
    fc
      .tuple(tie('field'), tie('field'), common, fc.constantFrom('refuse' as const, 'ignore' as const))
      .map(([a, b, options, unknownKeys]) =>
        sample(
          group({ a: a.field, b: b.field }, { ...options, unknownKeys }),
          fc.record({ a: a.value, b: b.value, c: short }, { requiredKeys: [] }),
        ),
      ),
    fc
      .tuple(leaf, common, bound)
      .map(([inner, options, maxItems]) =>
        sample(
          list(inner.field, defined({ ...options, orOne: true, maxItems })),
          fc.oneof(inner.value, fc.array(inner.value, { maxLength: 3 })),
        ),
      ),
    fc
      .tuple(tie('field'), tie('field'), common)
      .map(([a, b, options]) =>
        sample(
          either([int({ minimum: 1 }), group({ a: a.field }), list(b.field)], options),
          fc.oneof(small, short, fc.record({ a: a.value }, { requiredKeys: [] }), fc.array(b.value, { maxLength: 2 })),
        ),
      ),
    fc.tuple(leaf, leaf).map(([a, b]) =>
      sample(
        group({
          own: adapt(a.field as never, { writtenAs: 'a (m)' } as never),
          others: map(b.field, { rest: true }),
        }),
        fc.dictionary(fc.constantFrom('a (m)', 'own', 'b', 'others'), fc.oneof(a.value, b.value)),
      ),
    ),
    fc
      .tuple(tie('field'), tie('field'))
      .map(([a, b]) =>
        sample(
          group({ kind: variant({ one: { a: a.field }, two: { b: b.field } }) }),
          fc.record({ kind: fc.constantFrom('one', 'two', 'three'), a: a.value, b: b.value }, { requiredKeys: [] }),
        ),
      ),
  ),
}))

const wrong = fc.oneof(
  short,
  small,
  fc.boolean(),
  fc.constant(null),
  fc.constant([]),
  fc.constant({}),
  fc.constant(['a', 'a']),
)

async function compare(field: Field, values: readonly unknown[]): Promise<string[]> {
  const site = pantry({
    blocks: { note: { fields: { text: text(), size: int({ default: 1 }) } }, mark: { fields: {} } },
    collections: { things: { files: '*.json', fields: { value: field as Field & fields.Field<unknown, never> } } },
  })
  const answer = await describeCollection({ host: createMemoryHost({}, site), configurationFile: 'c' }, 'things')
  if (!('schema' in answer)) throw new Error(JSON.stringify(answer))
  const ajv = new Ajv2020({ strict: false, allErrors: false, multipleOfPrecision: 9 })
  addFormats.default(ajv)
  const accepts = ajv.compile(answer.schema as object)
  const verdicts: string[] = []
  for (const value of values) {
    const opened = await openFiles({ 'a.json': JSON.stringify(value) }, site)
    const ours = opened.diagnostics.every(({ severity }) => severity === 'warning')
    const theirs = accepts(JSON.parse(JSON.stringify(value)))
    const told = `${JSON.stringify(answer.schema)}\n${JSON.stringify(value)}\n${textOf(opened)}${JSON.stringify(accepts.errors)}`
    expect(ours, told).toBe(theirs)
    verdicts.push(ours ? 'accepted' : 'refused')
  }
  return verdicts
}

describe('The exported JSON Schema', () => {
  test('agrees with our validator on random schemas and values', async () => {
    const verdicts: string[] = []
    await fc.assert(
      fc.asyncProperty(
        samples.chain(({ field, value }) =>
          fc.tuple(
            fc.constant(field),
            fc.array(
              fc.oneof({ arbitrary: fc.record({ value }), weight: 3 }, fc.record({ value: wrong }), fc.constant({})),
              { minLength: 4, maxLength: 8 },
            ),
          ),
        ),
        async ([field, values]) => {
          verdicts.push(...(await compare(field, values)))
        },
      ),
      { numRuns: runs(140, 4000) },
    )
    const accepted = verdicts.filter((verdict) => verdict === 'accepted').length / verdicts.length
    // A slow machine compares too few to count them.
    if (verdicts.length > 200) expect(accepted).toBeGreaterThan(0.03)
    expect(accepted).toBeLessThan(0.8)
  })

  test('says what it knows to people, and names its dialect', async () => {
    const site = pantry({
      collections: {
        huts: {
          files: '*.yaml',
          entry: 'Hut',
          description: 'A place to sleep',
          fields: {
            beds: int({ label: 'Beds', description: 'How many', examples: [4], default: 2, minimum: 0 }),
            old: text({ optional: true, deprecated: true }),
          },
        },
      },
    })
    const answer = await describeCollection({ host: createMemoryHost({}, site), configurationFile: 'c' }, 'huts')
    expect(answer).toMatchInlineSnapshot(`
      {
        "schema": {
          "$schema": "https://json-schema.org/draft/2020-12/schema",
          "additionalProperties": false,
          "description": "A place to sleep",
          "properties": {
            "$schema": {},
            "beds": {
              "anyOf": [
                {
                  "maximum": 9007199254740991,
                  "minimum": 0,
                  "type": "integer",
                },
                {
                  "type": "null",
                },
              ],
              "default": 2,
              "description": "How many",
              "examples": [
                4,
              ],
              "title": "Beds",
            },
            "old": {
              "anyOf": [
                {
                  "type": "string",
                },
                {
                  "type": "null",
                },
              ],
              "deprecated": true,
            },
          },
          "title": "Hut",
          "type": "object",
        },
      }
    `)
    expect(await describeCollection({ host: createMemoryHost({}, site), configurationFile: 'c' }, 'hust')).toEqual({
      known: ['huts'],
      suggestion: 'huts',
    })
  })
})

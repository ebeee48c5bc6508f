import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { list, map, pantry, ref, text } from 'zinc-pantry'
import { createMemoryHost, createNodeHost, openContent } from 'zinc-pantry/engine'
import { createLinearMatcher } from '../dist/values/patterns/linear-matcher.js'
import { isPlainPattern } from '../dist/values/patterns/plain-pattern.js'
import { translatePattern } from '../dist/values/patterns/translate-pattern.js'
import { expectShare, runs } from './helpers.ts'

/** Patterns of all that ECMA-262 has with the flag u, but for what the linear engine does not have. */
const pattern = fc.letrec<Record<'atom' | 'term' | 'pattern', string>>((tie) => ({
  atom: fc.oneof(
    {
      weight: 6,
      arbitrary: fc.constantFrom('a', 'b', 'c', '-', ' ', '_', '1', 'é', 'ß', '🏔', '\\u{1f3d4}', '\\u0061', '\\x62'),
    },
    {
      weight: 4,
      arbitrary: fc.constantFrom(
        '.',
        '\\d',
        '\\D',
        '\\w',
        '\\W',
        '\\s',
        '\\S',
        '\\n',
        '\\t',
        '\\.',
        '\\/',
        '\\cA',
        '\\0',
        '\\v',
      ),
    },
    {
      weight: 2,
      arbitrary: fc.constantFrom('\\p{L}', '\\P{L}', '\\p{Lu}', '\\p{Script=Greek}', '\\p{Nd}', '\\p{ASCII}'),
    },
    {
      weight: 3,
      arbitrary: fc.constantFrom(
        '[a-c]',
        '[^a-c]',
        '[\\s\\d]',
        '[^\\w]',
        '[-a]',
        '[\\]\\\\]',
        '[^\\n]',
        '[]',
        '[^]',
        '[\\p{L}-]',
        '[🏔é]',
        '[\\b]',
      ),
    },
    { weight: 2, arbitrary: fc.constantFrom('\\b', '^', '$') },
    { weight: 2, arbitrary: tie('pattern').map((inner) => `(?:${inner})`) },
    { weight: 1, arbitrary: tie('pattern').map((inner) => `(${inner})`) },
    { weight: 1, arbitrary: tie('pattern').map((inner) => `(?<n>${inner})`) },
  ),
  term: fc
    .tuple(tie('atom'), fc.constantFrom('', '', '', '*', '+', '?', '{2}', '{1,3}', '{0,2}?', '*?', '{0}'))
    .map(([atom, count]) => (/^(?:\\b|\^|\$)$/.test(atom) ? atom : atom + count)),
  pattern: fc
    .array(fc.array(tie('term'), { maxLength: 4 }), { minLength: 1, maxLength: 3 })
    .map((all) => all.map((terms) => terms.join('')).join('|')),
})).pattern
const word = fc
  .array(
    fc.constantFrom(
      'a',
      'b',
      'c',
      '-',
      ' ',
      '_',
      '1',
      'é',
      'ß',
      '🏔',
      '\n',
      '\r',
      '\u2028',
      '\u00a0',
      'Ω',
      'A',
      ']',
      '\\',
      '.',
      '/',
      '\u0001',
      '\0',
      '\t',
      '\v',
      '\b',
    ),
    { maxLength: 12 },
  )
  .map((all) => all.join(''))

const limited = createNodeHost('.').matches as (pattern: RegExp, text: string) => boolean | undefined

test('The linear engine matches what the engine of the language does', () => {
  let tried = 0
  let translated = 0
  const matches = createLinearMatcher(limited)
  const properties = new Map()
  fc.assert(
    fc.property(pattern, fc.array(word, { minLength: 5, maxLength: 20 }), (source, words) => {
      let native: RegExp
      try {
        native = new RegExp(source, 'u')
      } catch {
        // Two groups of one name.
        return
      }
      tried++
      if (translatePattern(native.source, properties) !== undefined) translated++
      for (const one of words) {
        const expected = limited(native, one)
        // The engine of the language can take for ever.
        if (expected === undefined) return
        expect([source, one, matches(native, one)]).toEqual([source, one, expected])
      }
    }),
    { numRuns: runs(600, 100_000) },
  )
  expectShare(translated, tried, 1 / 2)
})

describe('Patterns of any kind end', () => {
  const hostile: readonly (readonly [pattern: string, text: string])[] = [
    ['^(\\w|\\d|-)*$', `${'1'.repeat(34)}!`],
    ['(a|a)*b', 'a'.repeat(40)],
    ['^(a+)+$', `${'a'.repeat(5_000)}!`],
    ['(a?){60}a{60}', 'a'.repeat(60)],
    ['(.*)*x', '.'.repeat(3_000)],
    ['a*a*a*a*a*b', 'a'.repeat(3_000)],
    ['(a|b|ab|ba|aba)*c', 'ab'.repeat(500)],
    ['x+y', 'x'.repeat(100_000)],
    // What the linear engine does not have ends by its limit.
    ['(?=(a+)+$)x', `${'a'.repeat(40)}!`],
    ['^(a+)+\\1$', `${'a'.repeat(40)}!`],
    ['(?<!b)(a|a)*$', `${'a'.repeat(40)}!`],
    ['(?:a{900}){2}(a|a)*b', 'a'.repeat(3_000)],
  ]
  test.each(hostile)(
    '%s',
    async (source, value) => {
      const started = performance.now()
      const field = text({ pattern: source, optional: true })
      const configuration = pantry({
        collections: {
          notes: {
            files: 'notes.json',
            fields: {
              it: field,
              all: list(field, { optional: true }),
              keys: map(text(), { propertyNames: text({ pattern: source }), optional: true }),
              near: ref('made', { optional: true }),
            },
            derive: { again: { field: text({ pattern: source }), from: () => value } },
          },
          made: { files: 'made/*.json', createFrom: 'name', fields: { name: text({ pattern: source }) } },
        },
      })
      const note = { it: value, all: Array(30).fill(value), keys: { [value]: 'x' }, near: value }
      const content = JSON.stringify([
        { id: 'a', ...note },
        { id: 'b', it: value },
      ])
      const host = createMemoryHost({ 'content/notes.json': content }, configuration)
      const { matches } = createNodeHost('.')
      const { site } = await openContent({
        host: Object.assign(host, { matches }),
        configurationFile: 'pantry.config.ts',
      })
      expect(site).toBeDefined()
      expect(performance.now() - started).toBeLessThan(20_000)
    },
    30_000,
  )

  test('most patterns are plain, and none that can take long is', () => {
    for (const plain of [
      '^[a-z]+$',
      '^\\d{4}-\\d{2}$',
      '^[A-Z]{2}[0-9]{3}$',
      'abc',
      '^https://.*$',
      '^#[0-9a-f]{6}$',
      '[aeiou]',
    ])
      expect([plain, isPlainPattern(plain)]).toEqual([plain, true])
    for (const [one] of hostile) expect([one, isPlainPattern(one)]).toEqual([one, false])
  })
})

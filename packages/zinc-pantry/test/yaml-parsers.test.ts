import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import fc from 'fast-check'
import { parseEvents } from 'js-yaml'
import { expect, test } from 'vitest'
import { readYaml } from 'zinc-pantry/read'
import { composeYaml } from '../dist/read/yaml-events.js'
import { parseFallback } from '../dist/read/yaml-fallback-parser.js'
import { expectShare, FIXTURES, runs } from './helpers.ts'

/** What one parser says of a text: its values, or that something is wrong; undefined where it cannot parse it. */
const said = (
  read: () => {
    documents: readonly { value: unknown }[]
    fault?: { code: string } | undefined
    unknownTags?: readonly unknown[]
  },
): unknown => {
  try {
    const { documents, fault, unknownTags } = read()
    // Of two faults one may see the other first.
    if (fault) return /^(?:syntax|colon|tab)$/.test(fault.code) ? undefined : 'wrong'
    return [documents.map(({ value }) => value ?? null), unknownTags]
  } catch {
    return undefined
  }
}
const first = (text: string): unknown => said(() => composeYaml(parseEvents(text, { maxDepth: 100 }), text, false))
const second = (text: string): unknown => said(() => parseFallback(text))

/** YAML in one line and in many, with anchors, aliases and keys of all kinds. */
const node = fc.letrec<Record<'scalar' | 'key' | 'node', string>>((tie) => ({
  scalar: fc.constantFrom(
    'a',
    'b c',
    '1',
    '0x10',
    '1.0',
    '"q"',
    "'s'",
    'null',
    '~',
    'true',
    '!!str 1',
    '!r x',
    '!e!t &x "y"',
    '!!binary aGk=',
    '!<tag:x.example,1:y> z',
    '! 1',
    '*x',
    '*y',
    '*z',
    '&x a',
    '&y 1.0',
    '&z 0x10',
    '&x "q"',
  ),
  key: fc.oneof(
    { weight: 6, arbitrary: fc.constantFrom('a', 'b', 'c', '"d"', '1', '0x10', 'null') },
    { weight: 2, arbitrary: fc.constantFrom('*x ', '*y ', '*z ', '&x k', '&z 7') },
    { weight: 1, arbitrary: tie('node').map((one) => `? ${one}`) },
  ),
  node: fc.oneof(
    { maxDepth: 4 },
    { weight: 4, arbitrary: tie('scalar') },
    { weight: 1, arbitrary: fc.array(tie('node'), { maxLength: 3 }).map((items) => `!s [${items.join(', ')}]`) },
    { weight: 2, arbitrary: fc.array(tie('node'), { maxLength: 4 }).map((items) => `[${items.join(', ')}]`) },
    { weight: 1, arbitrary: fc.array(tie('node'), { maxLength: 3 }).map((items) => `&x [${items.join(', ')}]`) },
    {
      weight: 2,
      arbitrary: fc
        .array(fc.tuple(tie('key'), tie('node')), { maxLength: 4 })
        .map((pairs) => `{${pairs.map(([key, value]) => `${key} : ${value}`).join(', ')}}`),
    },
    {
      weight: 1,
      arbitrary: fc
        .array(fc.tuple(tie('key'), tie('node')), { maxLength: 3 })
        .map((pairs) => `&y {${pairs.map(([key, value]) => `${key} : ${value}`).join(', ')}}`),
    },
  ),
})).node
const text = fc.oneof(
  node.map((one) => `${one}\n`),
  fc.array(node, { minLength: 1, maxLength: 5 }).map((items) => items.map((one) => `- ${one}\n`).join('')),
  fc.array(node, { minLength: 1, maxLength: 5 }).map((items) => items.map((one, at) => `k${at}: ${one}\n`).join('')),
)

test('Both parsers say the same of generated texts', () => {
  let tried = 0
  let both = 0
  fc.assert(
    fc.property(text, (source) => {
      tried++
      const [one, other] = [first(source), second(source)]
      if (one === undefined || other === undefined) return
      both++
      expect([source, one]).toEqual([source, other])
    }),
    { numRuns: runs(2_000, 200_000) },
  )
  expectShare(both, tried, 1 / 4)
})

test('Both parsers say the same of the fixtures and the demo', () => {
  for (const folder of [FIXTURES, join(FIXTURES, '../../../../examples')])
    for (const name of readdirSync(folder, { recursive: true, encoding: 'utf8' })) {
      if (!/\.ya?ml$/.test(name) || name.includes('node_modules')) continue
      const source = readFileSync(join(folder, name), 'utf8').replace(/^\ufeff/, '')
      const [one, other] = [first(source), second(source)]
      if (one !== undefined && other !== undefined) expect([name, one]).toEqual([name, other])
    }
})

test('Aliases are bounded whichever parser reads them', () => {
  const items = Array(1_000).fill('x').join(', ')
  const aliases = '  - *a\n'.repeat(200)
  for (const [before, code] of [
    ['', 'yaml-too-large'],
    // The first parser does not take a sequence that is written across lines like this.
    ['odd: [a\n]\n', 'yaml-too-large'],
  ] as const) {
    const started = performance.now()
    const { diagnostics } = readYaml({ file: 'a.yaml', text: `${before}any:\n  - &a [${items}]\n${aliases}` })
    expect(diagnostics.map((one) => one.code)).toEqual([code])
    expect(performance.now() - started).toBeLessThan(5_000)
  }
})

test('A tag that is not of the core schema is told where it stands, and the value is read all the same', () => {
  for (const before of ['', 'odd: [a\n]\n']) {
    const source = `${before}# 🏔\nat: !r Sys.Date()\nall: !!set {a: }\nbeds: !!int 4\nname: ! x\n`
    const { document, diagnostics } = readYaml({ file: 'a.yaml', text: source })
    expect(document?.value).toMatchObject({ at: 'Sys.Date()', all: { a: null }, beds: 4, name: 'x' })
    expect(diagnostics.map(({ code, severity, span }) => [code, severity, source.slice(...span)])).toEqual([
      ['yaml-tag-unknown', 'warning', '!r'],
      ['yaml-tag-unknown', 'warning', '!!set'],
    ])
  }
})

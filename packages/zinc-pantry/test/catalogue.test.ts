import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import fc from 'fast-check'
import { expect, test } from 'vitest'
import { diagnosticCodes, explainCode } from 'zinc-pantry/engine'
import { catalogue } from '../dist/diagnostics/catalogue/index.js'
import { FIXTURES, REPOSITORY } from './helpers.ts'

/** Shown by no golden file under their own name: the command's test shows one, rules give the other names. */
const ELSEWHERE = ['config-package-missing', 'config-not-found', 'site-rule']

const goldens = readdirSync(FIXTURES, { recursive: true, encoding: 'utf8' })
  .filter((path) => path.endsWith('expected.txt'))
  .map((path) => readFileSync(join(FIXTURES, path), 'utf8'))

test('Every diagnostic code stands in a golden file', () => {
  const shown = new Set(
    goldens.flatMap((text) => [...text.matchAll(/ (?:error|warning) ([a-z-]+)$/gm)].map(([, code]) => code)),
  )
  expect(Object.keys(catalogue).filter((code) => !shown.has(code) && !ELSEWHERE.includes(code))).toEqual([])
})

test('Messages are one short line without a full stop', () => {
  const messages = goldens.flatMap((text) =>
    [...text.matchAll(/ (?:error|warning) [a-z-]+\n {2}(.+)$/gm)].map(([, message]) => message ?? ''),
  )
  expect(messages.length).toBeGreaterThan(100)
  for (const message of messages) {
    expect(message.length).toBeLessThanOrEqual(120)
    expect(message).toMatch(/^["A-Z\d-].*[^.]$/)
  }
})

test('The documentation lists every code with a sample', async () => {
  const samples = new Map<string, string>()
  for (const text of goldens)
    for (const [, severity, code, message, rest] of text.matchAll(
      / (error|warning) ([a-z-]+)\n {2}(.+)\n((?:.+\n)*)/g,
    )) {
      const help = /^ {2}help: (.+)$/m.exec(rest ?? '')?.[1]
      const cells = [`[${code}](diagnostics/${code}.md)`, severity, message, help ?? ''].map((cell) =>
        (cell ?? '').replaceAll('|', '\\|'),
      )
      if (code && !samples.has(code)) samples.set(code, `| ${cells.join(' | ')} |`)
    }
  const rows = [...samples.entries()].sort(([a], [b]) => (a < b ? -1 : 1)).map(([, row]) => row)
  const page = [
    '# Diagnostics',
    '',
    'Every code, whether it is an error, and a sample of its message and help. Besides these, `config-not-found` says that',
    'no configuration was found. An error stops a build, a warning does not.',
    '',
    '| code | severity | message | help |',
    '| --- | --- | --- | --- |',
    ...rows,
    '',
  ]
  await expect(page.join('\n')).toMatchFileSnapshot(join(REPOSITORY, 'docs/diagnostics.md'))
})

test('A misspelt word is the nearest known one, up to three edits and a third of its letters', () => {
  /** The edit distance, by its definition. */
  const editsBetween = (a: string, b: string): number => {
    let above = Array.from({ length: b.length + 1 }, (_, at) => at)
    for (const letter of a) {
      const row = [(above[0] as number) + 1]
      for (let at = 1; at <= b.length; at++) {
        const same = (above[at - 1] as number) + (letter === b[at - 1] ? 0 : 1)
        row.push(Math.min(same, (above[at] as number) + 1, (row[at - 1] as number) + 1))
      }
      above = row
    }
    return above[b.length] as number
  }
  const codes = diagnosticCodes()
  const edit = fc.tuple(fc.nat(40), fc.constantFrom('7', ''))
  fc.assert(
    fc.property(fc.constantFrom(...codes), fc.array(edit, { maxLength: 4 }), (code, edits) => {
      let wrong: string = code
      for (const [place, letter] of edits) {
        const at = place % wrong.length
        wrong = wrong.slice(0, at) + letter + wrong.slice(at + 1)
      }
      const limit = Math.max(1, Math.min(3, Math.floor(wrong.length / 3)))
      const nearest = Math.min(...codes.map((one) => editsBetween(wrong, one)))
      fc.pre(nearest > 0)
      const { suggestion } = explainCode(wrong) as { suggestion: string | undefined }
      if (nearest <= limit) expect(editsBetween(wrong, suggestion ?? '')).toBe(nearest)
      else if (suggestion !== undefined) expect(suggestion.includes(wrong) || wrong.includes(suggestion)).toBe(true)
    }),
    { numRuns: 300 },
  )
})

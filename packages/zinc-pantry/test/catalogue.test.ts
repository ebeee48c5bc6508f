import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { expect, test } from 'vitest'
import { catalogue } from '../dist/diagnostics/catalogue/index.js'
import { FIXTURES } from './helpers.ts'

/** Shown by no golden file, as they need no content: the command's own test shows it. */
const ELSEWHERE = ['config-not-found']

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

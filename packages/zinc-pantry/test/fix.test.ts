import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { parse } from 'yaml'
import { anything, choice, date, flag, group, int, list, pantry, ref, text, time } from 'zinc-pantry'
import { type ChangeStep, createMemoryHost, fixSite, type MemoryHost } from 'zinc-pantry/engine'
import { readJsonLines } from 'zinc-pantry/read'
import { runs } from './helpers.ts'

const site = (files: string) =>
  pantry({
    collections: {
      things: {
        files,
        body: true,
        fields: {
          title: text({ optional: true }),
          size: int({ optional: true }),
          open: flag({ optional: true }),
          on: date({ optional: true }),
          at: time({ optional: true }),
          tags: list(text(), { optional: true }),
          kind: choice(['Low', 'high'], { optional: true }),
          part: group({ near: ref('things', { optional: true }), open: flag({ optional: true }) }, { optional: true }),
          toc: anything({ optional: true }),
        },
      },
    },
  })

const keys = ['title', 'titel', 'size', 'Size', 'open', 'on', 'at', 'tags', 'tagz', 'kind', 'part', 'toc', 'other']
const values = [
  'x',
  '2026',
  '"24"',
  "'7'",
  'yes',
  '"true"',
  '2026-5-1',
  '31.12.2026',
  '3/4/2026',
  '9:30',
  '"9:30"',
  '01',
  'a: b',
  "it's: so",
  'Use this: when you',
  'a: b: c',
  '[a, b]',
  '{ near: A, open: yes }',
  '{ near: a }',
  '',
  '"quo\\"te"',
  "it's",
  '1e3',
  'NO',
  'LOW',
  'a, b',
  '&x one',
  '*x',
  '|\n  block # text',
  'folded\n  second line',
  'one: two\n  second line',
  '!!str 5',
]

interface Line {
  readonly key: string
  readonly written: string
  readonly comment: string
}
const lines = fc
  .array(
    fc.record({
      key: fc.constantFrom(...keys),
      written: fc.constantFrom(...values),
      comment: fc.constantFrom('', '', ' # remark', '   #x: y', ' # "quoted'),
    }),
    { maxLength: 5 },
  )
  .map((all) => all.map((one, at): Line => ({ ...one, comment: one.comment && `${one.comment} ${at}` })))

/** A comment stands behind the first line of a value, but for texts that go on there. */
const writeLine = ({ key, written, comment }: Line): string => {
  const [first = '', ...rest] = written.split('\n')
  const isOpen = rest.length > 0 && !first.startsWith('|')
  return [`${key}: ${first}${isOpen ? '' : comment}`, ...rest].join('\n')
}

/** What an independent parser makes of YAML; undefined where it refuses it. */
function valuesOf(source: string): Record<string, unknown> | undefined {
  try {
    return (parse(source, { version: '1.2', uniqueKeys: false, logLevel: 'silent' }) as Record<string, unknown>) ?? {}
  } catch {
    return undefined
  }
}

type EditStep = Extract<ChangeStep, { kind: 'edit' }>

/** The lines of a span, from 1. */
function linesOf(text: string, [start, end]: EditStep['span']): number[] {
  const first = text.slice(0, start).split('\n').length
  return text
    .slice(start, end)
    .split('\n')
    .map((_, at) => first + at)
}

/** The text of a file, its byte order mark included. */
function textIn({ files }: MemoryHost, name: string): string {
  const content = files.get(name)
  return typeof content === 'string' ? content : new TextDecoder('utf-8', { ignoreBOM: true }).decode(content)
}

describe('check --fix', () => {
  test('mends what it says, and nothing else is another', async () => {
    const mended = new Set<string>()
    await fc.assert(
      fc.asyncProperty(
        lines,
        fc.constantFrom('\n', '\r\n'),
        fc.boolean(),
        fc.boolean(),
        async (all, end, hasMark, isBody) => {
          const yaml = ['# The first line', ...all.map(writeLine), ''].join('\n')
          const whole = isBody ? `---\n${yaml}---\nBody: a: b # no comment\n` : yaml
          const source = (hasMark ? '\ufeff' : '') + whole.replaceAll('\n', end)
          const name = isBody ? 'content/a.md' : 'content/a.yaml'
          const host = createMemoryHost({ [name]: source }, site('*.{md,yaml}'))
          const before = await fixSite({ host, configurationFile: 'c', dryRun: true })
          expect(textIn(host, name)).toBe(source)
          const after = await fixSite({ host, configurationFile: 'c' })
          const written = textIn(host, name)

          // What was said to be mended is gone, nothing can be mended still, and a second run changes nothing.
          expect(after.outcome.diagnostics.filter(({ edit }) => edit)).toEqual([])
          expect((await fixSite({ host, configurationFile: 'c' })).change.steps).toEqual([])
          expect(textIn(host, name)).toBe(written)
          for (const { code, edit } of before.diagnostics) if (edit) mended.add(code)
          const isWhole = !before.diagnostics.some(({ code }) => /^(?:yaml-(?!word)|front)/.test(code))
          if (isWhole) {
            const left = before.diagnostics.filter(({ edit }) => !edit).map(({ code }) => code)
            const now = after.outcome.diagnostics.map(({ code }) => code)
            for (const code of now) expect(left.splice(left.indexOf(code), 1)).toEqual([code])
          } else if (after.isWritten)
            expect(
              after.outcome.diagnostics.some(
                ({ code }) => code === before.diagnostics[0]?.code && code !== 'yaml-colon' && code !== 'yaml-syntax',
              ),
            ).toBe(false)

          // Line ends, the mark and all lines that were not told are the same.
          const [old, now] = [source.split(end), written.split(end)]
          expect(now.length).toBe(old.length)
          const steps = after.change.steps as readonly EditStep[]
          const told = new Set(steps.flatMap(({ span }) => linesOf(source.replace('\ufeff', ''), span)))
          // The change says all of it, in the text as it was, and what was shown before is what was made.
          expect(before.change).toEqual(after.change)
          const made = steps.reduceRight(
            (text, { span: [start, end], text: put }) => text.slice(0, start) + put + text.slice(end),
            source.replace('\ufeff', ''),
          )
          expect((hasMark ? '\ufeff' : '') + made).toBe(written)
          for (const [at, line] of old.entries()) if (!told.has(at + 1)) expect(now[at]).toBe(line)
          for (const at of told) expect(now[at - 1]).not.toBe(old[at - 1])

          // Every comment is still one, and every value but the mended is the same.
          const front = (text: string) => (isBody ? (text.split(/^---\r?$/m)[1] ?? '') : text.replace('\ufeff', ''))
          const [values, others] = [valuesOf(front(source)), valuesOf(front(written))]
          expect(JSON.stringify(others ?? {})).not.toMatch(/remark|x: y|"quoted/)
          for (const { comment } of all) if (comment && source.includes(comment)) expect(written).toContain(comment)
          if (values && others && isWhole)
            for (const { key } of all) {
              const at = old.findIndex((line) => line.replace('\ufeff', '').startsWith(`${key}:`))
              if (!told.has(at + 1)) expect([key, others[key]]).toEqual([key, values[key]])
            }
        },
      ),
      { numRuns: runs(170, 20_000) },
    )
    const some = ['value-type', 'yaml-colon', 'field-unknown'].filter((code) => mended.has(code))
    expect(some.length).toBeGreaterThan(0)
  })

  test.each([
    ['title: Use this: when you\n  second line\n', undefined],
    ['title: Use this: when you # remark\n', "title: 'Use this: when you' # remark\n"],
    ["title: It's: so\n", "title: 'It''s: so'\n"],
    ['toc: yes\n', undefined],
    ['tags: &a x\ntitle: *a\n', undefined],
    ['open: &a yes\ntoc: *a\n', undefined],
    ['size: "24" # beds\n', 'size: 24 # beds\n'],
    ['on: 2026-5-1 # opening\n', 'on: 2026-05-01 # opening\n'],
    ['on: 3/4/2026\n', undefined],
    ['at: 9:30\n', 'at: 09:30\n'],
  ])('%j', async (source, expected) => {
    const host = createMemoryHost({ 'content/a.yaml': source }, site('*.yaml'))
    await fixSite({ host, configurationFile: 'c' })
    expect(textIn(host, 'content/a.yaml')).toBe(expected ?? source)
  })

  test('of JSON Lines mends the line that is wrong', () => {
    const source = '{ "beds": 1 }\n{ "beds": 2, }\n'
    const [{ edit, span } = { edit: undefined, span: [0, 0] }] = readJsonLines({
      file: 'a.jsonl',
      text: source,
    }).diagnostics
    expect(edit?.span).toEqual(span)
    expect(source.slice(...(edit?.span ?? [0, 0]))).toBe(',')
  })
})

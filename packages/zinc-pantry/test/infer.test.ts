import { rmSync } from 'node:fs'
import { join } from 'node:path'
import { describe, expect, test } from 'vitest'
import { checkSite, createNodeHost } from 'zinc-pantry/engine'
import { loadModel } from '../dist/engine/load-model.js'
import type { AnyField } from '../dist/schema/any-field.js'
import { childrenOf, leadingOf } from '../dist/schema/kinds.js'
import type { CollectionModel } from '../dist/schema/model.js'
import { linkPackages, makeFile, makeFolder, PNG, REPOSITORY, readFolder, runCommand, textOf } from './helpers.ts'

const DEMO = join(REPOSITORY, 'examples/fellmark')

/** Nine notes that are alike, of all kinds of values, with some mistakes among them. */
const note = (at: number): string => `---
title: Note ${at}
on: 2026-05-0${at}
seen: 2026-05-0${at}T08:30:00Z
at: "08:3${at}"
lasts: PT${at}H
mood: ${['calm', 'wild', 'bright'][at % 3]}
stars: ${at}
weight: ${at}.5
open: ${at % 2 === 0}
site: https://notes.example/${at}
from: walker${at}@notes.example
${at === 7 ? 'autor' : 'author'}: ${['ada', 'bo', 'cy'][at % 3]}
tags: ${at === 4 ? 'wet' : `[wet, ${at % 2 === 0 ? 'dry' : 'cold'}]`}
picture: ../pictures/a.png
${at > 2 ? `Height (m): ${at}00` : 'source: a book'}
place: { north: ${at}.25, east: -${at}.5 }
counts: { "2024": ${at}, "2025": 0, "2026": 1 }
---

${at === 1 ? ':::aside\nSee [the second](2.md).\n:::' : 'Text.'}
`

const FILES: Readonly<Record<string, string | Uint8Array>> = {
  'package.json': '{\n  "name": "notes",\n  "type": "module"\n}\n',
  '.gitignore': 'node_modules',
  'docs/pictures/a.png': PNG,
  ...Object.fromEntries([1, 2, 3, 4, 5, 6, 7, 8, 9].map((at) => [`docs/notes/${at}.md`, note(at)])),
  'docs/people.yaml':
    'ada: { name: Ada, knows: [bo, cy] }\nbo: { name: Bo, knows: [ada] }\ncy: { name: Cy, knows: [] }\n',
  'docs/settings.json': '{ "name": "Notes", "limits": { "small": 1, "large": 20 } }',
  'docs/places.json': '{ "version": 2, "places": [{ "code": "a1", "label": "A" }, { "code": "b2", "label": "B" }] }',
  'docs/times.csv': 'id,who,tags,late\nx,ada,a; b,yes\ny,bo,a,no\nz,cy,,no\n',
  'docs/guide/10-start.md': '# Start\n',
  'docs/guide/20-go/30-on.md': '# On\n',
  'docs/words/beck.yaml': 'word: beck\nmeaning: A stream\n',
  'docs/words/beck.no.yaml': 'word: bekk\nmeaning: En bekk\n',
  'docs/broken.yaml': 'a: [1\n',
}

describe('A configuration is inferred', () => {
  test('from content of all kinds: with the counts behind each guess, and it passes but for the mistakes that are told', async () => {
    const root = makeFolder(FILES)
    linkPackages(root)
    const old = readFolder(root)
    const { code, stderr } = await runCommand(root, ['infer', 'docs/**', '--yes'])
    expect(code).toBe(1)
    expect(stderr.replace(/ \(\d.*/, '')).toMatchSnapshot()
    const now = readFolder(root)
    expect(now['pantry.config.ts']).toMatchSnapshot()
    expect(now['package.json']).toBe(
      '{\n  "name": "notes",\n  "type": "module",\n  "imports": { "#pantry": "./generated/pantry/index.js" }\n}\n',
    )
    expect(now['.gitignore']).toBe('node_modules\ngenerated/\n.pantry/\n')
    const report = await checkSite({ host: createNodeHost(root), configurationFile: 'pantry.config.ts' })
    expect(
      report.diagnostics.filter(({ severity }) => severity === 'error').map(({ code, file }) => `${code} ${file}`),
    ).toEqual(['field-unknown docs/notes/7.md'])
    expect((await runCommand(root, ['undo'])).code).toBe(0)
    expect(readFolder(root)).toEqual(old)
  })

  test('of the demo, most that is known of it is found out: references, choices, kinds, what is always there', async () => {
    const root = makeFolder({}, DEMO)
    const host = createNodeHost(root)
    const { model: known } = await loadModel(host, 'pantry.config.ts')
    rmSync(join(root, 'pantry.config.ts'))
    expect((await runCommand(root, ['infer'])).code).toBe(0)
    expect(textOf(await checkSite({ host, configurationFile: 'pantry.config.ts' }))).not.toContain('error')
    const { model: inferred } = await loadModel(host, 'pantry.config.ts')
    const counts = { found: 0, missed: 0, wrong: 0 }
    const compare = (own: AnyField | undefined, guess: AnyField | undefined): void => {
      if (!own || !guess || leadingOf(own)?.through !== undefined) return
      const [item, other] = [childrenOf(own).item, childrenOf(guess).item]
      if (item && other) {
        compare(item, other)
        return
      }
      const [targets, led] = [leadingOf(own)?.targets, leadingOf(guess)?.targets]
      if (led && led.join() !== targets?.join()) counts.wrong++
      else if (guess.kind === own.kind) counts.found++
      else if (guess.kind === 'text' || guess.kind === 'group') counts.missed++
      else counts.wrong++
      const fields = childrenOf(own).fields ?? {}
      for (const [name, inner] of Object.entries(childrenOf(guess).fields ?? {})) compare(fields[name], inner)
    }
    const fieldsOf = (name: string): CollectionModel['fields'] =>
      inferred?.collections.find((one) => one.name === name)?.fields ?? {}
    for (const { name, fields } of known?.collections ?? [])
      for (const [field, own] of Object.entries(fields)) compare(own, fieldsOf(name)[field])
    // What few entries use, or none, nobody can tell.
    expect(counts.wrong).toBeLessThan(4)
    expect(counts.found / (counts.found + counts.missed)).toBeGreaterThan(0.8)
  })

  test('for files that no collection of a site reads, beside its own', async () => {
    const root = makeFolder({}, DEMO)
    const plain = await runCommand(root, ['infer'])
    expect([plain.code, plain.stderr]).toEqual([2, 'error Collections read all files of content\n'])
    for (const at of [1, 2, 3]) makeFile(root, `content/routes/${at}.yaml`, `title: Route ${at}\nhut: gable\n`)
    const old = readFolder(root)
    expect((await runCommand(root, ['infer', 'content/routes/*'])).code).toBe(0)
    const now = readFolder(root)
    expect(now['pantry.config.ts']).toContain(
      "      rules: [overlappingBookings],\n    },\n    // 3 entries\n    routes: {\n      files: 'routes/*.yaml',\n",
    )
    expect(now['pantry.config.ts']).toContain("hut: ref('huts'), // 3 of 3, 1 of 1 different found in huts")
    await runCommand(root, ['undo'])
    expect(readFolder(root)).toEqual(old)
  })

  test.each([
    [{}, [], 'There is no content here'],
    [{ 'a.md': '' }, ['*.md'], 'Content needs a folder of its own'],
    [{ 'a/a.md': '', 'b/b.yaml': '' }, [], 'Content may be in several folders: a (1), b (1)'],
    [{ 'a/a.png': '' }, ['a/**'], 'No file in a can hold content'],
    [{ 'a/a.yaml': '[' }, [], 'None of the files can be read'],
  ])('or it is said why not: %j', async (files, patterns, words) => {
    const { code, stderr } = await runCommand(makeFolder(files as Record<string, string>), ['infer', ...patterns])
    expect([code, stderr]).toEqual([2, expect.stringContaining(words)])
  })
})

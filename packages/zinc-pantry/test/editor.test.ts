import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import fc from 'fast-check'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { block, choice, flag, group, int, list, pantry, ref, text } from 'zinc-pantry'
import { checkSite, createLineIndex, createMemoryHost, messageOf } from 'zinc-pantry/engine'
import {
  type EditorClient,
  offsetAt,
  openEditor,
  type ProtocolEdit,
  type ProtocolOffer,
  type ProtocolProblem,
  type ProtocolRange,
  positionAt,
  withEdits,
} from './editor-client.ts'
import { expectShare, linkPackages, makeFolder, REPOSITORY, runCommand, runs } from './helpers.ts'

interface Location {
  readonly uri: string
  readonly range: ProtocolRange
}

describe('An editor over the demo', () => {
  let root = ''
  let editor: EditorClient
  const read = (file: string): string => readFileSync(join(root, file), 'utf8')
  /** Types into a document of its own; `|` is where the cursor stays. */
  const type = (file: string, text: string): string => {
    const whole = text.replace('|', '')
    if (editor.textOf(file) === '') editor.open(file, whole)
    else editor.edit(file, 0, editor.textOf(file).length, whole)
    return text
  }
  const offers = async (file: string, text: string): Promise<readonly ProtocolOffer[]> => {
    type(file, text)
    const before = text.slice(0, text.indexOf('|'))
    const position = {
      line: before.split('\n').length - 1,
      character: before.slice(before.lastIndexOf('\n') + 1).length,
    }
    const answer = await editor.ask<{ items: ProtocolOffer[] }>('completion', file, { position })
    return answer.items
  }
  const shown = async (file: string, text: string, most = 4): Promise<readonly string[]> =>
    (await offers(file, text))
      .slice(0, most)
      .map(({ label, textEdit }) => (label === textEdit.newText ? label : `${label} → ${textEdit.newText}`))
  const placed = (all: readonly Location[]): readonly string[] =>
    all.map(({ uri, range }) => {
      const file = decodeURIComponent(uri.slice(editor.uriOf('').length))
      const text = editor.textOf(file) || read(file)
      return `${file} ${text.slice(offsetAt(text, range.start), offsetAt(text, range.end)).split('\n')[0]}`
    })

  beforeAll(async () => {
    root = makeFolder({}, join(REPOSITORY, 'examples/fellmark'))
    linkPackages(root)
    editor = await openEditor(root)
  })
  afterAll(async () => expect(await editor.stop()).toBe(0))

  const hut = 'content/huts/gable.yaml'
  const trail = 'content/trails/north-fell/stony-door.md'

  test('is told of all problems as check tells them, while they are typed, and that they are gone', async () => {
    const text = read(hut)
    editor.open(hut, text)
    expect(await editor.problems(hut)).toEqual([])
    const at = text.indexOf('north-fell') + 'north-fel'.length
    editor.edit(hut, at, at + 1, '')
    const [problem] = await editor.problems(hut)
    expect(problem).toMatchObject({
      code: 'ref-dangling',
      severity: 1,
      message: 'No entry "north-fel" in regions\nDid you mean "north-fell"?',
      range: { start: { line: 1, character: 8 }, end: { line: 1, character: 17 } },
    })
    // The packed documents have such a page for every code.
    expect(problem?.codeDescription.href).toMatch(/^file:.*\/docs\/diagnostics\/ref-dangling\.md$/)
    editor.edit(hut, at, at, 'l')
    expect(await editor.problems(hut)).toEqual([])
    editor.close(hut)
  })

  test('offers references by label and by id, keys that are missing, words, files and dates, in every format', async () => {
    const [gable] = (await offers(trail, read(trail).replace('hut: cairnfoot', 'hut: gab|'))).filter(
      ({ label }) => label === 'Gable Hut',
    )
    expect(gable).toMatchObject({ filterText: 'Gable Hut gable', textEdit: { newText: 'gable' } })
    const resolved = await editor.request<ProtocolOffer>('completionItem/resolve', gable)
    expect(resolved.documentation?.value).toContain('huts/gable')
    expect(await shown(hut, 'name: Gable\nregion: |\n', 2)).toEqual(['North Fell → north-fell', 'Tarnside → tarnside'])
    expect(await shown(hut, 'name: Gable\n|\n', 3)).toEqual([
      'region → region: ',
      'elevation → elevation: ',
      'beds → beds: ',
    ])
    expect(await shown(hut, 'name: Gable\nwater:\n  |\n', 1)).toEqual(['source → source: '])
    expect(await shown(hut, 'name: Gable\nwardens: [maren-holt, i|\n', 1)).toEqual(['Ines Calloway → ines-calloway'])
    expect(await shown(hut, 'name: "Gable\nregion: |\n', 1)).toEqual(['North Fell → north-fell'])
    expect(await shown(hut, 'name: Gable\nphoto: { file: | }\n', 1)).toEqual(['../pictures/ridge.png'])
    expect((await offers(hut, 'name: Gable\nphoto: |\n'))[0]?.detail).toBe('320 × 200, 1 KB')
    editor.close(hut)
    expect(await shown(trail, read(trail).replace('grade: moderate', 'grade: |'))).toEqual(['easy', 'moderate', 'hard'])
    expect(await shown(trail, read(trail).replace('1948-08-02', '|'))).toEqual([new Date().toISOString().slice(0, 10)])
    expect(await shown(trail, read(trail).replace('---\n', '---\n|\n'))).toEqual(['track → track: ', 'draft → draft: '])
    editor.close(trail)
    const warden = 'content/wardens/tobias-wrenfield.json'
    expect(await shown(warden, read(warden).replace('"region": "north-fell"', '"region": |'), 1)).toEqual([
      'North Fell → "north-fell"',
    ])
    expect(await shown(warden, '{ "name": "A", "re|', 2)).toEqual([
      'role → "role": "head warden"',
      'region → "region": ""',
    ])
    editor.close(warden)
    const tags = 'content/tags.toml'
    expect(await shown(tags, `${read(tags)}\n[new]\n|`)).toEqual(['name → name = ""', 'note → note = ""'])
    editor.close(tags)
    const stages = 'content/stages.csv'
    expect(await shown(stages, `${read(stages)}x-1,north-fell/stony-door,PT1H,,2026-01-01,"summer; |",\n`, 2)).toEqual([
      'Spring → spring',
      'Summer → summer',
    ])
    editor.close(stages)
    const logbook = 'content/logbook.jsonl'
    expect(await shown(logbook, `${read(logbook)}{ "hut": "|" }\n`, 1)).toEqual(['Barley End → "barley-end"'])
    editor.close(logbook)
    const front = 'content/front.yaml'
    expect(await shown(front, read(front).replace('panels:\n', 'panels:\n  - |\n'), 1)).toEqual(['hero → block: hero'])
    expect(await shown(front, read(front).replace('panels:\n', 'panels:\n  - block: gallery\n    |\n'), 1)).toEqual([
      'title → title: ',
    ])
    editor.close(front)
  })

  test('offers where links may lead, blocks, their properties, and languages', async () => {
    const text = read(trail)
    expect(await shown(trail, `${text}\n[x](|`, 1)).toEqual(['Barley End → ../../huts/barley-end.yaml'])
    const gear = 'content/gear/map-and-compass.md'
    expect((await offers(trail, `${text}\n[x](../../gear/layers.mdx#|)`)).map(({ label }) => label)).toEqual(
      [...read('content/gear/layers.mdx').matchAll(/^## (.*)$/gm)].map(([, heading = '']) =>
        heading.toLowerCase().replaceAll(' ', '-'),
      ),
    )
    expect(await shown(trail, `${text}\n:::ca|`, 3)).toEqual(['hero', 'gallery', 'callout'])
    expect(await shown(trail, `${text}\n:::callout{|}`)).toEqual(['tone → tone=""', 'title → title=""'])
    expect(await shown(trail, `${text}\n:::callout{tone=|}`)).toEqual(['tip', 'care', 'stop'])
    expect(await shown(trail, `${text}\n\`\`\`ba|`, 2)).toContain('bash')
    editor.close(trail)
    const crampons = 'content/gear/crampons.mdx'
    expect(await shown(crampons, `${read(crampons)}\n<|`, 3)).toEqual(['Hero', 'Gallery', 'Callout'])
    expect(await shown(crampons, `${read(crampons)}\n<Callout tone="|"`)).toEqual(['tip', 'care', 'stop'])
    editor.close(crampons)
    expect(gear).toContain('gear')
  })

  test('tells on hover what a key is, and where a reference and a link lead', async () => {
    editor.open(hut, read(hut))
    const words = async (mark: string): Promise<string> =>
      (await editor.askAt<{ contents: { value: string } }>('hover', hut, mark)).contents.value
    expect(await words('|beds')).toBe('**beds** · a whole number · required\n\n`minimum 0`, `maximum 60`')
    expect(await words('no|rth-fell')).toMatch(/^\*\*North Fell\*\* · regions\/north-fell\n\n- name: North Fell\n/)
    expect(await words('pictures/ri|dge.png')).toMatch(/^\*\*pictures\/ridge.png\*\* · 320 × 200, /)
    editor.close(hut)
  })

  test('leads to entries, fields and uses', async () => {
    editor.open(hut, read(hut))
    expect(placed(await editor.askAt('definition', hut, 'no|rth-fell'))).toEqual(['content/regions.yaml north-fell'])
    expect(placed(await editor.askAt('definition', hut, 'be|ds:'))).toEqual(['pantry.config.ts beds'])
    const context = { includeDeclaration: true }
    const uses = placed(await editor.askAt('references', hut, 'no|rth-fell', { context }))
    expect(uses).toContain('content/regions.yaml north-fell')
    expect(uses).toContain('content/trails/north-fell/stony-door.md north-fell')
    const ofField = placed(await editor.askAt('references', hut, 'be|ds:', { context }))
    expect(ofField.filter((one) => one.startsWith('content/huts/'))).toHaveLength(14)
    expect(ofField).toContain('pantry.config.ts beds')
    const links = await editor.ask<{ target: string }[]>('documentLink', hut)
    const targets = links.map(({ target }) => target)
    expect(targets).toContain(editor.uriOf('content/wardens/maren-holt.json'))
    expect(targets).toContain(editor.uriOf('content/pictures/ridge.png'))
    expect(targets).toContain(editor.uriOf('content/trails/north-fell/stony-door.md'))
    const hints = await editor.ask<{ label: string }[]>('inlayHint', hut, {
      range: { start: { line: 0, character: 0 }, end: { line: 9, character: 0 } },
    })
    expect(hints.map(({ label }) => label)).toEqual(['North Fell', 'Tobias Wrenfield', 'Maren Holt'])
    editor.close(hut)
  })

  test('knows names in the configuration, and blocks in data and in bodies', async () => {
    const config = 'pantry.config.ts'
    editor.open(config, read(config))
    const context = { includeDeclaration: false }
    const ofWord = placed(await editor.askAt('references', config, "['easy', 'mod|erate'", { context }))
    expect(ofWord).toContain('content/trails/north-fell/stony-door.md moderate')
    expect(
      (await editor.askAt<{ contents: { value: string } }>('hover', config, 're|gions: {')).contents.value,
    ).toMatch(/^\*\*regions\*\* · 5 entries\n\nA part of/)
    editor.close(config)
    const front = 'content/front.yaml'
    editor.open(front, read(front))
    expect(placed(await editor.askAt('definition', front, 'block: ga|llery'))).toEqual(['pantry.config.ts gallery'])
    editor.close(front)
    const high = 'content/trails/north-fell/high-traverse.md'
    editor.open(high, read(high))
    expect(placed(await editor.askAt('definition', high, ':::call|out'))).toEqual(['pantry.config.ts callout'])
    const uses = placed(await editor.askAt('references', high, 'tone=ca|re', { context }))
    expect(uses).toContain('content/trails/north-fell/high-traverse.md care')
    expect(await editor.askAt('prepareRename', high, 'to|ne=care')).toMatchObject({ placeholder: 'tone' })
    editor.close(high)
  })

  test('renames a heading with all links to it', async () => {
    const weather = 'content/handbook/10-weather.md'
    editor.open(weather, read(weather))
    const context = { includeDeclaration: false }
    expect(placed(await editor.askAt('references', weather, '## The s|ky', { context }))).toContain(
      'content/trails/north-fell/high-traverse.md ../../handbook/10-weather.md#the-sky',
    )
    const edit = await editor.askAt<ProtocolEdit>('rename', weather, '## The s|ky', { newName: 'What the sky says' })
    const edits = edit.documentChanges.flatMap(({ edits: own = [] }) => own.map(({ newText }) => newText))
    expect(edits).toEqual(['What the sky says', '../../handbook/10-weather.md#what-the-sky-says'])
    editor.close(weather)
  })

  test.each([
    ['an entry', hut, 'ma|ren-holt', 'wardens/maren-holt', 'maren-holm'],
    ['an entry by a link', trail, 'hut: cairn|foot', 'huts/cairnfoot', 'cairn'],
    ['a field', hut, 'facil|ities', 'huts.facilities', 'comforts'],
    ['a field of a group', hut, 'sour|ce: spring', 'huts.water.source', 'origin'],
    ['a word', trail, 'mode|rate', 'trails.grade.moderate', 'middling'],
    ['a collection, in the configuration', 'pantry.config.ts', 'terr|ains: {', 'terrains', 'grounds'],
    ['a block', 'content/trails/north-fell/high-traverse.md', ':::call|out', 'callout', 'aside'],
    ['a property', 'content/trails/north-fell/high-traverse.md', '{to|ne', 'callout.tone', 'mood'],
    ['a heading', 'content/handbook/10-weather.md', '## The s|ky', 'handbook/weather#the-sky', 'The air'],
    ['a picture', hut, 'pictures/ri|dge.png', 'pictures/ridge.png', 'pictures/crest.png'],
  ])('renames %s as the command does, proved before', async (_, file, mark, target, name) => {
    editor.open(file, read(file))
    const { stdout } = await runCommand(root, ['rename', target, name, '--dry-run', '--format', 'json'])
    const { steps } = JSON.parse(stdout) as {
      steps: { kind: string; file: string; line: number; text: string; to: string }[]
    }
    expect(steps.length).toBeGreaterThan(0)
    const edit = await editor.askAt<ProtocolEdit>('rename', file, mark, { newName: name })
    const edited = edit.documentChanges.flatMap(({ textDocument, edits = [] }) =>
      edits.map(({ range, newText }) => [textDocument?.uri, range.start.line + 1, newText]),
    )
    const moved = edit.documentChanges.flatMap(({ newUri }) => newUri ?? [])
    const wanted = steps
      .filter(({ kind }) => kind === 'edit')
      .map((one) => [editor.uriOf(one.file), one.line, one.text])
    expect(edited.sort()).toEqual(wanted.sort())
    expect(moved).toEqual(steps.filter(({ kind }) => kind === 'move').map((one) => editor.uriOf(one.to)))
    editor.close(file)
  })

  test('says why something is not renamed', async () => {
    editor.open(hut, read(hut))
    const rename = (mark: string, newName: string) => editor.askAt('rename', hut, mark, { newName })
    await expect(rename('ma|ren-holt', 'osric-fenn')).rejects.toThrow('wardens has an entry osric-fenn already')
    // Functions of the configuration read it.
    await expect(rename('be|ds:', 'berths')).rejects.toThrow('It would make new problems: Gable Hut has')
    await expect(rename('6|12', 'high')).rejects.toThrow('Nothing')
    editor.close(hut)
  })

  test('mends problems: what check --fix does, what was meant, entries and keys that are missing', async () => {
    interface Action {
      readonly title: string
      readonly edit?: ProtocolEdit
      readonly data?: unknown
    }
    const text = read(hut).replace('north-fell', 'north-fel').replace('beds: 24', 'beds: "24"')
    editor.open(hut, text)
    const problems = await editor.problems(hut)
    const actions = await Promise.all(
      problems.map(({ range }) => editor.ask<Action[]>('codeAction', hut, { range, context: { diagnostics: [] } })),
    )
    expect(actions.map((own) => own.map(({ title }) => title))).toEqual([
      ['Write "north-fell"', 'Create regions/north-fel'],
      ['Remove the quotes: 24'],
    ])
    expect(
      withEdits(
        text,
        actions.flatMap((own) => own[0]?.edit?.documentChanges[0]?.edits ?? []),
      ),
    ).toBe(read(hut))
    const [, create] = actions[0] ?? []
    const made = await editor.request<Action>('codeAction/resolve', create)
    expect(made.edit?.documentChanges[0]?.edits?.[0]?.newText).toMatch(/^\s*north-fel:\n {2}name: North fel\n/)
    type(hut, read(hut).replace('beds: 24\n', ''))
    const about = (range: ProtocolRange | undefined, file = hut) =>
      editor.ask<Action[]>('codeAction', file, { range, context: { diagnostics: [] } })
    const [missing] = await editor.problems(hut)
    const [add] = await about(missing?.range)
    expect([add?.title, add?.edit?.documentChanges[0]?.edits?.[0]?.newText]).toEqual(['Add "beds"', 'beds: null\n'])
    // In every format, in its layout, and all at once.
    const warden = 'content/wardens/maren-holt.json'
    const own = '{\n  "name": "Maren Holt",\n  "region": "north-fell"\n}\n'
    editor.open(warden, own)
    const [first] = await editor.problems(warden)
    const whole = (await about(first?.range, warden)).find(({ title }) => title.startsWith('Add all'))
    expect(withEdits(own, whole?.edit?.documentChanges[0]?.edits ?? [])).toBe(
      '{\n  "name": "Maren Holt",\n  "region": "north-fell",\n  "role": null,\n  "since": null,\n  "languages": []\n}\n',
    )
    editor.close(warden)
    // Labels become records, with the configuration.
    const notice = 'content/huts/ledge.yaml'
    editor.open(notice, read(notice))
    const at = positionAt(read(notice), read(notice).indexOf('facilities'))
    const [records] = await about({ start: at, end: at }, notice)
    expect(records?.title).toBe('Make records of the labels in huts.facilities')
    const extracted = await editor.request<Action>('codeAction/resolve', records)
    const changed = extracted.edit?.documentChanges.map(({ textDocument, edits }) => [textDocument?.uri, edits?.length])
    expect(changed?.map(([uri]) => uri)).toContain(editor.uriOf('pantry.config.ts'))
    editor.close(notice)
    editor.close(hut)
  })

  test('does not answer what was cancelled', async () => {
    editor.open(hut, read(hut))
    editor.edit(hut, 0, 0, '# typed\n')
    await expect(editor.cancelled('hover', hut, { position: { line: 1, character: 2 } })).rejects.toThrow('Cancelled')
    editor.close(hut)
  })

  test('shows the structure of documents and finds entries', async () => {
    editor.open(hut, read(hut))
    const outline = await editor.ask<{ name: string; children: { name: string }[] }[]>('documentSymbol', hut)
    expect(outline.find(({ name }) => name === 'water')?.children.map(({ name }) => name)).toEqual(['source'])
    const found = await editor.request<{ name: string; containerName: string }[]>('workspace/symbol', {
      query: 'gblhut',
    })
    expect(found[0]).toMatchObject({ name: 'Gable Hut', containerName: 'huts/gable' })
    editor.close(hut)
    const letter = 'content/gear/layers.mdx'
    editor.open(letter, read(letter))
    const parts = await editor.ask<{ name: string }[]>('documentSymbol', letter)
    expect(parts.map(({ name }) => name)).toContain('title')
    editor.close(letter)
  })
})

describe('At every keystroke', () => {
  const configuration = pantry({
    collections: {
      regions: { files: 'regions.yaml', fields: { name: text() } },
      huts: {
        files: 'huts/*.{yaml,json,jsonc,toml}',
        fields: {
          name: text({ maxLength: 12 }),
          region: ref('regions'),
          beds: int({ minimum: 1, optional: true }),
          grade: choice(['easy', 'hard'], { default: 'easy' }),
          open: flag({ optional: true }),
          tags: list(text(), { optional: true }),
          water: group(
            { source: choice(['beck', 'tap']), near: list(ref('huts'), { optional: true }) },
            { optional: true },
          ),
          panels: list(block('note', 'map'), { optional: true }),
        },
      },
      notes: { files: 'notes/*.{md,mdx}', body: true, fields: { title: text(), hut: ref('huts', { optional: true }) } },
      stays: {
        files: 'stays.csv',
        fields: { hut: ref('huts'), beds: int(), seasons: list(choice(['dry', 'wet']), { optional: true }) },
      },
      visits: { files: 'visits.jsonl', fields: { hut: ref('huts'), note: text({ optional: true }) } },
    },
    blocks: { note: { fields: { tone: choice(['calm', 'warn']) } }, map: { fields: { region: ref('regions') } } },
  })
  const files: Readonly<Record<string, string>> = {
    'pantry.config.ts': '',
    'content/regions.yaml': 'north: { name: North }\nsouth: { name: "South" }\n',
    'content/huts/gable.yaml':
      '# A hut\nname: Gable\nregion: north\nbeds: 4\nwater:\n  source: beck\n  near: [crag]\npanels:\n  - block: note\n    tone: calm\n  - block: map\n    region: south\n',
    'content/huts/crag.json':
      '{\n  "name": "Crag",\n  "region": "south",\n  "tags": ["high", "old"],\n  "water": { "source": "tap" }\n}\n',
    'content/huts/ledge.jsonc': '{\n  // A hut\n  "name": "Ledge",\n  "region": "north",\n}\n',
    'content/huts/tarn.toml': 'name = "Tarn"\nregion = "north"\n\n[water]\nsource = "beck"\nnear = ["gable"]\n',
    'content/notes/one.md':
      '---\ntitle: One\nhut: gable\n---\n\n# One\n\nSee [two](two.mdx#two) and [the hut](../huts/gable.yaml).\n\n:::note{tone=calm}\nText\n:::\n',
    'content/notes/two.mdx': '---\ntitle: "Two"\n---\n\n## Two\n\n<Note tone="calm" />\n\nBack to [one](one.md#one).\n',
    'content/stays.csv': 'id,hut,beds,seasons\na,gable,2,dry; wet\nb,crag,1,\n',
    'content/visits.jsonl': '{ "id": "a", "hut": "gable" }\n{ "id": "b", "hut": "crag", "note": "Wind" }\n',
  }
  const documents = Object.keys(files).filter((file) => file.startsWith('content/'))
  const typed = fc.constantFrom(
    '',
    'a',
    ' ',
    '\n',
    ':',
    '-',
    '"',
    "'",
    '{',
    '}',
    '[',
    ']',
    ',',
    '#',
    '|',
    '=',
    '`',
    '\\',
    'é',
    '🥾',
    'region: ',
    '"x": ',
    '- ',
    '  ',
    '](',
    '<',
    ':::',
  )
  const openHost = (own: Readonly<Record<string, string>>) => (folder: string) =>
    createMemoryHost(folder === '/site' ? own : {}, configuration)
  const check = async (own: Readonly<Record<string, string>>) =>
    (
      await checkSite({
        host: createMemoryHost(own, configuration),
        configurationFile: 'pantry.config.ts',
        drafts: true,
      })
    ).diagnostics

  test('the problems are those of check on the same texts', async () => {
    const keystroke = fc.record({
      at: fc.double({ min: 0, max: 1, noNaN: true }),
      length: fc.constantFrom(0, 0, 0, 1, 4),
      text: typed,
    })
    await fc.assert(
      fc.asyncProperty(
        fc.constantFrom(...documents),
        fc.array(keystroke, { minLength: 1, maxLength: 8 }),
        async (file, keystrokes) => {
          const editor = await openEditor('/site', { openHost: openHost(files) })
          editor.open(file, files[file] ?? '')
          for (const { at, length, text: put } of keystrokes) {
            const now = editor.textOf(file)
            const start = wholeSign(now, Math.round(at * now.length))
            editor.edit(file, start, wholeSign(now, Math.min(now.length, start + length)), put)
            // Whatever is asked meanwhile is answered.
            const position = positionAt(editor.textOf(file), start)
            for (const method of [
              'completion',
              'hover',
              'definition',
              'prepareRename',
              'documentSymbol',
              'foldingRange',
            ])
              await editor.ask(method, file, { position })
          }
          const own = { ...files, [file]: editor.textOf(file) }
          const expected = await check(own)
          await editor.problems(file)
          await expect
            .poll(() => told(editor.published()))
            .toEqual(
              expected
                .map(
                  ({ file: of, code, span, severity }) =>
                    `${of} ${code} ${severity} ${JSON.stringify(rangeIn(own[of] ?? '', span))}`,
                )
                .sort(),
            )
          expect(await editor.stop()).toBe(0)
        },
      ),
      { numRuns: runs(24, 2_000) },
    )
  })

  test('every completion, accepted, gives a document with no more problems than before', async () => {
    const editor = await openEditor('/site', { openHost: openHost(files) })
    let tried = 0
    let accepted = 0
    // A value that is not there yet, the rest of a word, or another line like those beside it.
    const asked = fc.record({
      file: fc.constantFrom(...documents),
      at: fc.nat(),
      which: fc.nat(),
      how: fc.constantFrom('value' as const, 'rest' as const, 'line' as const),
    })
    await fc.assert(
      fc.asyncProperty(asked, async ({ file, at, which, how }) => {
        tried++
        const whole = files[file] ?? ''
        const places = [
          ...whole.matchAll(how === 'line' ? /^( *)[\w"-].*$/gm : /(?<=[:=,([] ?["']?)[\w-]+(?=["']?[\s,\])}])/g),
        ]
        const place = places[at % Math.max(1, places.length)]
        // What another block may have is another matter.
        if (!place || /block: $/.test(whole.slice(0, place.index))) return
        const start =
          how === 'line'
            ? place.index + place[0].length + 1 + (place[1] ?? '').length
            : place.index + (how === 'rest' ? 1 : 0)
        const lineEnd = place.index + place[0].length
        const source =
          how === 'line'
            ? `${whole.slice(0, lineEnd)}\n${place[1]}${whole.slice(lineEnd)}`
            : whole.slice(0, start) + whole.slice(lineEnd)
        editor.open(file, source)
        const { items } = await editor.ask<{ items: readonly ProtocolOffer[] }>('completion', file, {
          position: positionAt(source, start),
        })
        editor.close(file)
        const fitting = items.filter(
          ({ filterText }) =>
            how !== 'rest' || filterText.toLowerCase().includes(whole[place.index]?.toLowerCase() ?? ''),
        )
        const offer = fitting[which % Math.max(1, fitting.length)]
        const before = await check({ ...files, [file]: source })
        // What cannot be read shows more once it can.
        if (!offer || before.some(({ code }) => /syntax|unclosed|yaml-|json-|toml-/.test(code))) return
        accepted++
        const now = await check({ ...files, [file]: accept(source, offer) })
        const context = `${file} ${JSON.stringify(accept(source, offer).slice(Math.max(0, start - 40), start + 40))} ${offer.label}: ${now.map((one) => messageOf(one)).join('; ')}`
        expect([context, now.length]).toEqual([context, Math.min(now.length, before.length)])
      }),
      { numRuns: runs(120, 5_000) },
    )
    expectShare(accepted, tried, 1 / 8)
    await editor.stop()
  })
})

const accept = (source: string, { textEdit, additionalTextEdits = [] }: ProtocolOffer): string =>
  withEdits(source, [textEdit, ...additionalTextEdits])

/** The start of the sign that an offset is in. */
const wholeSign = (whole: string, offset: number): number =>
  /[\udc00-\udfff]/.test(whole[offset] ?? '') ? offset + 1 : offset

const rangeIn = (whole: string, [start, end]: readonly [number, number]) => {
  const index = createLineIndex(whole)
  const [from, to] = [index.at(start), index.at(end)]
  return {
    start: { line: from.line - 1, character: from.column - 1 },
    end: { line: to.line - 1, character: to.column - 1 },
  }
}

const told = (published: ReadonlyMap<string, readonly ProtocolProblem[]>): readonly string[] =>
  [...published]
    .flatMap(([file, own]) =>
      own.map(
        ({ code, severity, range }) =>
          `${file} ${code} ${severity === 1 ? 'error' : 'warning'} ${JSON.stringify(range)}`,
      ),
    )
    .sort()

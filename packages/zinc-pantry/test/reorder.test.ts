import { readdirSync } from 'node:fs'
import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { int, number, pantry, ref, text } from 'zinc-pantry'
import { changeSite, checkSite, createMemoryHost, openContent } from 'zinc-pantry/engine'
import { openCollection } from 'zinc-pantry/query'
import { undoChange } from '../dist/engine/change-journal.js'
import { makeFolder, REPOSITORY, runCommand, runs } from './helpers.ts'

const configurationFile = 'pantry.config.ts'
const fields = { title: text(), next: ref('pages', { optional: true }) }
const configuration = pantry({
  locales: ['en', 'no'],
  collections: {
    pages: { files: 'pages/**/*.md', body: true, numbered: true, locales: 'suffix', fields, address: '/{+slug}/' },
    steps: {
      files: 'steps.{yaml,csv,json,toml,jsonl}',
      id: 'key',
      perFile: 'many',
      fields: { key: text(), title: text() },
    },
    ranked: { files: 'ranked/*.yaml', order: 'rank', fields: { title: text(), rank: int({ optional: true }) } },
    fallen: { files: 'fallen/*.md', order: '-rank', fields: { title: text(), rank: number() } },
    huts: { files: 'huts/*.yaml', fields: { title: text() } },
    named: { files: 'named/*.yaml', order: 'title', fields: { title: text() } },
  },
} as never)

type Host = ReturnType<typeof createMemoryHost>

async function idsOf(host: Host, collection: string): Promise<readonly string[]> {
  const { site } = await openContent({ host, configurationFile })
  const found = await openCollection(site as never, collection).toArray()
  return found.map((one) => (one as { readonly id: string }).id)
}

const textsOf = (host: Host): Readonly<Record<string, string>> =>
  Object.fromEntries(
    [...host.files]
      .filter(([file]) => file.startsWith('content/'))
      .map(([file, text]) => [file, typeof text === 'string' ? text : new TextDecoder().decode(text)]),
  )

const IDS = ['a', 'b', 'c', 'd', 'e']

/** Writes entries in an order, each collection in its own way. */
const WAYS: Readonly<Record<string, (numbers: readonly number[]) => Readonly<Record<string, string>>>> = {
  pages: (numbers) => ({
    ...Object.fromEntries(
      IDS.flatMap((id, at) => {
        const name = `content/pages/${String(numbers[at]).padStart(2, '0')}${at % 2 ? '_' : '-'}${id}`
        const body = `---\ntitle: ${id}\nnext: a\n---\n[b](${'bcdea'[at]}.md)\n`
        return [
          [`${name}.md`, body],
          ...(at % 2 ? [[`${name}.no.md`, body]] : [[`${name}/1-inner.md`, '---\ntitle: Inner\n---\n']]),
        ]
      }),
    ),
    'content/pages/last.md': '---\ntitle: Last\n---\n[a](a.md) [c](./c/inner.md)\n',
  }),
  ranked: (numbers) =>
    Object.fromEntries(
      IDS.map((id, at) => [`content/ranked/${id}.yaml`, `# of ${id}\ntitle: ${id}\nrank: ${numbers[at]} # here\n`]),
    ),
  fallen: (numbers) =>
    Object.fromEntries(
      IDS.toReversed().map((id, at) => [
        `content/fallen/${id}.md`,
        `---\ntitle: "${id}"\nrank: ${Number(numbers[at]) / 2}\n---\n`,
      ]),
    ),
}
const RECORDS: Readonly<Record<string, string>> = {
  yaml: `# all\n${IDS.map((id) => `# of ${id}\n- key: ${id}\n  title: T # ${id}\n`).join('\n')}`,
  csv: `key,title\n${IDS.map((id) => `${id},"T, ${id}"\n`).join('')}`,
  json: `[\n${IDS.map((id) => `  { "key": "${id}", "title": "T" }`).join(',\n')}\n]\n`,
  jsonl: IDS.map((id) => `{ "key": "${id}", "title": "T" }\n`).join(''),
}

const numbers = fc
  .array(fc.integer({ min: 1, max: 12 }), { minLength: 5, maxLength: 5 })
  .map((gaps) => gaps.map((_, at) => gaps.slice(0, at + 1).reduce((sum, gap) => sum + gap)))
const steady = fc.constantFrom(1, 10).map((step) => IDS.map((_, at) => (at + 1) * step))
const site = fc.oneof(
  fc.tuple(fc.constantFrom(...Object.keys(WAYS)), fc.oneof(numbers, steady)).map(([collection, own]) => ({
    collection,
    files: WAYS[collection]?.(own) ?? {},
  })),
  fc.constantFrom(...Object.keys(RECORDS)).map((ending) => ({
    collection: 'steps',
    files: { [`content/steps.${ending}`]: RECORDS[ending] ?? '' },
  })),
)
const moves = fc.array(
  fc.record({ id: fc.nat(4), neighbour: fc.nat(4), side: fc.constantFrom('before' as const, 'after' as const) }),
  { minLength: 1, maxLength: 5 },
)

describe('An entry is put elsewhere in the order of its collection', () => {
  test('as an array has it, with every link, and what it wrote is undone to the byte', async () => {
    await fc.assert(
      fc.asyncProperty(site, moves, async ({ collection, files }, steps) => {
        const host = createMemoryHost(files, configuration)
        const isOwn = (id: string): boolean => IDS.includes(id)
        let wanted = (await idsOf(host, collection)).filter(isOwn)
        expect(wanted).toEqual(IDS)
        for (const { id: at, neighbour: other, side } of steps) {
          const [id, neighbour] = [IDS[at] as string, IDS[other] as string]
          const before = textsOf(host)
          const request = { kind: 'move', target: `${collection}/${id}`, [side]: neighbour } as const
          const answer = await changeSite({ host, configurationFile }, request)
          if (id === neighbour) {
            expect(answer).toHaveProperty('refused')
            continue
          }
          if ('refused' in answer)
            throw new Error(`${answer.refused} ${JSON.stringify([Object.keys(before), request])}`)
          expect(answer.change.attention).toEqual([])
          const others = wanted.filter((one) => one !== id)
          others.splice(others.indexOf(neighbour) + (side === 'after' ? 1 : 0), 0, id)
          wanted = others
          const now = await idsOf(host, collection)
          expect(now.filter(isOwn)).toEqual(wanted)
          expect(now.toSorted()).toEqual((await idsOf(createMemoryHost(files, configuration), collection)).toSorted())
          const { diagnostics } = await checkSite({ host, configurationFile })
          expect(diagnostics.filter(({ code }) => !/^(?:config-collection-empty|locale-missing)$/.test(code))).toEqual(
            [],
          )
          // Nothing of what was written is lost but the numbers.
          const letters = (texts: Readonly<Record<string, string>>): string =>
            [
              ...Object.values(texts)
                .join('')
                .replace(/\d|\.\d/g, ''),
            ]
              .sort()
              .join('')
          expect(letters(textsOf(host))).toBe(letters(before))
          if (answer.isWritten) {
            const after = textsOf(host)
            await undoChange(host)
            expect(textsOf(host)).toEqual(before)
            await changeSite({ host, configurationFile }, request)
            expect(textsOf(host)).toEqual(after)
          }
        }
      }),
      { numRuns: runs(60, 2_000) },
    )
  })

  test.each([
    [[1, 2, 3, 4, 5], 'd', 'before', 'b', [1, 3, 4, 2, 5]],
    [[10, 20, 30, 40, 50], 'd', 'before', 'b', [10, 20, 30, 15, 50]],
    [[10, 20, 30, 40, 50], 'a', 'after', 'e', [60, 20, 30, 40, 50]],
    [[10, 20, 30, 40, 50], 'e', 'before', 'a', [10, 20, 30, 40, 5]],
    [[1, 2, 3, 4, 5], 'e', 'before', 'a', [2, 3, 4, 5, 1]],
    [[7, 7, 7, 7, 7], 'e', 'before', 'b', [1, 3, 4, 5, 2]],
  ] as const)('changes the fewest numbers: %j, %s %s %s', async (own, id, side, neighbour, wanted) => {
    const host = createMemoryHost(WAYS.ranked?.(own) ?? {}, configuration)
    await changeSite({ host, configurationFile }, { kind: 'move', target: `ranked/${id}`, [side]: neighbour })
    const ranks = IDS.map((one) => Number(/rank: (\d+)/.exec(textsOf(host)[`content/ranked/${one}.yaml`] ?? '')?.[1]))
    expect(ranks).toEqual(wanted)
  })

  test.each([
    ['huts/a', 'b', 'Nothing says the order of huts: it is that of the names of its files'],
    ['named/a', 'b', 'The order of named is by title'],
    ['pages/a/inner', 'b', 'a/inner and b stand in different folders'],
    ['pages/a', 'lst', 'There is no entry "lst" in pages'],
  ])('or it is said why it cannot: %s before %s', async (target, before, refused) => {
    const more = ['huts', 'named'].flatMap((name) => IDS.map((id) => [`content/${name}/${id}.yaml`, `title: ${id}\n`]))
    const host = createMemoryHost({ ...WAYS.pages?.([1, 2, 3, 4, 5]), ...Object.fromEntries(more) }, configuration)
    const answer = await changeSite({ host, configurationFile }, { kind: 'move', target, before })
    expect(answer).toMatchObject({ refused })
    expect(answer).toHaveProperty('help')
  })

  test('by the command, with folders that go along and leave none behind', async () => {
    const root = makeFolder({}, `${REPOSITORY}/examples/fellmark`)
    const moved = await runCommand(root, ['move', 'handbook/weather', '--before', 'handbook/paths'])
    expect(moved.stdout).toContain(
      'content/handbook/02-paths/01-signs.md becomes content/handbook/10-paths/01-signs.md',
    )
    expect(readdirSync(`${root}/content/handbook`)).not.toContain('02-paths')
    expect((await runCommand(root, ['undo'])).code).toBe(0)
    expect(readdirSync(`${root}/content/handbook`)).not.toContain('10-paths')
    expect((await runCommand(root, ['move', 'handbook/weather', '--before', 'a', '--after', 'b'])).stderr).toContain(
      'It is not said where that is to be',
    )
  })
})

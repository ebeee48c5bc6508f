import { execFileSync } from 'node:child_process'
import { mkdirSync, symlinkSync } from 'node:fs'
import { join } from 'node:path'
import * as v from 'valibot'
import { describe, expect, expectTypeOf, test } from 'vitest'
import { type EntryOf, group, list, pantry, text } from 'zinc-pantry'
import { buildSite, createNodeHost } from 'zinc-pantry/engine'
import { openCollection } from 'zinc-pantry/query'
import { z } from 'zod'
import { makeFolder, openFiles, REPOSITORY, textOf } from './helpers.ts'

const site = pantry({
  collections: {
    things: {
      files: '*.yaml',
      fields: {
        title: text(),
        rating: z.number().min(1).max(5),
        contact: v.optional(v.pipe(v.string(), v.email())),
        size: z.object({ width: z.int(), parts: z.array(z.string()) }),
        codes: list(z.string().regex(/^[A-Z]+$/)),
        inner: group({ when: z.coerce.date() }),
      },
    },
  },
})

describe('Validators of other libraries', () => {
  test('take part like fields, in values and types', async () => {
    const source = 'title: A\nrating: 4\nsize: { width: 2, parts: [x] }\ncodes: [AB]\ninner: { when: 2026-05-01 }\n'
    const opened = await openFiles({ 'a.yaml': source }, site)
    expect(textOf(opened)).toBe('')
    const [entry] = await openCollection<Record<string, unknown>, unknown, string>(opened.site, 'things').toArray()
    expect(entry).toMatchObject({
      rating: 4,
      contact: null,
      size: { width: 2, parts: ['x'] },
      codes: ['AB'],
      inner: { when: '2026-05-01T00:00:00.000Z' },
    })
    type Thing = EntryOf<typeof site, 'things'>
    expectTypeOf<Thing['rating']>().toEqualTypeOf<number>()
    expectTypeOf<Thing['codes']>().toEqualTypeOf<readonly string[]>()
    expectTypeOf<Thing['size']['parts']>().toExtend<readonly string[]>()
  })

  test('have their issues placed', async () => {
    const source =
      'title: A\nrating: 9\ncontact: nobody\nsize:\n  width: 2.5\n  parts: [x, 3]\ncodes: [AB, cd]\ninner: { when: never }\n'
    const opened = await openFiles({ 'a.yaml': source }, site)
    const places = opened.diagnostics.map(({ code, span }) => `${code} ${source.slice(...span)}`)
    expect(places).toEqual([
      'validator-issue 9',
      'validator-issue nobody',
      'validator-issue 2.5',
      'validator-issue 3',
      'validator-issue cd',
      'validator-issue never',
    ])
  })
})

test('What they give has its type in the generated module, and can be asked for', async () => {
  const root = makeFolder({
    'package.json': '{ "type": "module", "imports": { "#pantry": "./generated/pantry/index.js" } }',
    'tsconfig.json':
      '{ "compilerOptions": { "strict": true, "noEmit": true, "skipLibCheck": true, "module": "nodenext", "target": "es2023", "types": [] }, "include": ["*.ts"] }',
    'pantry.config.ts': `
      import { block, either, group, list, map, pantry, text, variant } from 'zinc-pantry'
      import { z } from 'zod'
      export default pantry({
        blocks: { score: { fields: { points: z.number() } } },
        collections: {
          things: {
            files: '*.json',
            fields: {
              rating: z.number(), when: z.coerce.date(), size: z.object({ width: z.int(), note: z.string().optional() }),
              codes: list(z.string()), inner: group({ flag: z.boolean() }, { optional: true }), map: map(z.enum(['a', 'b'])),
              either: either([text(), group({ at: z.number() })]), blocks: list(block('score')),
              kind: variant({ one: { own: z.literal('own') }, two: {} }),
            },
            derive: { twice: { field: z.number(), from: ({ rating }) => rating * 2 } },
          },
        },
      })`,
    'content/a.json':
      '{"rating":4,"when":"2026-05-01","size":{"width":2},"codes":["x"],"map":{"k":"a"},"either":{"at":1},"blocks":[{"block":"score","points":3}],"kind":"one","own":"own"}',
    'probe.ts': `
      import { things } from '#pantry'
      const [thing] = await things.where((one) => one.rating.atLeast(3).and(one.twice.is(8), one.codes.includes('x'))).toArray()
      if (!thing) throw new Error('nothing was found')
      const rating: number = thing.rating
      const when: string = thing.when
      const size: { readonly width: number; readonly note?: string } = thing.size
      const codes: readonly string[] = thing.codes
      const flag: boolean | null = thing.inner && thing.inner.flag
      const map: 'a' | 'b' | undefined = thing.map.k
      const at: number = typeof thing.either === 'string' ? 0 : thing.either.at
      const points: number | undefined = thing.blocks[0]?.points
      const own: 'own' = thing.kind === 'one' ? thing.own : 'own'
      // @ts-expect-error: a rating is a number
      things.where((one) => one.rating.is('four'))
      export { at, codes, flag, map, own, points, rating, size, when }
    `,
  })
  mkdirSync(join(root, 'node_modules'))
  for (const name of ['zinc-pantry', 'zod'])
    symlinkSync(join(REPOSITORY, 'node_modules', name), join(root, 'node_modules', name))
  const { diagnostics, output } = await buildSite({ host: createNodeHost(root), configurationFile: 'pantry.config.ts' })
  expect(diagnostics).toEqual([])
  expect(output).toBeDefined()
  let said = ''
  try {
    execFileSync(process.execPath, [join(REPOSITORY, 'node_modules/typescript/bin/tsc'), '-p', root], {
      encoding: 'utf8',
    })
  } catch (error) {
    said = (error as { readonly stdout: string }).stdout
  }
  expect(said).toBe('')
  const { things } = await import(join(root, 'generated/pantry/index.js'))
  const found = async (build: (one: never) => unknown) => (await things.where(build).toArray()).length
  expect(await found((one: { rating: { atLeast(n: number): unknown } }) => one.rating.atLeast(4))).toBe(1)
  expect(await found((one: { rating: { above(n: number): unknown } }) => one.rating.above(4))).toBe(0)
})

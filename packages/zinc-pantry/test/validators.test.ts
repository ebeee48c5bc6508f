import * as v from 'valibot'
import { describe, expect, expectTypeOf, test } from 'vitest'
import { type EntryOf, group, list, pantry, text } from 'zinc-pantry'
import { openCollection } from 'zinc-pantry/query'
import { z } from 'zod'
import { openFiles, textOf } from './helpers.ts'

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

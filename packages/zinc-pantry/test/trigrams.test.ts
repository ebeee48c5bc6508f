import fc from 'fast-check'
import { beforeAll, describe, expect, test } from 'vitest'
import { list, pantry, text } from 'zinc-pantry'
import { type Collection, type ListHandle, openCollection, type TextHandle } from 'zinc-pantry/query'
import { createRandom, openFiles, runs } from './helpers.ts'

interface Hut {
  readonly id: string
  readonly name: string
  readonly names: readonly string[]
}
interface HutFields {
  readonly name: TextHandle
  readonly names: ListHandle<TextHandle>
}

const random = createRandom()
const PARTS = ['bar', 'bel', 'cam', 'fen', 'Ås', '小屋', '👣', ' ', 'aa', '-']
const word = (): string => Array.from({ length: 1 + random(5) }, () => PARTS[random(PARTS.length)]).join('')
const COUNT = 12_000
const huts: Hut[] = Array.from({ length: COUNT }, (_, at) => ({
  id: `h${at}`,
  name: `${word()}${random(9000)}${word()}`,
  names: Array.from({ length: random(4) }, () => `${word()}${random(5000)}`),
}))
let collection: Collection<Hut, HutFields, string>
beforeAll(async () => {
  const trigrams = ['name', 'names'].map((field) => ({ field, trigrams: true }))
  const fields = { name: text(), names: list(text()) }
  const site = pantry({
    severities: { 'label-near': 'off' },
    collections: { huts: { files: 'huts.json', indexes: trigrams, fields } },
  })
  const opened = await openFiles({ 'huts.json': JSON.stringify(huts) }, site)
  expect(opened.diagnostics).toEqual([])
  collection = openCollection(opened.site, 'huts')
})

describe('Texts in texts, by all three letters in a row', () => {
  test('are those that a filter finds, and no text is read', async () => {
    // Pieces of texts, and of one behind another, which none has.
    const piece = fc
      .tuple(
        fc.nat(COUNT - 1),
        fc.nat(20),
        fc.integer({ min: 1, max: 14 }),
        fc.constantFrom<'name' | 'names'>('name', 'names'),
      )
      .map(([at, start, length, field]) => {
        const { name, names } = huts[at] as Hut
        return (field === 'name' ? name : names.join('')).slice(start, start + length)
      })
    await fc.assert(
      fc.asyncProperty(
        fc.oneof(piece, fc.string({ maxLength: 6 }), fc.constantFrom('camp', 'aaaa', 'aaaaa')),
        async (wanted) => {
          const own = collection.where((hut) => hut.name.includes(wanted))
          expect(await own.count()).toBe(huts.filter(({ name }) => name.includes(wanted)).length)
          const listed = collection.where((hut) => hut.names.some((name) => name.includes(wanted)))
          const expected = huts.flatMap(({ id, names }) => (names.some((name) => name.includes(wanted)) ? [id] : []))
          expect((await listed.toArray()).map(({ id }) => id)).toEqual(expected)
          const others = collection.where((hut) => hut.name.includes(wanted).not())
          expect(await others.count()).toBe(huts.filter(({ name }) => !name.includes(wanted)).length)
          if (wanted.length >= 3) expect(await own.limit(1).plan()).toMatchObject({ examined: 0, isScan: false })
        },
      ),
      { numRuns: runs(60, 1_500) },
    )
  })
})

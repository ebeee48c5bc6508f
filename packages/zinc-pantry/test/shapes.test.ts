import { setFlagsFromString } from 'node:v8'
import { expect, test } from 'vitest'
import { int, list, pantry, ref, reverse, text } from 'zinc-pantry'
import { createMemoryHost } from 'zinc-pantry/engine'
import { examineSite } from '../dist/engine/run-site.js'

/** True for objects of one hidden class: V8 keeps one description for all of them, and code for them is fast. */
function createComparison(): (one: object, other: object) => boolean {
  setFlagsFromString('--allow-natives-syntax')
  const compare = new Function('one', 'other', 'return %HaveSameMap(one, other)') as (a: object, b: object) => boolean
  setFlagsFromString('--no-allow-natives-syntax')
  return compare
}

test('Entries, their values and their rows share their hidden classes through all stages', async () => {
  const haveSameClass = createComparison()
  const configuration = pantry({
    collections: {
      huts: {
        files: 'huts.json',
        fields: { name: text(), trails: reverse('trails', 'legs') },
        derive: { size: { field: int(), from: (hut) => hut.name.length } },
      },
      // What is computed makes its entries anew; these stay as they were linked.
      notes: { files: 'notes.csv', fields: { title: text(), legs: list(ref('huts')) } },
      trails: {
        files: 'trails.csv',
        address: '/trails/{slug}/',
        fields: { title: text(), legs: list(ref('huts')) },
      },
    },
  })
  const huts = Array.from({ length: 400 }, (_, at) => ({ id: `h${at}`, name: `Hut number ${at}` }))
  const rows = Array.from({ length: 3000 }, (_, at) => `t${at},Trail ${at},h${at % 400}; h${(at * 7) % 400}`)

  const files = {
    'content/huts.json': JSON.stringify(huts),
    'content/notes.csv': ['id,title,legs', ...rows].join('\n'),
    'content/trails.csv': ['id,title,legs', ...rows].join('\n'),
  }
  const host = createMemoryHost(files, configuration)
  const site = await examineSite({ host, configurationFile: 'pantry.config.ts', cache: false })
  expect(site.report.diagnostics.filter(({ severity }) => severity === 'error')).toEqual([])
  for (const { collection, entries } of site.checked.collections) {
    const stored = site.rendering.storedRows({ collection, entries }).rows()
    // Those of the first may still be on their way to the class of all others.
    for (const at of [200, entries.length - 2]) {
      const [one, other] = [entries[at], entries[at + 1]]
      if (!one?.data || !other?.data) throw new Error('There is no such entry')
      const pairs: readonly (readonly [name: string, one: object | undefined, other: object | undefined])[] = [
        ['entry', one, other],
        ['values', one.data, other.data],
        ['source', one.source, other.source],
        ['reference', one.references[0], other.references[0]],
        ['link', one.links[0], other.links[0]],
        ['row', stored.at(at), stored.at(at + 1)],
      ]
      for (const [name, a, b] of pairs)
        if (a && b) expect([collection.name, at, name, haveSameClass(a, b)]).toEqual([collection.name, at, name, true])
    }
  }
})

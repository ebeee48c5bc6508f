import fc from 'fast-check'
import { expect, test } from 'vitest'
import { list, pantry, text } from 'zinc-pantry'
import { checkSite, createMemoryHost } from 'zinc-pantry/engine'
import { runs } from './helpers.ts'

const configuration = pantry({
  collections: { huts: { files: 'huts.json', perFile: 'many', fields: { kind: text(), tags: list(text()) } } },
})

/** A label as nobody tells it from another. */
const bare = (label: string): string => {
  const joined = [...label.normalize('NFD').toLowerCase()].filter((sign) => !/[\p{M}\s_-]/u.test(sign)).join('')
  return /^..+[^s]s$/.test(joined) ? joined.slice(0, -1) : joined
}

/** Groups of labels of one field that are written in several ways, each with its uses: all are compared with all. */
function findNear(labels: readonly string[]): string[][] {
  const groups: string[][] = []
  for (const label of new Set(labels)) {
    const own = groups.find(([first = '']) => bare(first) === bare(label))
    if (own) own.push(label)
    else groups.push([label])
  }
  const uses = (label: string): number => labels.filter((one) => one === label).length
  return groups.filter(({ length }) => length > 1).map((own) => own.map((one) => `${one} ${uses(one)}`).sort())
}

const label = fc.oneof(
  fc.constantFrom(
    'Snow',
    'snow',
    'Snows',
    'snów',
    'Open all year',
    'open-all-year',
    'Open  All Years',
    'glass',
    'glas',
  ),
  fc.string({ minLength: 1, maxLength: 12 }).filter((one) => /\p{L}/u.test(one) && one.trim() === one),
)
const hut = fc.record({ kind: label, tags: fc.array(label, { maxLength: 4 }) })

test('Labels that differ in their writing only are those that a look at all pairs finds', async () => {
  await fc.assert(
    fc.asyncProperty(fc.array(hut, { minLength: 1, maxLength: 60 }), async (huts) => {
      const json = JSON.stringify(huts.map((one, at) => ({ id: `hut-${at}`, ...one })))
      const host = createMemoryHost({ 'content/huts.json': json }, configuration)
      const { diagnostics } = await checkSite({ host, configurationFile: 'pantry.config.ts' })
      const told = diagnostics.map(({ code, field, parameters }) => {
        const { labels } = parameters as { labels: readonly { readonly text: string; readonly count: number }[] }
        return [code, field, labels.map((one) => `${one.text} ${one.count}`).sort()]
      })
      const kinds = huts.map(({ kind }) => kind)
      // A text alone in its field is a label where it is used again.
      const near = findNear(kinds).filter((own) => own.some((one) => !one.endsWith(' 1')))
      const expected = [
        ...near.map((own) => ['label-near', 'kind', own]),
        ...findNear(huts.flatMap(({ tags }) => tags)).map((own) => ['label-near', 'tags', own]),
      ]
      expect(new Set(told.map((one) => JSON.stringify(one)))).toEqual(
        new Set(expected.map((one) => JSON.stringify(one))),
      )
    }),
    { numRuns: runs(100, 5_000) },
  )
})

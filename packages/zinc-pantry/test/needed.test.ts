import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { int, list, pantry, ref, reverse, text } from 'zinc-pantry'
import { createMemoryHost, createNodeHost, openContent } from 'zinc-pantry/engine'
import { runQuery, type Site } from 'zinc-pantry/query'
import { REPOSITORY, runs } from './helpers.ts'

const entriesOf = async (site: Site, collection: string) => (await runQuery(site, { collection })).entries

describe('A question to some collections', () => {
  test('finds in each collection of a whole site what there is when all is read', async () => {
    const options = {
      host: createNodeHost(`${REPOSITORY}examples/fellmark`),
      configurationFile: 'pantry.config.ts',
      cache: false,
    }
    const { site } = await openContent(options)
    let leftOut = 0
    for (const name of site.shapes.keys()) {
      const { site: own } = await openContent({ ...options, only: [name] })
      leftOut += site.shapes.size - own.shapes.size
      expect([name, await entriesOf(own, name)]).toEqual([name, await entriesOf(site, name)])
    }
    expect(leftOut).toBeGreaterThan(20)
  })

  test('reads what it needs, and no file of others', async () => {
    const names = ['a', 'b', 'c', 'd'] as const
    type Name = (typeof names)[number]
    const leads = fc.record(
      Object.fromEntries(
        names.map((name) => [
          name,
          fc.record({
            to: fc.uniqueArray(fc.constantFrom(...names)),
            from: fc.option(fc.constantFrom(...names)),
            makes: fc.boolean(),
          }),
        ]),
      ) as Record<Name, fc.Arbitrary<{ to: Name[]; from: Name | null; makes: boolean }>>,
    )
    await fc.assert(
      fc.asyncProperty(leads, fc.constantFrom(...names), async (all, asked) => {
        // What is read backwards must be referred to by the other one.
        const backwards = (name: Name): Name | undefined => {
          const { from } = all[name]
          return from !== null && all[from].to.includes(name) ? from : undefined
        }
        const collections = Object.fromEntries(
          names.map((name) => {
            const source = backwards(name)
            const fields = {
              name: text(),
              size: int({ optional: true }),
              ...Object.fromEntries(all[name].to.map((to) => [`to${to}`, list(ref(to), { default: [] })])),
              ...(source ? { back: reverse(source, `to${name}`) } : {}),
            }
            return [name, { files: `${name}.json`, ...(all[name].makes ? { createFrom: 'name' } : {}), fields }]
          }),
        )
        const files = Object.fromEntries(
          names.map((name) => {
            const to = Object.fromEntries(
              all[name].to.map((one) => [`to${one}`, all[one].makes ? [`${one}1`, 'new'] : [`${one}1`]]),
            )
            return [`content/${name}.json`, JSON.stringify([{ id: `${name}1`, name: `${name}1`, ...to }])]
          }),
        )
        const read = new Set<string>()
        const open = async (only?: readonly string[]) => {
          const host = createMemoryHost(files, pantry({ collections } as never))
          const watched = {
            ...host,
            read(path: string) {
              read.add(path)
              return host.read(path)
            },
          }
          read.clear()
          const opened = await openContent({
            host: watched,
            configurationFile: 'pantry.config.ts',
            ...(only ? { only } : {}),
          })
          expect(opened.diagnostics.filter(({ severity }) => severity === 'error')).toEqual([])
          return opened.site
        }
        const expected = await entriesOf(await open(), asked)
        expect(await entriesOf(await open([asked]), asked)).toEqual(expected)
        const needed = new Set<string>()
        const need = (name: Name): void => {
          if (needed.has(name)) return
          needed.add(name)
          const source = backwards(name)
          for (const to of all[name].to) need(to)
          if (source) need(source)
          if (all[name].makes) for (const other of names) if (all[other].to.includes(name)) need(other)
        }
        need(asked)
        const content = [...read].filter((path) => path.startsWith('content/'))
        expect(content.toSorted()).toEqual([...needed].map((name) => `content/${name}.json`).toSorted())
      }),
      { numRuns: runs(60, 1_000) },
    )
  })
})

import { createServer, type Server } from 'node:http'
import { join } from 'node:path'
import { pathToFileURL } from 'node:url'
import { gzipSync } from 'node:zlib'
import type { Browser } from 'playwright-core'
import { type OutputChunk, rolldown } from 'rolldown'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { REPOSITORY, runCommand } from './helpers.ts'
import { launchBrowser } from './launch-browser.ts'

const DEMO = join(REPOSITORY, 'examples/fellmark')

/** What a page asks; it runs in Node and in the browser alike. */
const QUESTION = `
import { gear, huts, trails } from '#pantry'
import { renderHtml } from 'zinc-pantry/render'
export const answer = async () => ({
  walks: (await trails.where((trail) => trail.legs.some((leg) => leg.hut.beds.atLeast(20))).sort((trail) => trail.distance.descending()).limit(3).toArray()).map(({ title }) => title),
  hut: (await huts.byId('gable')).name,
  layers: await renderHtml(await gear.loadBody('layers'), { blocks: { callout: ({ title, children }) => '<aside>' + title + children + '</aside>' } }),
  found: (await trails.search('rigde').hits({ limit: 1 })).map(({ entry, matches }) => [entry.id, matches[0].pieces.filter(({ isMatch }) => isMatch)[0].text]),
  facets: await trails.where((trail) => trail.grade.is('hard')).facets((trail) => ({ grade: trail.grade })),
  steps: (await trails.where((trail) => trail.region.name.is('Tarnside')).plan()).steps,
})
`

const PAGE = join(DEMO, 'page.js')

/** Makes the files that a page would load. */
async function bundle(contents: string): Promise<OutputChunk[]> {
  const bundler = await rolldown({
    input: { page: PAGE },
    platform: 'browser',
    logLevel: 'silent',
    plugins: [
      {
        name: 'page',
        load: (id) => (id === PAGE ? contents : undefined),
        resolveId: (id) => (id === PAGE ? id : undefined),
      },
    ],
  })
  const { output } = await bundler.generate({
    format: 'esm',
    minify: true,
    entryFileNames: '[name].js',
    chunkFileNames: '[name]-[hash].js',
  })
  return output.filter((file) => file.type === 'chunk')
}

describe('The query runtime', () => {
  test('is one file of at most 14 KB, gzipped, and only itself; what is loaded later asks for nothing else of it', async () => {
    const source = "export { openCollection, openSingle, openSite } from 'zinc-pantry/query'"
    const all = (await bundle(source)).map(({ fileName: name, code, moduleIds, imports: needs }) => ({
      name,
      code,
      needs,
      inputs: moduleIds.filter((id) => id !== PAGE),
    }))
    // The engine of patterns is large, and nobody loads it who does not ask for one.
    const files = all.filter(({ name }) => !name.startsWith('linear-matcher'))
    expect(all.length - files.length).toBe(1)
    const [first, ...others] = [...files].sort((a, b) => b.code.length - a.code.length)
    expect(first).toMatchObject({ name: 'page.js', needs: [] })
    expect(gzipSync(first?.code ?? '').length).toBeLessThanOrEqual(14 * 1024)
    expect(others.filter(({ needs }) => needs.includes('page.js'))).toEqual([])
    // Facets, pages, chosen fields and the like are loaded with the first use, each by itself.
    const search = /query\/(?:search|search-index|words|synonyms|stemmers(?:\/.+)?|hits|completions)\.js$/
    const later = others.filter(({ inputs }) => inputs.length > 0 && !inputs.some((path) => search.test(path)))
    expect(later.length).toBe(22)
    for (const { code, needs } of later) {
      expect(needs).toEqual([])
      expect(gzipSync(code).length).toBeLessThanOrEqual(1.5 * 1024)
    }
    const inputs = files.flatMap((file) => file.inputs)
    expect(inputs.filter((path) => !/zinc-pantry\/dist\/(?:query|values)\//.test(path))).toEqual([])
    expect(files.map(({ code }) => code).join()).not.toMatch(/\beval\(|new Function|node:/)
  })

  test('The core and the readers need no Node', async () => {
    const files = await bundle(
      "export * from 'zinc-pantry'; export * from 'zinc-pantry/read'; export * from 'zinc-pantry/query'",
    )
    const inputs = files.flatMap(({ imports, dynamicImports, moduleIds }) => [
      ...imports,
      ...dynamicImports,
      ...moduleIds,
    ])
    expect(inputs.filter((path) => path.startsWith('node:') || path.includes('/host/'))).toEqual([])
  })
})

describe('In a browser', () => {
  let browser: Browser
  let server: Server
  let address: string

  beforeAll(async () => {
    await runCommand(DEMO, ['build'])
    const files = new Map((await bundle(QUESTION)).map(({ fileName, code }) => [`/${fileName}`, code]))
    server = createServer((request, response) => {
      const content = files.get(request.url ?? '')
      response.setHeader('content-type', content ? 'text/javascript' : 'text/html')
      response.end(
        content ??
          `<!doctype html><title>t</title><script type="module">import { answer } from '/page.js'; window.answer = answer</script>`,
      )
    })
    await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
    address = `http://127.0.0.1:${(server.address() as { port: number }).port}/`
    browser = await launchBrowser()
  })
  afterAll(async () => {
    await browser?.close()
    server?.close()
  })

  test('the same queries give the same answers as in Node', async () => {
    const page = await browser.newPage()
    const errors: unknown[] = []
    page.on('pageerror', (error) => errors.push(error))
    await page.goto(address)
    await page.waitForFunction('window.answer')
    const seen = await page.evaluate('window.answer()')
    const { trails, huts } = await import(pathToFileURL(join(DEMO, 'generated/pantry/index.js')).href)
    const hard = trails.where((trail: { region: { name: { is(name: string): never } } }) =>
      trail.region.name.is('Tarnside'),
    )
    expect(seen).toEqual({
      walks: ['Forty-One Tarns', 'The High Traverse', 'Over the Scarps'],
      hut: (await huts.byId('gable')).name,
      layers: expect.stringMatching(/weigh 780 grams.*<aside>Cotton.*href="\/trails\/north-fell\/winter-way\/"/s),
      found: [['north-fell/stony-door', 'ridge']],
      facets: { grade: expect.arrayContaining([{ value: 'hard', count: 4 }]) },
      steps: (await hard.plan()).steps,
    })
    expect(errors).toEqual([])
  })
})

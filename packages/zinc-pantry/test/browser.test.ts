import { createServer, type Server } from 'node:http'
import { basename, join } from 'node:path'
import { pathToFileURL } from 'node:url'
import { gzipSync } from 'node:zlib'
import { type BuildResult, build } from 'esbuild'
import type { Browser } from 'playwright-core'
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

async function bundle(contents: string, options = {}): Promise<BuildResult<{ write: false; metafile: true }>> {
  const stdin = { contents, resolveDir: DEMO, sourcefile: 'page.js' }
  return build({
    stdin,
    bundle: true,
    format: 'esm',
    platform: 'browser',
    minify: true,
    write: false,
    metafile: true,
    logLevel: 'silent',
    ...options,
  })
}

describe('The query runtime', () => {
  test('is one file of at most 10.75 KB, gzipped, and only itself; what is loaded later asks for nothing else of it', async () => {
    const source = "export { openCollection, openSingle, openSite } from 'zinc-pantry/query'"
    const { outputFiles, metafile } = await bundle(source, { splitting: true, outdir: '/out' })
    const codes = new Map(outputFiles.map(({ path, contents }) => [basename(path), Buffer.from(contents)]))
    const files = Object.entries(metafile.outputs).map(([path, { imports, inputs }]) => ({
      name: basename(path),
      code: codes.get(basename(path)) ?? Buffer.of(),
      inputs: Object.keys(inputs),
      needs: imports.filter(({ kind }) => kind === 'import-statement').map((one) => basename(one.path)),
    }))
    const [first, ...others] = [...files].sort((a, b) => b.code.length - a.code.length)
    expect(first).toMatchObject({ name: 'stdin.js', needs: [] })
    expect(gzipSync(first?.code ?? '').length).toBeLessThanOrEqual(10.75 * 1024)
    expect(others.filter(({ needs }) => needs.includes('stdin.js'))).toEqual([])
    // Facets, pages, chosen fields and the like are loaded with the first use, each by itself.
    const search = /query\/(?:search|words|hits)\.js$/
    const later = others.filter(({ inputs }) => inputs.length > 0 && !inputs.some((path) => search.test(path)))
    expect(later.length).toBe(11)
    for (const { code, needs } of later) {
      expect(needs).toEqual([])
      expect(gzipSync(code).length).toBeLessThanOrEqual(1.5 * 1024)
    }
    const inputs = files.flatMap((file) => file.inputs)
    expect(
      inputs.filter((path) => !path.endsWith('page.js') && !/zinc-pantry\/dist\/(?:query|values)\//.test(path)),
    ).toEqual([])
    expect(files.map(({ code }) => String(code)).join()).not.toMatch(/\beval\(|new Function|node:/)
  })

  test('The core and the readers need no Node', async () => {
    const { metafile } = await bundle(
      "export * from 'zinc-pantry'; export * from 'zinc-pantry/read'; export * from 'zinc-pantry/query'",
    )
    expect(Object.keys(metafile.inputs).filter((path) => path.startsWith('node:') || path.includes('/host/'))).toEqual(
      [],
    )
  })
})

describe('In a browser', () => {
  let browser: Browser
  let server: Server
  let address: string

  beforeAll(async () => {
    await runCommand(DEMO, ['build'])
    const { outputFiles } = await bundle(QUESTION, { splitting: true, outdir: '/' })
    const files = new Map(outputFiles.map(({ path, contents }) => [path, contents]))
    const entry = [...files.keys()].find((path) => path.endsWith('/stdin.js')) ?? ''
    server = createServer((request, response) => {
      const content = files.get(request.url ?? '')
      response.setHeader('content-type', content ? 'text/javascript' : 'text/html')
      response.end(
        content ??
          `<!doctype html><title>t</title><script type="module">import { answer } from '${entry}'; window.answer = answer</script>`,
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

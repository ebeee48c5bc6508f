import { existsSync, readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { createServer, type Server } from 'node:http'
import { join } from 'node:path'
import { pathToFileURL } from 'node:url'
import type { Browser } from 'playwright-core'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { makeFolder, runCommand } from './helpers.ts'
import { launchBrowser } from './launch-browser.ts'

const configuration = (standalone: boolean): string => `
import { int, list, pantry, ref, text } from 'zinc-pantry'
export default pantry({
  standalone: ${standalone}, locales: ['de'],
  collections: {
    huts: { files: 'huts.json', search: { name: 1 }, fields: { name: text(), beds: int() } },
    notes: { files: 'notes/*.{md,mdx}', body: true, locales: 'suffix', fields: { title: text(), huts: list(ref('huts')) } },
  },
})
`
const siteOf = (count: number): string => {
  const huts = Array.from({ length: count }, (_, at) => ({ id: `h${at}`, name: `Hütte ${at}`, beds: (at * 7) % 40 }))
  return makeFolder({
    'pantry.config.ts': configuration(true),
    'content/huts.json': JSON.stringify(huts),
    'content/notes/one.md': "---\ntitle: One\nhuts: [h3]\n---\nA *note*, its `'quotes'` and \\\\ too.\n",
    'content/notes/two.mdx': '---\ntitle: Two\nhuts: [h1, h3]\n---\nA **note** {1 + 1}\n',
  })
}

/** What a page without a bundler asks; the same runs in Node. */
const ask = `async ({ huts, notes }, $) => ({
  large: (await huts.where((hut) => hut.beds.atLeast(20)).sort((hut) => [hut.beds.descending(), hut.name]).limit(5).toArray()).map(({ id }) => id),
  facets: await notes.facets((note) => ({ huts: note.huts })),
  words: (await huts.search('Hütten ').sort(() => $.byScore).limit(3).toArray()).length,
  html: (await notes.loadBody('one')).html,
  compiled: typeof (await notes.loadBody('two')).compiled,
  matched: await huts.where((hut) => hut.name.matches('^H.tte 1$')).count(),
})`

describe('Pages without a bundler', () => {
  let browser: Browser
  let server: Server
  let root = ''
  let requests: string[] = []
  beforeAll(async () => {
    server = createServer((request, response) => {
      const url = request.url ?? ''
      if (url.startsWith('/data/')) {
        requests.push(url.slice('/data/'.length))
        response.setHeader('content-type', 'text/javascript')
        response.end(readFileSync(join(root, 'generated/pantry', url.slice('/data/'.length))))
        return
      }
      response.setHeader('content-type', 'text/html; charset=utf-8')
      response.end(
        `<!doctype html><title>t</title><script type="module">import * as site from '/data/standalone.js'; window.site = site; window.ask = ${ask}</script>`,
      )
    })
    await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
    browser = await launchBrowser()
  })
  afterAll(async () => {
    await browser?.close()
    server?.close()
  })
  const open = async () => {
    requests = []
    const page = await browser.newPage()
    const errors: unknown[] = []
    page.on('pageerror', (error) => errors.push(error))
    await page.goto(`http://127.0.0.1:${(server.address() as { port: number }).port}/`)
    await page.waitForFunction('window.ask')
    return { page, errors }
  }
  const inNode = async (): Promise<unknown> => {
    const site = await import(pathToFileURL(join(root, 'generated/pantry/index.js')).href)
    const runtime = await import('zinc-pantry/query')
    return (new Function(`return ${ask}`)() as (site: object, runtime: object) => Promise<unknown>)(site, runtime)
  }

  test.each([
    ['few entries hold them, and load nothing else', 20, 0],
    ['many entries load their parts', 300, 3],
  ])('of %s', async (_, count, parts) => {
    root = siteOf(count)
    expect(await runCommand(root, ['build'])).toMatchObject({ code: 0 })
    const { page, errors } = await open()
    const large = 'window.site.huts.where((hut) => hut.beds.is(7)).toArray().then((all) => all.length)'
    expect(await page.evaluate(large)).toBe(count === 20 ? 1 : 8)
    const data = requests.filter((path) => !path.startsWith('runtime/') && path !== 'standalone.js')
    expect([requests.length - data.length, data.length >= parts, data.length === 0]).toEqual([2, true, parts === 0])
    // What goes wrong in a page is told as a text: its places are none of this machine.
    const asked = 'window.ask(window.site, window.site.$).catch((error) => String(error))'
    expect(await page.evaluate(asked)).toEqual(await inNode())
    expect(errors).toEqual([])
    await page.close()
  })

  test('What they load is the whole output and nothing more; without the setting it goes', async () => {
    root = siteOf(20)
    await runCommand(root, ['build'])
    const output = join(root, 'generated/pantry')
    const listed = (JSON.parse(readFileSync(join(output, 'manifest.json'), 'utf8')) as { runtime: string[] }).runtime
    const [folder = ''] = readdirSync(join(output, 'runtime'))
    expect(
      readdirSync(join(output, 'runtime', folder))
        .map((name) => `runtime/${folder}/${name}`)
        .toSorted(),
    ).toEqual(listed.toSorted())
    // Of the stemmers there is that of the site's language.
    expect(listed.filter((path) => path.includes('/lunr.')).map((path) => path.split('/')[2])).toEqual([
      'lunr.de.js',
      'lunr.stemmer.support.js',
    ])
    expect((await runCommand(root, ['build'])).stdout).toContain('nothing had changed')
    writeFileSync(join(root, 'pantry.config.ts'), configuration(false))
    await runCommand(root, ['build'])
    await runCommand(root, ['build', '--drafts'])
    writeFileSync(join(root, 'content/huts.json'), '[{"id":"h1","name":"a","beds":1},{"id":"h3","name":"b","beds":1}]')
    await runCommand(root, ['build'])
    expect(['standalone.js', 'standalone.d.ts', 'runtime'].map((name) => existsSync(join(output, name)))).toEqual([
      false,
      false,
      false,
    ])
  })
})

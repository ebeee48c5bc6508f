import { cpSync } from 'node:fs'
import { join } from 'node:path'
import { describe, expect, test } from 'vitest'
import { buildSite, checkSite, createNodeHost, type Host } from 'zinc-pantry/engine'
import { makeFolder, PNG, REPOSITORY, readFolder, textOf } from './helpers.ts'
import { pretendedThreads, type Threads } from './pretended-threads.ts'

const CONFIGURATION = `import { pantry, text, markdown, list, ref } from 'zinc-pantry'
export default pantry({
  highlight: true,
  severities: { 'link-broken': 'warning' },
  blocks: { note: { fields: { tone: text({ default: 'plain' }), says: markdown({ optional: true }), hush: text({ private: true, optional: true }) } } },
  collections: {
    notes: { files: 'notes/*.{md,mdx}', body: true, address: '/notes/{slug}/', search: { title: 2, body: 1 }, backlinks: true, fields: { title: text(), near: list(ref('notes'), { default: [] }) } },
    safe: { files: 'safe/*.md', body: { rawHtml: 'sanitise' }, fields: { title: text() } },
  },
})
`

const noteOf = (at: number): string => `---
title: Note ${at}
near: [note${(at * 7) % 60}]
---
## Part

To [another](note${(at * 3) % 60}.md), ${at % 9 === 0 ? `[a part](note${(at * 5) % 60}.md#part)` : 'no part'}, ![a hut](../a.png "Hut") and <https://fells.example/>.

:::note{tone=t${at} says="*To* [it](note${at % 60}.md)" hush=secret${at}}
Inside of it.
:::

\`\`\`js {2}
const beds = ${at}
console.log(beds)
\`\`\`
`

/** A site of some bodies of all sorts. */
const makeSite = (count: number): string =>
  makeFolder({
    'pantry.config.ts': CONFIGURATION,
    'content/a.png': PNG,
    'content/notes/broken.md': '---\ntitle: Broken\n---\n[x](gone.md)\n\n[^1]: A note\n',
    'content/notes/code.mdx': '---\ntitle: Code\n---\nexport const a = 1\n\n<div>{a} [it](note1.md)</div>\n',
    ...Object.fromEntries(Array.from({ length: count }, (_, at) => [`content/notes/note${at}.md`, noteOf(at)])),
    ...Object.fromEntries(
      Array.from({ length: 20 }, (_, at) => [
        `content/safe/s${at}.md`,
        `---\ntitle: S\n---\n<b onclick="x()">${at}</b>\n`,
      ]),
    ),
  })

/** Builds a site anew, and gives what is written and said. */
async function build(root: string, threads: Threads | undefined, cache = false): Promise<readonly unknown[]> {
  const host = { ...createNodeHost(root), threads } as Host
  const report = await buildSite({ host, configurationFile: 'pantry.config.ts', cache })
  return [textOf(report), report.entryCount, readFolder(join(root, 'generated'))]
}

describe('Bodies that other threads render', () => {
  test('are what they are without, also where a thread has no answer, and each is asked for once', async () => {
    const root = makeSite(60)
    const alone = await build(root, undefined)
    const all = pretendedThreads()
    expect(await build(root, all)).toEqual(alone)
    expect(all.answered).toBe(81)
    const half = pretendedThreads((answer, number) => (number % 2 === 0 ? undefined : answer))
    expect(await build(root, half)).toEqual(alone)
    expect(
      await build(
        root,
        pretendedThreads(() => undefined),
      ),
    ).toEqual(alone)
    // What was rendered there is kept like all else.
    await build(root, pretendedThreads(), true)
    const again = pretendedThreads()
    expect(await build(root, again, true)).toEqual(alone)
    expect(again.answered).toBe(0)
  })

  test('are those of the demo, too, functions of the configuration left where they are', async () => {
    const root = makeFolder({})
    cpSync(join(REPOSITORY, 'examples/fellmark'), root, {
      recursive: true,
      filter: (path) => !/generated|\.pantry/.test(path),
    })
    const threads = pretendedThreads()
    expect(await build(root, threads)).toEqual(await build(root, undefined))
  })

  test('come from threads of Node where there are many, and a thread that cannot be started changes nothing', async () => {
    const root = makeSite(300)
    const alone = await build(root, undefined)
    const { threads } = createNodeHost(root)
    let count = 0
    const start: Threads['start'] = (name, data) => {
      count++
      return (threads as Threads).start(name, data)
    }
    expect(await build(root, { count: 2, startAfterMs: 5, start })).toEqual(alone)
    expect(count).toBe(2)
    const failing: Threads['start'] = (_name, data) => (threads as Threads).start('no-task' as 'render-task', data)
    expect(await build(root, { count: 1, startAfterMs: 5, start: failing })).toEqual(alone)
    // So few are not worth a thread.
    count = 0
    expect(await build(root, { count: 2, startAfterMs: 60_000, start })).toEqual(alone)
    expect(count).toBe(0)
  })

  test('of MDX are checked with the same words', async () => {
    const root = makeFolder({
      'pantry.config.ts': CONFIGURATION,
      ...Object.fromEntries(
        Array.from({ length: 20 }, (_, at) => [
          `content/notes/m${at}.mdx`,
          `---\ntitle: M\n---\n${at % 3 === 0 ? 'export const a = b.' : `<b>${at}</b>`}\n`,
        ]),
      ),
    })
    const check = async (threads: Threads | undefined): Promise<string> => {
      const host = { ...createNodeHost(root), threads } as Host
      return textOf(await checkSite({ host, configurationFile: 'pantry.config.ts', cache: false }))
    }
    expect(await check(pretendedThreads())).toBe(await check(undefined))
  })
})

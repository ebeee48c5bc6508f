import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { pantry } from 'zinc-pantry'
import { changeSite, checkSite, createMemoryHost, type MemoryHost, openContent } from 'zinc-pantry/engine'
import { openCollection } from 'zinc-pantry/query'
import { expectShare, runs } from './helpers.ts'

const site = pantry({
  collections: { pages: { files: '*.{md,mdx}', body: true, address: '/{slug}/', fields: {} } },
})
const configurationFile = 'pantry.config.ts'

const rename = (host: MemoryHost, target: string, name: string) =>
  changeSite({ host, configurationFile }, { kind: 'rename', target, name })

const contentOf = ({ files }: MemoryHost): object =>
  Object.fromEntries(
    [...files]
      .filter(([path]) => path.startsWith('content/'))
      .map(([path, content]) => [path, typeof content === 'string' ? content : new TextDecoder().decode(content)])
      .sort(),
  )

async function headingsOf(host: MemoryHost): Promise<readonly { readonly id: string; readonly text: string }[]> {
  const { site: opened } = await openContent({ host, configurationFile })
  const pages = openCollection<{ body: { outline: readonly Outlined[] } }, never, string>(opened, 'pages')
  const flatten = (all: readonly Outlined[]): Outlined[] => all.flatMap((one) => [one, ...flatten(one.children)])
  return flatten((await pages.byId('one'))?.body.outline ?? [])
}

interface Outlined {
  readonly id: string
  readonly text: string
  readonly children: readonly Outlined[]
}

describe('A heading that is renamed', () => {
  const texts = fc.constantFrom('The sky', 'The *sky*', 'Sky', 'Été `now`', 'A & B', 'Fell', 'Fell', '[Fell](two.md)')
  const heading = fc.record({
    text: texts,
    form: fc.constantFrom('atx', 'closed', 'quoted', 'setext', 'named'),
  })
  const write = (
    { text, form }: { readonly text: string; readonly form: string },
    at: number,
    isMdx: boolean,
  ): string =>
    ({
      atx: `## ${text}`,
      closed: `# ${text} #`,
      quoted: `> ### ${text}`,
      setext: `${text}\n---`,
      named: `## ${text} ${isMdx ? '\\{' : '{'}#own-${at}}`,
    })[form] ?? ''

  test('keeps every link to it and to those whose ids change by it, and back gives the same bytes', async () => {
    let tried = 0
    let renamed = 0
    await fc.assert(
      fc.asyncProperty(
        fc.array(heading, { minLength: 1, maxLength: 5 }),
        fc.nat(),
        fc.constantFrom('Below', 'The sky', 'Fell', 'Ünter *allem*', 'A_b & c'),
        fc.constantFrom('md', 'mdx'),
        async (headings, which, name, ending) => {
          const body = `${headings.map((one, at) => `${write(one, at, ending === 'mdx')}\n\nText ${at}.`).join('\n\n')}\n`
          const start = { [`content/one.${ending}`]: body, 'content/two.md': '', 'content/three.md': '' }
          const ids = (await headingsOf(createMemoryHost(start, site))).map(({ id }) => id)
          const links = (path: string): string => ids.map((id, at) => `[${at}](${path}#${id})`).join(' ')
          const files = {
            ...start,
            [`content/one.${ending}`]: `${body}\n${links('')}\n`,
            'content/two.md': `${links(`one.${ending}`)}\n\n[r]\n\n[r]: /one/#${ids[0]}\n`,
            'content/three.md': `<a href="one.${ending}#${ids.at(-1)}">x</a> [top](one.${ending})\n`,
          }
          const host = createMemoryHost(files, site)
          const before = contentOf(host)
          const { diagnostics } = await checkSite({ host, configurationFile })
          const at = which % ids.length
          const old = (await headingsOf(host)).map(({ text }) => text)
          const answer = await rename(host, `pages/one#${ids[at]}`, name)
          tried++
          if ('refused' in answer) throw new Error(answer.refused)
          if (!answer.isWritten) {
            expect(answer.change.steps.length).toBe(0)
            return
          }
          renamed++
          const now = await headingsOf(host)
          expect(now.map(({ text }) => text).filter((_, one) => one !== at)).toEqual(old.filter((_, one) => one !== at))
          expect((await checkSite({ host, configurationFile })).diagnostics).toEqual(
            diagnostics.map((one) => expect.objectContaining({ code: one.code })),
          )
          const back = await rename(host, `pages/one#${now[at]?.id}`, headings[at]?.text ?? '')
          expect('isWritten' in back && back.isWritten).toBe(true)
          expect(contentOf(host)).toEqual(before)
        },
      ),
      { numRuns: runs(80, 3_000) },
    )
    expectShare(renamed, tried, 1 / 4)
  })

  test.each([
    ['pages/one#none', 'x', 'pages/one has no heading #none'],
    ['pages/none#sky', 'x', 'Nothing is called "pages/none"'],
    ['pages/one#sky', ' ', 'A heading is one line of text'],
    ['pages/one#sky', 'a\nb', 'A heading is one line of text'],
  ])('%s as %j is refused', async (target, name, reason) => {
    const host = createMemoryHost({ 'content/one.md': '# Sky\n' }, site)
    expect(await rename(host, target, name)).toMatchObject({ refused: reason })
  })
})

test('A link whose signs are written as they are, or encoded, follows an entry that is renamed', async () => {
  const links = (file: string, encoded: string): string =>
    `[a](${file}.md) [b](${encoded}.md#x) [c](<${file}.md>)\n\n[d]\n\n[d]: ${file}.md\n`
  const host = createMemoryHost(
    { 'content/größe.md': '# X\n', 'content/two.md': links('größe', 'gr%C3%B6%C3%9Fe') },
    site,
  )
  await rename(host, 'pages/größe', 'weite')
  expect(contentOf(host)).toEqual({ 'content/weite.md': '# X\n', 'content/two.md': links('weite', 'weite') })
  await rename(host, 'pages/weite', 'höhe')
  expect(contentOf(host)).toEqual({ 'content/höhe.md': '# X\n', 'content/two.md': links('höhe', 'höhe') })
})

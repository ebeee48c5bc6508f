import { tests as commonMark } from 'commonmark-spec'
import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { choice, flag, int, markdown, pantry, text } from 'zinc-pantry'
import { openCollection, type StoredBody } from 'zinc-pantry/query'
import { renderHtml, renderNodes, toTree } from 'zinc-pantry/render'
import { openFiles, runs, textOf } from './helpers.ts'

const blocks = { callout: { fields: { tone: choice(['calm', 'warn']), loud: flag({ default: false }) } } }

/** The bodies of files by name. */
async function bodiesOf(
  files: Readonly<Record<string, string>>,
  settings: object = {},
  site: object = {},
): Promise<Record<string, StoredBody>> {
  const configuration = pantry({
    ...{ blocks, ...site },
    highlight: { plain: [';', 'aa', 'foo+bar', 'föö'] },
    severities: { 'link-broken': 'off', 'link-fragment': 'off', 'image-alternative': 'off' },
    collections: {
      texts: { files: '*.{md,mdx}', body: true, fields: { title: text({ optional: true }) }, ...settings },
    },
  })
  // Front matter comes first, so that a text may begin with a line of its own.
  const written = Object.entries(files).map(([name, body]) => [name, `---\n{}\n---\n${body}`])
  const report = await openFiles(Object.fromEntries(written), configuration)
  expect(textOf(report)).toBe('')
  const texts = openCollection<{ id: string }, unknown, string>(report.site, 'texts')
  const pairs = (await texts.toArray()).map(async ({ id }) => [id, await texts.loadBody(id)])
  return Object.fromEntries(await Promise.all(pairs))
}

/** HTML without what means nothing: space between blocks, and how an empty element is closed. */
const plain = (html: string): string =>
  html
    .replace(/ \/>/g, '>')
    .replace(/>\s+</g, '><')
    .replace(/\s+/g, ' ')
    .replaceAll('&quot;', '"')
    .replaceAll('&#x22;', '"')
    .replaceAll('&#x26;', '&amp;')
    .replaceAll('&#x3C;', '&lt;')
    .replaceAll('&gt;', '>')
    .trim()

describe('MDX', () => {
  test('is read as plugins want it, and the same where all is left to the compiler', async () => {
    const files = {
      'a.mdx': '# A *b* {1 + 1}\n\n<Callout tone="calm">\n  - [ ] c ~~d~~\n</Callout>\n\n*e* https://f.g\n',
    }
    const render = async (settings: object): Promise<string> =>
      renderHtml((await bodiesOf(files, settings)).a as StoredBody, { blocks: { callout: () => '' } })
    const html = await render({})
    expect(html).toContain('<em>e</em>')
    expect(await render({ body: { mdx: 'compiler' } })).toBe(html)
    const noEmphasis = function (this: { data(): Record<string, unknown[]> }): void {
      this.data().micromarkExtensions?.push({ disable: { null: ['attention'] } })
    }
    expect(await render({ body: { remarkPlugins: [noEmphasis] } })).toContain('*e*')
  })

  test('Plain Markdown gives the same HTML as in a Markdown file', async () => {
    // HTML, indented code, comments and braces mean something else in MDX.
    const shared = commonMark.filter(({ markdown }) => !/[<{}→]|^ {4}|\n {4}|> {5}|^(?:import|export)\b/.test(markdown))
    expect(shared.length).toBeGreaterThan(400)
    const some = shared.filter((_, at) => at % runs(3, 1) === 0)
    const markdown = await bodiesOf(Object.fromEntries(some.map((one) => [`${one.number}.md`, one.markdown])))
    const mdx = await bodiesOf(Object.fromEntries(some.map((one) => [`${one.number}.mdx`, one.markdown])))
    const differences = []
    for (const { number } of some) {
      const [first, second] = [markdown[number], mdx[number]]
      if (!first || !second) continue
      const [wanted, got] = [plain(first.html ?? ''), plain(await renderHtml(second))]
      if (wanted !== got) differences.push({ number, wanted, got })
    }
    expect(differences).toEqual([])
  })
})

const CODE = '```js title="a.js" {2}\nconst a = 1\nconst b = `x\ny`\n```\n'

describe('Bodies are rendered', () => {
  const files = {
    'one.md': `![A hut](hut.jpg)\n\n:::callout{tone=warn}\nMind the *bog*.\n:::\n\n${CODE}`,
    'two.mdx': `![A hut](hut.jpg)\n\n<Callout tone="warn">\n  Mind the *bog*.\n</Callout>\n\n${CODE}`,
  }
  const components = {
    image: ({ src, alt }: { src: string; alt: string }) => `<figure data-src="${src}">${alt}</figure>`,
    code: ({ language, title, marked }: { language: string; title?: string; marked: readonly number[] }) =>
      `<code-box>${language} ${title} ${marked.join()}</code-box>`,
    blocks: {
      callout: ({ tone, loud, children }: { tone: string; loud: boolean; children: string }) =>
        `<aside class="${tone}" data-loud="${loud}">${children.trim()}</aside>`,
    },
  }

  test('with components of the site, to HTML', async () => {
    const { one, two } = await bodiesOf(files)
    for (const body of [one, two]) {
      const html = await renderHtml(body as StoredBody, components)
      expect(html).toContain('<figure data-src="hut.jpg">A hut</figure>')
      expect(html).toMatch(/<aside class="warn" data-loud="false">(?:<p>)?Mind the <em>bog<\/em>\.(?:<\/p>)?<\/aside>/)
      expect(html).toContain('<code-box>js a.js 2</code-box>')
    }
  })

  test.each([
    ['tone="warn"', 'warn false'],
    ['tone="warn" loud', 'warn true'],
    ["tone={'wa' + 'rn'}", 'warn false'],
    ['tone="calm" loud={1 < 2}', 'calm true'],
    ["{...{ tone: 'calm', loud: true }}", 'calm true'],
    ['loud {...{ tone: "warn" }}', 'warn true'],
  ])('with properties that code works out: %s', async (written, expected) => {
    const { one } = await bodiesOf({ 'one.mdx': `<Callout ${written}>Bog</Callout>\n` })
    const callout = ({ tone, loud }: { tone: string; loud: boolean }) => `<aside>${tone} ${loud}</aside>`
    expect(await renderHtml(one as StoredBody, { blocks: { callout } })).toContain(`<aside>${expected}</aside>`)
  })

  test('with colours and marked lines', async () => {
    const { one } = await bodiesOf(files)
    expect(one?.html).toContain('<pre data-title="a.js" data-marked="2"><code class="language-js">')
    expect(one?.html).toContain('<span class="code-keyword">const</span> a = <span class="code-number">1</span>')
    expect(one?.html).toMatch(/<span class="code-marked">.*b = <span class="code-string">`x<\/span>\n<\/span>/)
  })

  test('as a tree that HTML allows: a block within a line is a span', async () => {
    const { one, two } = await bodiesOf({
      'one.md': ':callout[a]{tone=warn}\n\nA *[line :callout[b]{tone=warn}](#x)*\n\n:::callout{tone=warn}\nc\n:::\n',
      'two.mdx':
        'A <Callout tone="warn">a</Callout>\n\nA *[line <Callout tone="warn">b</Callout>](#x)*\n\n<Callout tone="warn">\n  c\n</Callout>\n',
    })
    for (const body of [one, two]) {
      const blocks: string[] = []
      const walk = (node: { tagName?: string; properties?: object; children?: readonly object[] }): void => {
        if (node.properties && 'dataBlock' in node.properties) blocks.push(node.tagName ?? '')
        for (const child of node.children ?? []) walk(child)
      }
      walk(await toTree(body as StoredBody))
      expect(blocks).toEqual(['span', 'span', 'div'])
    }
  })

  test('through a JSX runtime, and as a tree', async () => {
    interface Part {
      readonly type: unknown
      readonly props: Readonly<Record<string, unknown>>
    }
    const jsx = (type: unknown, props: Part['props']): unknown =>
      typeof type === 'function' ? type(props) : { type, props }
    const { one, two } = await bodiesOf(files)
    for (const body of [one, two]) {
      const callout = (props: Part['props']) => ({ type: 'aside', props })
      const nodes = JSON.stringify(
        await renderNodes(body as StoredBody, { Fragment: 'fragment', jsx, jsxs: jsx }, { blocks: { callout } }),
      )
      expect(nodes).toMatch(/"type":"aside","props":\{[^{]*"tone":"warn"/)
      const tree = JSON.stringify(await toTree(body as StoredBody))
      expect(tree).toContain('"dataBlock":"callout"')
    }
  })
})

describe('Components are given', () => {
  const wanted = {
    note: {
      fields: {
        text: markdown({ optional: true }),
        size: int({ default: 3 }),
        secret: text({ optional: true, private: true }),
      },
    },
  }
  const given = (properties: object) => `<i>${JSON.stringify({ ...properties, children: undefined })}</i>`
  const render = async (name: string, body: string): Promise<unknown> => {
    const { one } = await bodiesOf({ [name]: body }, {}, { blocks: wanted })
    if (!one) throw new Error('There is no such body')
    const written = one.html ?? String(one.compiled)
    expect(written).not.toContain('hush')
    const html = await renderHtml(one, { blocks: { note: given } })
    return JSON.parse(/<i>(.*)<\/i>/.exec(html)?.[1] ?? '')
  }

  test.each([
    ['a directive', 'one.md', '::note{text="*a*" secret=hush}'],
    ['MDX', 'one.mdx', '<Note text="*a*" secret="hush" />'],
  ])('typed values by %s: Markdown with its HTML, defaults, nothing private', async (_kind, name, body) => {
    expect(await render(name, body)).toEqual({ text: { text: '*a*', html: '<p><em>a</em></p>\n' }, size: 3 })
  })

  test('what code works out, beside defaults', async () => {
    const code = 'export const five = 5\n\n'
    expect(await render('one.mdx', `${code}<Note size={five} />`)).toEqual({ size: 5, text: null })
    expect(await render('one.mdx', `${code}<Note {...{ size: five }} />`)).toEqual({ size: 5 })
  })
})

describe('Where content is not trusted', () => {
  // Cases of the public cheat sheets, as raw HTML and as Markdown.
  const attacks = [
    '<script>alert(1)</script>',
    '<img src=x onerror=alert(1)>',
    '<img src="javascript:alert(1)">',
    '<a href="java\tscript:alert(1)">x</a>',
    '<a href="&#106;&#97;vascript:alert(1)">x</a>',
    '<a href=" &#14; javascript:alert(1)">x</a>',
    '<svg onload=alert(1)><script>alert(1)</script></svg>',
    '<svg><a xlink:href="javascript:alert(1)"><text>x</text></a></svg>',
    '<iframe src="data:text/html,<script>alert(1)</script>"></iframe>',
    '<object data="data:text/html;base64,PHNjcmlwdD4="></object>',
    '<embed src="javascript:alert(1)">',
    '<form action="javascript:alert(1)"><button formaction="javascript:alert(1)">x</button></form>',
    '<div style="background:url(javascript:alert(1))">x</div>',
    '<style>@import "javascript:alert(1)"</style>',
    '<meta http-equiv="refresh" content="0;url=javascript:alert(1)">',
    '<base href="javascript:alert(1)//">',
    '<math><mtext><script>alert(1)</script></mtext></math>',
    '<details open ontoggle=alert(1)>x</details>',
    '<noscript><p title="</noscript><img src=x onerror=alert(1)>"></noscript>',
    '<IMG """><SCRIPT>alert(1)</SCRIPT>">',
    '<div data-block="callout" data-properties="{}">x</div>',
    '[x](javascript:alert(1))',
    '[x](JaVaScRiPt&colon;alert(1))',
    '[x](data:text/html;base64,PHNjcmlwdD4=)',
    '![x](javascript:alert(1))',
    '[x]\n\n[x]: javascript:alert(1)',
    '<javascript:alert(1)>',
  ]

  test('nothing that runs code is left in what is sanitised', async () => {
    const files = Object.fromEntries(
      attacks.map((attack, at) => [`${at}.md`, `Before\n\n${attack}\n\nafter ${attack}\n`]),
    )
    const bodies = await bodiesOf(files, { body: { rawHtml: 'sanitise' } })
    expect(Object.keys(bodies)).toHaveLength(attacks.length)
    for (const body of Object.values(bodies)) visit((await toTree(body)).children)
  })

  /** Looks at every element as a browser would read it. */
  function visit(nodes: Awaited<ReturnType<typeof toTree>>['children']): void {
    for (const node of nodes) {
      if (node.type !== 'element') continue
      expect(node.tagName).not.toMatch(/^(?:script|style|iframe|object|embed|form|svg|math|meta|base)$/)
      for (const [name, value] of Object.entries(node.properties)) {
        expect(name).not.toMatch(/^on|^style$|^dataBlock$/)
        if (/href|src/i.test(name)) expect(String(value)).not.toMatch(/^\W*(?:javascript|data):/i)
      }
      visit(node.children)
    }
  }

  test('blocks are rendered all the same', async () => {
    const { one } = await bodiesOf(
      { 'one.md': '# A {#b}\n\n:::callout{tone=warn}\n<b>Bog</b>\n:::\n' },
      { body: { rawHtml: 'sanitise' } },
    )
    expect(one?.html).toContain('<h1 id="b">A</h1>')
    expect(one?.html).toContain('data-block="callout"')
    expect(one?.html).toContain('<b>Bog</b>')
  })

  test('raw HTML can be dropped', async () => {
    const { one } = await bodiesOf({ 'one.md': 'A <b>b</b>\n' }, { body: { rawHtml: 'drop' } })
    expect(one?.html).toBe('<p>A b</p>\n')
  })
})

describe('Languages without colours', () => {
  const before = fc.constantFrom('', '- ', '1) ', '2. ', '> ', '> - ', '   ', '    ', '[^1]: ', 'Text ', '    - ')
  const fence = fc.constantFrom('```', '~~~', '````', '``')
  const info = fc.constantFrom(
    '',
    ' ',
    'fell',
    ' crag',
    'be\\-ck',
    't&amp;rn',
    'ghyll{1}',
    '{2}',
    'howe`',
    'pike title="a"',
    'typescript',
  )
  const piece = fc
    .tuple(before, fence, info)
    .map(([start, marks, rest]) => `${start}${marks}${rest}\nx\n${' '.repeat(start.length)}${marks}\n`)
  const texts = fc.array(
    fc.oneof(piece, fc.constantFrom('\n', 'See [^1].\n', '# A\n', '<pre>\n', '`` ```inline `` \n')),
    { maxLength: 8 },
  )

  test('are those of the fences that are rendered, and no others', async () => {
    await fc.assert(
      fc.asyncProperty(texts, async (pieces) => {
        const configuration = pantry({
          highlight: true,
          collections: { texts: { files: '*.md', body: true, fields: {} } },
        })
        const report = await openFiles({ 'a.md': `---\n{}\n---\n${pieces.join('\n')}` }, configuration)
        const body = await openCollection<object, unknown, string>(report.site, 'texts').loadBody('a')
        const shown = [...(body?.html ?? '').matchAll(/<code class="language-([^"]*)">/g)].map(([, name = '']) =>
          name.replaceAll('&amp;', '&'),
        )
        const said = report.diagnostics.map(({ code, parameters }) => [code, String(parameters.language)])
        const unknown = shown.filter((name) => name !== 'typescript')
        expect(said.sort()).toEqual(unknown.map((name) => ['code-language-unknown', name]).sort())
      }),
      { numRuns: 300 },
    )
  })
})

/** Headings below each other by a slow model: each is in the nearest one above it that is larger. */
function outlineOf(depths: readonly number[]): unknown[] {
  const items = depths.map((depth, at) => ({ text: `H${at}`, depth, children: [] as unknown[] }))
  const top: unknown[] = []
  for (const [at, item] of items.entries()) {
    const holder = items.slice(0, at).findLast(({ depth }) => depth < item.depth)
    const { children } = holder ?? { children: top }
    children.push(item)
  }
  return top
}

interface Nested {
  readonly tone: 'calm' | 'warn'
  readonly inside: readonly Nested[]
}

const nested = fc.memo(
  (depth: number): fc.Arbitrary<Nested> =>
    fc.record({
      tone: fc.constantFrom('calm' as const, 'warn' as const),
      inside: depth === 0 ? fc.constant([]) : fc.array(nested(depth - 1), { maxLength: 2 }),
    }),
)

test('Headings nest as their sizes say, and blocks as their fences do', async () => {
  const cases = fc.sample(fc.tuple(fc.array(fc.integer({ min: 1, max: 6 }), { maxLength: 9 }), nested(4)), {
    numRuns: runs(25, 2_000),
  })
  const write = ({ tone, inside }: Nested): string =>
    `:::callout{tone=${tone}}\n\n${inside.map(write).join('\n')}\n:::\n`
  const draw = ({ tone, inside }: Nested): string => `<aside class="${tone}">${inside.map(draw).join('')}</aside>`
  const files = cases.flatMap(([depths, tree], at) => {
    const headings = depths.map((depth, number) => `${'#'.repeat(depth)} H${number}\n`).join('\n')
    return [
      [`content/h${at}.md`, `---\n{}\n---\n${headings}`],
      [`content/h${at}x.mdx`, `---\n{}\n---\n${headings}`],
      [`content/b${at}.md`, `---\n{}\n---\n${write(tree)}`],
    ]
  })
  const site = pantry({ blocks, collections: { texts: { files: '*.{md,mdx}', body: true, fields: {} } } })
  const { site: opened, ...report } = await openFiles(
    Object.fromEntries(files.map(([path = '', text = '']) => [path.replace('content/', ''), text])),
    site,
  )
  expect(textOf(report as never)).toBe('')
  const texts = openCollection<{ id: string; body: { outline: unknown[] } }, unknown, string>(opened, 'texts')
  const withoutIds = (items: unknown): unknown =>
    JSON.parse(JSON.stringify(items, (key, value) => (key === 'id' ? undefined : value)))
  const callout = ({ tone, children }: { tone: string; children: string }): string =>
    `<aside class="${tone}">${children.trim()}</aside>`
  for (const [at, [depths, tree]] of cases.entries()) {
    for (const id of [`h${at}`, `h${at}x`])
      expect(withoutIds((await texts.byId(id))?.body.outline), String(depths)).toEqual(outlineOf(depths))
    const html = await renderHtml((await texts.loadBody(`b${at}`)) as StoredBody, { blocks: { callout } })
    expect(html.replace(/\s*\n\s*/g, '')).toBe(draw(tree))
  }
})

test('An excerpt without a mark is the first paragraph, cut at the last word that fits', async () => {
  const configuration = pantry({ collections: { pages: { files: '*.md', body: true, fields: {} } } })
  const words = fc.array(fc.stringMatching(/^[a-zé]{1,30}$/), { minLength: 1, maxLength: 60, size: 'max' })
  await fc.assert(
    fc.asyncProperty(words, async (own) => {
      const { site } = await openFiles({ 'one.md': `# Title\n\n${own.join(' ')}\n\nMore.\n` }, configuration)
      const entry = await openCollection<{ body: { excerpt: string } }, never, string>(site, 'pages').byId('one')
      let expected = ''
      for (const word of own) {
        const longer = expected === '' ? word : `${expected} ${word}`
        if (longer.length > 240) {
          expected += '…'
          break
        }
        expected = longer
      }
      expect(entry?.body.excerpt).toBe(expected)
    }),
    { numRuns: runs(22, 400) },
  )
})

import { createProcessor } from '@mdx-js/mdx'
import { tests as specification } from 'commonmark-spec'
import type { Root as HastRoot } from 'hast'
import type { Root } from 'mdast'
import remarkGfm from 'remark-gfm'
import { expect, test } from 'vitest'
import { parseMdx } from '../src/body/mdx/parser/parse-mdx.ts'
import { writeModule } from '../src/body/mdx/writer/write-module.ts'
import { createRandom, runs } from './helpers.ts'
import { createDocuments } from './mdx-documents.ts'

/** What our own writer makes of the last text that was compiled. */
let written: string | undefined
const compiler = createProcessor({
  outputFormat: 'function-body',
  remarkPlugins: [remarkGfm],
  rehypePlugins: [
    () => (tree: HastRoot) => {
      written = writeModule(tree)
    },
  ],
})

/** What the compiler says of a text, and what our own parser says; nothing where one of them does not take it. */
function readBoth(text: string): { readonly theirs: Root | undefined; readonly ours: Root | undefined } {
  let theirs: Root | undefined
  try {
    theirs = compiler.parse(text) as unknown as Root
  } catch {
    theirs = undefined
  }
  return { theirs, ours: parseMdx(text) }
}

/** Compares trees with their positions and the code in them; true where the text was taken. */
function compareTrees(text: string): boolean {
  const { theirs, ours } = readBoth(text)
  if (ours) expect(ours, JSON.stringify(text)).toStrictEqual(theirs)
  return ours !== undefined
}

/** Compares code; true where it was written, nothing where there is none. */
async function compareCode(text: string): Promise<boolean | undefined> {
  let code: string
  try {
    code = String(await compiler.process(text))
  } catch {
    return undefined
  }
  if (written !== undefined) expect(written, JSON.stringify(text)).toBe(code)
  return written !== undefined
}

const EXAMPLES = specification.map(({ markdown }) => markdown.replaceAll('→', '\t'))

/** What GitHub's Markdown has beside CommonMark. */
const EXTENSIONS = [
  ...['| foo | bar |\n| --- | --- |\n| baz | bim |', '| abc | defghi |\n:-: | -----------:\nbar | baz'],
  ...[
    '| f\\|oo  |\n| ------ |\n| b `\\|` az |\n| b **\\|** im |',
    '| abc | def |\n| --- | --- |\n| bar | baz |\n> bar',
  ],
  ...['| abc | def |\n| --- | --- |\n| bar | baz |\nbar\n\nbar', '| abc | def |\n| --- |\n| bar |', 'a | b\n- | -\nc'],
  ...[
    '| abc | def |\n| --- | --- |\n| bar |\n| bar | baz | boo |',
    '| abc | def |\n| --- | --- |',
    '- [ ] foo\n- [x] bar',
  ],
  ...['- [x] foo\n  - [ ] bar\n  - [x] baz\n- [ ] bim', '- [ ]\n- [x]a\n- [X]  b', '~~Hi~~ Hello, ~there~ world!'],
  ...['This ~~has a\n\nnew paragraph~~.', 'This will ~~~not~~~ strike.', 'https://a.b/c?d=e+(f).', '(http://a.b/c)'],
  ...[
    'Visit https://a.b/c&d;',
    'http://a.b/c<d',
    'https://_a.b_c/d',
    'http://a_b.c/d',
    '*http://a.b/c*',
    '[a http://b.c d](e)',
  ],
  ...[
    'www.a.b',
    'foo@bar.baz',
    'mailto:foo@bar.baz',
    'ftp://a.b',
    'a[^1]\n\n[^1]: b',
    '[^1]: b\n\n    c\n\nd[^1] [^2]',
  ],
]

/** Texts of which it is a fine point what they are; of most the parser once made another tree. */
const FINE_POINTS = [
  '| a \\\\|\n|-|\n| b \\\\|',
  '[a](<b>"c") [a](<b> "c")',
  '`||\n-|-\n=|b\n-|-\n<b></b>',
  '[^n]:b\na|b\n-|-',
  '[^n]:``5\\\n    ;',
  '<a.b>\nexport const f=1\nexport default g\n</a.b>',
  'http://-',
  '- [^n]:a\n\n      .',
  '[a]:\\ <',
  '|\n- ;\na|b\n-|-',
  '<a.b>\n>`\\\n>a\n</a.b>',
  'a|b\n-|-\n.\nexport default g',
  '<a.b></a.b>\n>`<b></b>  \n>/',
  '- &\n{(()=>x)\n}\n**',
  'http://c_(',
  'http://b.(',
  '{}{}',
  '|\n>2) ]',
  '0) a\n   {((x))\n   }',
  '`||\n-|-\nhttp://a/!|',
  '>2. u\n>- ]',
  "[r]:'\n[]\n-",
  'b\n- |',
  '___\n[r]:()\n[^n]:x',
  '[^n]:* \\\n    >"',
  '**\n0) |b\n-|-\n',
  'b@.a',
  'http://c)()',
  '~*~*~ ',
  '[f]:\n>',
  '>`\n `',
  '- {p()\n}1',
  '[^n]:`` ``\n{p()\n}x',
  '[r]:\n-',
  '- [\n  `a`',
  '- [x] * * *\n| &amp; | 1. |\n      |---|---|\n      <>a</> | "q" |',
  '>>- one\n>>\n  >  > two\n',
]

/** What people write, all of which is ours to read. */
const COMMON = `import { Note } from './note.js'

export const level = { high: { most: 3 } }

# A *title* with \`code\`

Text with **strong _words_**, [links](/a "b"), ![pictures](c.png), <b>elements</b> and {[{ a: 1 }].map(({ a }) => a)}.

- one
  - two
- [ ] three

1. four

   five

> six

| seven | eight |
| :---- | ----: |
| nine  | ~~ten~~ |

\`\`\`js title="eleven"
const twelve = {}
\`\`\`

<Note level={level.high.most} {...{ tone: 'calm' }}>
  thirteen[^1]
</Note>

[^1]: fourteen, https://fif.teen/
`

test('Every example of the specifications gives the tree of the compiler, or is left to it', () => {
  const texts = [...EXAMPLES, ...EXTENSIONS]
  for (const end of ['\n', '\r\n']) {
    expect(compareTrees(COMMON.replaceAll('\n', end))).toBe(true)
    const taken = texts.filter((text) => compareTrees(text.replaceAll('\n', end)))
    // Of what can be read as MDX nine in ten; what is rare in texts that people write is common here.
    const readable = texts.filter((text) => readBoth(text).theirs)
    expect(taken.length).toBeGreaterThan(readable.length * 0.9)
    for (const text of FINE_POINTS) compareTrees(text.replaceAll('\n', end))
  }
})

const LONG = { timeout: runs(120_000, 7_200_000) }

test('What is nested too deeply for our own parser, or has thousands of signs, is left to the compiler or read', () => {
  for (const sign of ['> ', '- ', '[', '*a ', '`', '~~a ', '<b>', '{', '![', '**_'])
    expect(() => parseMdx(`${sign.repeat(20_000)}\n`)).not.toThrow()
})

test('A text with a bit of everything gives the tree of the compiler, or is left to it', LONG, () => {
  const next = createDocuments(createRandom())
  let taken = 0
  const count = runs(2_500, 1_000_000)
  for (let at = 0; at < count; at++) if (compareTrees(next())) taken++
  expect(taken).toBeGreaterThan(count * 0.3)
})

test('Code is that of the compiler to the byte, or is left to it', LONG, async () => {
  const next = createDocuments(createRandom())
  const texts = [...EXAMPLES, ...EXTENSIONS, ...Array.from({ length: runs(600, 50_000) }, next)]
  const found: (boolean | undefined)[] = []
  for (const text of texts) found.push(await compareCode(text))
  const count = found.filter((one) => one === true).length
  expect(count).toBeGreaterThan(found.filter((one) => one !== undefined).length * 0.85)
})

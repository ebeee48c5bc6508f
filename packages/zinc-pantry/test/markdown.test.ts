import { tests as commonMark } from 'commonmark-spec'
import fc from 'fast-check'
import MarkdownIt from 'markdown-it'
import { describe, expect, test } from 'vitest'
import { pantry } from 'zinc-pantry'
import { openCollection } from 'zinc-pantry/query'
import { openFiles, runs, textOf } from './helpers.ts'

/** The HTML of bodies by name of file; ids of headings, which CommonMark does not have, are left out. */
async function htmlOf(
  files: Readonly<Record<string, string>>,
  { extensions = true } = {},
): Promise<Record<string, string>> {
  const configuration = pantry({
    severities: { 'link-broken': 'off', 'link-fragment': 'off', 'image-alternative': 'off' },
    collections: { texts: { files: '*.md', body: { extensions }, fields: {}, unknownKeys: 'ignore' } },
  })
  // Front matter comes first, so that a text may begin with a line of its own.
  const written = Object.entries(files).map(([name, text]) => [name, `---\n{}\n---\n${text}`])
  const report = await openFiles(Object.fromEntries(written), configuration)
  expect(textOf(report)).toBe('')
  const texts = openCollection<{ readonly id: string }, unknown, string>(report.site, 'texts')
  const pairs = (await texts.toArray()).map(async ({ id }) => [
    id,
    (await texts.loadBody(String(id)))?.html?.replace(/(<h[1-6]) id="[^"]*"/g, '$1'),
  ])
  return Object.fromEntries(await Promise.all(pairs))
}

/** Examples that the extension spec renders otherwise: bare addresses become links. */
const LINKED: Readonly<Record<number, string>> = {
  606: '<p>&lt;<a href="mailto:foo+@bar.example.com">foo+@bar.example.com</a>&gt;</p>\n',
  608: '<p>&lt; <a href="https://foo.bar">https://foo.bar</a> &gt;</p>\n',
  611: '<p><a href="https://example.com">https://example.com</a></p>\n',
  612: '<p><a href="mailto:foo@bar.example.com">foo@bar.example.com</a></p>\n',
}

describe('Markdown', () => {
  test('All examples of CommonMark give their HTML', async () => {
    const files = commonMark.map(({ markdown, number }) => [`${number}.md`, markdown.replaceAll('→', '\t')])
    const html = await htmlOf(Object.fromEntries(files))
    const wrong = commonMark.filter(({ number, html: wanted }) => {
      return html[String(number)] !== (LINKED[number] ?? wanted.replaceAll('→', '\t'))
    })
    expect(
      wrong.map(({ number, markdown, html: wanted }) => ({ number, markdown, wanted, got: html[String(number)] })),
    ).toEqual([])
  })
})

/** The examples of the extension spec, in its order. */
const extensions: readonly (readonly [section: string, markdown: string, html: string])[] = [
  [
    'table',
    '| foo | bar |\n| --- | --- |\n| baz | bim |',
    '<table>\n<thead>\n<tr>\n<th>foo</th>\n<th>bar</th>\n</tr>\n</thead>\n<tbody>\n<tr>\n<td>baz</td>\n<td>bim</td>\n</tr>\n</tbody>\n</table>',
  ],
  [
    'alignment',
    '| abc | defghi |\n:-: | -----------:\nbar | baz',
    '<table>\n<thead>\n<tr>\n<th align="center">abc</th>\n<th align="right">defghi</th>\n</tr>\n</thead>\n<tbody>\n<tr>\n<td align="center">bar</td>\n<td align="right">baz</td>\n</tr>\n</tbody>\n</table>',
  ],
  [
    'pipes',
    '| f\\|oo  |\n| ------ |\n| b `\\|` az |\n| b **\\|** im |',
    '<table>\n<thead>\n<tr>\n<th>f|oo</th>\n</tr>\n</thead>\n<tbody>\n<tr>\n<td>b <code>|</code> az</td>\n</tr>\n<tr>\n<td>b <strong>|</strong> im</td>\n</tr>\n</tbody>\n</table>',
  ],
  [
    'end by another block',
    '| abc | def |\n| --- | --- |\n| bar | baz |\n> bar',
    '<table>\n<thead>\n<tr>\n<th>abc</th>\n<th>def</th>\n</tr>\n</thead>\n<tbody>\n<tr>\n<td>bar</td>\n<td>baz</td>\n</tr>\n</tbody>\n</table>\n<blockquote>\n<p>bar</p>\n</blockquote>',
  ],
  [
    'end by an empty line',
    '| abc | def |\n| --- | --- |\n| bar | baz |\nbar\n\nbar',
    '<table>\n<thead>\n<tr>\n<th>abc</th>\n<th>def</th>\n</tr>\n</thead>\n<tbody>\n<tr>\n<td>bar</td>\n<td>baz</td>\n</tr>\n<tr>\n<td>bar</td>\n<td></td>\n</tr>\n</tbody>\n</table>\n<p>bar</p>',
  ],
  ['no table', '| abc | def |\n| --- |\n| bar |', '<p>| abc | def |\n| --- |\n| bar |</p>'],
  [
    'rows of other lengths',
    '| abc | def |\n| --- | --- |\n| bar |\n| bar | baz | boo |',
    '<table>\n<thead>\n<tr>\n<th>abc</th>\n<th>def</th>\n</tr>\n</thead>\n<tbody>\n<tr>\n<td>bar</td>\n<td></td>\n</tr>\n<tr>\n<td>bar</td>\n<td>baz</td>\n</tr>\n</tbody>\n</table>',
  ],
  [
    'no rows',
    '| abc | def |\n| --- | --- |',
    '<table>\n<thead>\n<tr>\n<th>abc</th>\n<th>def</th>\n</tr>\n</thead>\n</table>',
  ],
  [
    'tasks',
    '- [ ] foo\n- [x] bar',
    '<ul>\n<li><input disabled="" type="checkbox"> foo</li>\n<li><input checked="" disabled="" type="checkbox"> bar</li>\n</ul>',
  ],
  [
    'tasks below tasks',
    '- [x] foo\n  - [ ] bar\n  - [x] baz\n- [ ] bim',
    '<ul>\n<li><input checked="" disabled="" type="checkbox"> foo\n<ul>\n<li><input disabled="" type="checkbox"> bar</li>\n<li><input checked="" disabled="" type="checkbox"> baz</li>\n</ul>\n</li>\n<li><input disabled="" type="checkbox"> bim</li>\n</ul>',
  ],
  ['strikethrough', '~~Hi~~ Hello, ~there~ world!', '<p><del>Hi</del> Hello, <del>there</del> world!</p>'],
  ['strikethrough over paragraphs', 'This ~~has a\n\nnew paragraph~~.', '<p>This ~~has a</p>\n<p>new paragraph~~.</p>'],
  ['three tildes', 'This will ~~~not~~~ strike.', '<p>This will ~~~not~~~ strike.</p>'],
  ['www', 'www.example.org', '<p><a href="http://www.example.org">www.example.org</a></p>'],
  [
    'path',
    'Visit www.example.org/help for more information.',
    '<p>Visit <a href="http://www.example.org/help">www.example.org/help</a> for more information.</p>',
  ],
  [
    'trailing full stops',
    'Visit www.example.org.\n\nVisit www.example.org/a.b.',
    '<p>Visit <a href="http://www.example.org">www.example.org</a>.</p>\n<p>Visit <a href="http://www.example.org/a.b">www.example.org/a.b</a>.</p>',
  ],
  [
    'parentheses',
    'www.example.com/search?q=Markup+(business)\n\nwww.example.com/search?q=Markup+(business)))\n\n(www.example.com/search?q=Markup+(business))\n\n(www.example.com/search?q=Markup+(business)',
    '<p><a href="http://www.example.com/search?q=Markup+(business)">www.example.com/search?q=Markup+(business)</a></p>\n<p><a href="http://www.example.com/search?q=Markup+(business)">www.example.com/search?q=Markup+(business)</a>))</p>\n<p>(<a href="http://www.example.com/search?q=Markup+(business)">www.example.com/search?q=Markup+(business)</a>)</p>\n<p>(<a href="http://www.example.com/search?q=Markup+(business)">www.example.com/search?q=Markup+(business)</a></p>',
  ],
  [
    'parentheses inside',
    'www.example.com/search?q=(business))+ok',
    '<p><a href="http://www.example.com/search?q=(business))+ok">www.example.com/search?q=(business))+ok</a></p>',
  ],
  [
    'entities',
    'www.example.com/search?q=commonmark&hl=en\n\nwww.example.com/search?q=commonmark&hl;',
    '<p><a href="http://www.example.com/search?q=commonmark&amp;hl=en">www.example.com/search?q=commonmark&amp;hl=en</a></p>\n<p><a href="http://www.example.com/search?q=commonmark">www.example.com/search?q=commonmark</a>&amp;hl;</p>',
  ],
  ['less-than', 'www.example.org/he<lp', '<p><a href="http://www.example.org/he">www.example.org/he</a>&lt;lp</p>'],
  [
    'schemes',
    'http://example.org\n\n(Visit https://secret.example.com/search?q=Markup+(business))',
    '<p><a href="http://example.org">http://example.org</a></p>\n<p>(Visit <a href="https://secret.example.com/search?q=Markup+(business)">https://secret.example.com/search?q=Markup+(business)</a>)</p>',
  ],
  ['email', 'foo@bar.baz', '<p><a href="mailto:foo@bar.baz">foo@bar.baz</a></p>'],
  [
    'plus in email',
    "hello@mail+xyz.example isn't valid, but hello+xyz@mail.example is.",
    '<p>hello@mail+xyz.example isn\'t valid, but <a href="mailto:hello+xyz@mail.example">hello+xyz@mail.example</a> is.</p>',
  ],
  [
    'ends of email',
    'a.b-c_d@a.b\n\na.b-c_d@a.b.\n\na.b-c_d@a.b-\n\na.b-c_d@a.b_',
    '<p><a href="mailto:a.b-c_d@a.b">a.b-c_d@a.b</a></p>\n<p><a href="mailto:a.b-c_d@a.b">a.b-c_d@a.b</a>.</p>\n<p>a.b-c_d@a.b-</p>\n<p>a.b-c_d@a.b_</p>',
  ],
]

test('The examples of the extension spec give their HTML', async () => {
  const html = await htmlOf(Object.fromEntries(extensions.map(([, markdown], at) => [`${at}.md`, markdown])))
  const got = extensions.map(([section], at) => [section, html[String(at)]?.trim()])
  expect(got).toEqual(extensions.map(([section, , wanted]) => [section, wanted]))
})

test('Addresses, plain or not, are those that the parser makes of them', async () => {
  const word = fc.stringMatching(/^[\w.~-]{0,12}$/)
  const host = fc.stringMatching(/^[a-zA-Z\d.-]{1,70}$/)
  const address = fc.oneof(
    fc
      .tuple(fc.constantFrom('http://', 'https://', 'HTTPS://', '//', 'ftp://'), host, word)
      .map(([a, b, c]) => `${a}${b}/${c}`),
    fc
      .tuple(fc.constantFrom('', './', '../', '/', '../../', '...', '//'), word, word)
      .map(([a, b, c]) => `${a}${b}#${c}`),
    fc.stringMatching(/^[a-zåøæ\d/.?=&#%:@!$'()*+,;~[\]^`{|}-]{1,20}$/),
  )
  await fc.assert(
    fc.asyncProperty(fc.array(address, { minLength: 20, maxLength: 60 }), async (addresses) => {
      const text = `${addresses.map((one) => `[x](<${one.replace(/[<>\\]/g, '')}>)`).join('\n\n')}\n`
      expect((await htmlOf({ 'no-such-name.md': text }))['no-such-name']).toBe(new MarkdownIt().render(text))
    }),
    { numRuns: 100 },
  )
})

test('What the parser is spared changes nothing that it makes of lines and signs', async () => {
  const starts = [
    '',
    '',
    ' ',
    '  ',
    '\t',
    '    ',
    ' \t',
    '> ',
    '- ',
    '1. ',
    '# ',
    '```',
    '~~~',
    '---',
    '===',
    '<b>',
    '|',
  ]
  const signs = [
    'a',
    'b1',
    'é',
    '𝄞',
    ' ',
    '  ',
    '\t',
    '*',
    '**',
    '_',
    '`',
    '``',
    '[',
    ']',
    '(',
    ')',
    '!',
    '&amp;',
    '&',
    '\\',
    '<',
    '>',
  ]
  const line = fc
    .tuple(
      fc.constantFrom(...starts),
      fc.array(fc.constantFrom(...signs, '<i>', ':', '%', '$', '{', '}', '^', '"'), { maxLength: 8 }),
    )
    .map(([start, rest]) => start + rest.join(''))
  const text = fc.tuple(fc.array(line, { maxLength: 8 }), fc.constantFrom('\n', '', '\n  ', '\n\t', '\n\n '))
  const bare = new MarkdownIt({ html: true, xhtmlOut: true }).disable(['table', 'strikethrough'])
  await fc.assert(
    fc.asyncProperty(fc.array(text, { minLength: 20, maxLength: 60 }), async (texts) => {
      const written = texts.map(([lines, end], at) => [`${at}.md`, lines.join('\n') + end] as const)
      const html = await htmlOf(Object.fromEntries(written), { extensions: false })
      for (const [name, one] of written) {
        // An empty quotation has a line of its own in the examples of CommonMark.
        const expected = bare.render(one).replaceAll('<blockquote></blockquote>', '<blockquote>\n</blockquote>')
        expect([one, html[name.slice(0, -3)]]).toEqual([one, expected])
      }
    }),
    { numRuns: runs(30, 400) },
  )
})

test('Every address that leads nowhere is told, however it is written and wherever it stands', async () => {
  const names: readonly ((count: number) => string)[] = [
    (count) => `gone-${count}.md`,
    (count) => `here.md#gone-${count}`,
    (count) => `a\\_b.md#gone-${count}`,
    (count) => `a&lowbar;b.md#gone-${count}`,
    (count) => `a(b).md#gone-${count}`,
    (count) => `a%20b.md#gone-${count}`,
    (count) => `here.md&num;gone-${count}`,
  ]
  const written: readonly ((name: string) => string)[] = [
    (name) => `[a](${name})`,
    (name) => `![a](<${name}> "it")`,
    (name) => `![a](<my page.md#${name}> "it")`,
    (name) => `[a](\n> ${name})`,
    (name) => `[${name}]\n\n[${name}]: ${name}\n`,
    (name) => `\n\n[${name}]:\n  ${name} 'it'\n\n[b][${name}]`,
    (name) => `[a]:https://example.org/[a](${name})`,
    (name) => `<a href="${name}">b</a>`,
    (name) => `<a href=${name}?a=b>b</a>`,
    (name) => `<a title='=' HREF\n='${name}'>b</a>`,
    (name) => `<a HREF\n> =  '${name}'>b</a>`,
    (name) => `<img alt=b src=${name}>`,
    (name) => `<img alt="" srcset="${name} 1x, ${name}2 2x">`,
    (name) => `<video poster="${name}"></video>`,
  ]
  const signs = ['`', '*', '<', '[', '=', '](', ']:', '](<', 'é', '&']
  const between = fc.constantFrom('', ' ', '\n', '\n\n', '\n> ', '\n- ', '\n    ', '\n```\n', ...signs)
  const piece = fc.tuple(between, fc.constantFrom(...written), fc.constantFrom(...names))
  const site = pantry({ collections: { texts: { files: '*.md', address: '/{id}/', body: true, fields: {} } } })
  const others = ['here.md', 'a_b.md', 'a(b).md', 'my page.md', 'a b.md'].map(
    (file) => [file, '---\n{}\n---\n'] as const,
  )
  let count = 0
  await fc.assert(
    fc.asyncProperty(fc.array(piece, { minLength: 1, maxLength: 6 }), async (pieces) => {
      const body = `${pieces.map(([space, write, name], at) => space + write(name(at))).join('')}\n`
      // What HTML has in its tags is what a reader could follow; what begins with a scheme leads out of the site, whatever it has in it.
      const html = new MarkdownIt({ html: true }).render(body)
      const shown = new Set(
        [...html.matchAll(/<(?:a|img|video)\s[^>]*>/g)].flatMap(
          ([tag]) => tag.replace(/https:[^\s"']*/g, '').match(/gone-\d+/g) ?? [],
        ),
      )
      const text = `---\n{}\n---\n${body}`
      const { diagnostics } = await openFiles({ 'a.md': text, ...Object.fromEntries(others) }, site)
      const told = diagnostics.flatMap(({ span }) => text.slice(...span).match(/gone-\d+/g) ?? [])
      expect([...shown].filter((name) => !told.includes(name))).toEqual([])
      count += shown.size
    }),
    { numRuns: runs(150, 5000) },
  )
  expect(count).toBeGreaterThan(20)
})

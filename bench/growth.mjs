/**
 * How processor time grows when an input of one construct doubles: 2 where the work is in proportion, 4 where it is
 * quadratic. Each family is a file, or many, of one construct at sizes n, 2n, 4n and 8n; one growth above the limit fails.
 *
 * node bench/growth.mjs [PART OF A NAME]
 */

import { spawnSync } from 'node:child_process'
import { fileURLToPath } from 'node:url'

const dist = new URL('../packages/zinc-pantry/dist', import.meta.url).href
const schema = await import(`${dist}/index.js`)
const { buildSite, changeSite, createMemoryHost, renderJson, renderText } = await import(`${dist}/engine/index.js`)
const { pantry, anything, file, image, int, list, markdown, map, ref, text } = schema

const LIMIT = 2.6
/** Below so much nothing can be told from the noise. */
const LEAST_MS = 80
/** So long a family may take in all. */
const MOST_MS = 60_000
const ROUNDS = 2

const repeat = (part, count) => part.repeat(count)
const many = (count, make) => Array.from({ length: count }, (_, at) => make(at))

const FIELDS = {
  title: text({ optional: true }),
  items: list(anything(), { optional: true }),
  any: anything({ optional: true }),
  note: markdown({ optional: true }),
  photo: image({ optional: true }),
  photos: list(image(), { optional: true }),
  files: list(file(), { optional: true }),
  words: list(text(), { optional: true }),
  unique: list(text(), { optional: true, uniqueItems: true }),
  near: list(ref('pages'), { optional: true }),
  number: list(int(), { optional: true }),
  keyed: map(text(), { optional: true }),
}
const one = (path, make, fields = FIELDS) => ({
  files: (n) => ({ [`content/${path}`]: make(n) }),
  configuration: pantry({
    blocks: { note: { fields: { tone: text({ optional: true }) } } },
    collections: {
      pages: {
        files: path,
        perFile: 'one',
        body: path.endsWith('.md') || path.endsWith('.mdx'),
        unknownKeys: 'refuse',
        fields,
      },
    },
  }),
})
const body = (make) => one('a.md', (n) => `---\ntitle: x\n---\n${make(n)}\n`)
const mdx = (make) => one('a.mdx', (n) => `---\ntitle: x\n---\n${make(n)}\n`)
const yaml = (make) => one('a.yaml', make)
const json = (make) => one('a.json', make)
const toml = (make) => one('a.toml', make)
const jsonc = (make) => one('a.jsonc', make)
const rows = (
  path,
  make,
  fields = { name: text({ optional: true }), beds: int({ optional: true }) },
  settings = {},
) => ({
  files: (n) => ({ [`content/${path}`]: make(n) }),
  configuration: pantry({ collections: { pages: { files: path, fields, ...settings } } }),
})
const tree = (make, settings = {}, fields = FIELDS) => ({
  files: (n) => Object.fromEntries(many(n, (at) => make(at, n)).map(([path, content]) => [`content/${path}`, content])),
  configuration: pantry({ collections: { pages: { files: '**/*.{md,yaml,json}', body: true, fields, ...settings } } }),
})

/** A change of a table, as it would be proved. */
const change = (path, make, request, settings) => ({
  ...rows(
    path,
    make,
    { name: text(), beds: int({ optional: true }), near: ref('pages'), words: list(text(), { optional: true }) },
    settings,
  ),
  request,
})
/** Tables of so many entries, each of which refers to another one. */
const TABLES = {
  json: (n, near) => JSON.stringify(many(n, (at) => ({ id: `a${at}`, name: `Hut ${at}`, near: near(at) }))),
  csv: (n, near) => `id,name,near,beds\n${many(n, (at) => `a${at},Hut ${at},${near(at)},\n`).join('')}`,
  yaml: (n, near) => many(n, (at) => `- id: a${at}\n  name: Hut ${at}\n  near: ${near(at)}\n`).join(''),
  toml: (n, near) => many(n, (at) => `[[pages]]\nid = "a${at}"\nname = "Hut ${at}"\nnear = "${near(at)}"\n`).join(''),
}
/** A change of a table whose entries all refer to the first. */
const changeTable = (ending, request) =>
  change(`a.${ending}`, (n) => TABLES[ending](n, () => 'a0'), request, ending === 'toml' ? { records: '/pages' } : {})
const setAll = { kind: 'set', collection: 'pages', assignments: [{ path: ['beds'], kind: 'set', text: '7' }] }
const renameFirst = { kind: 'rename', target: 'pages/a0', name: 'crag' }
const references = (make, settings) => ({
  files: (n) => ({
    'content/a.json': JSON.stringify({ tags: many(n, make) }),
    'content/tags/draft.json': '{"draft":true}',
  }),
  configuration: pantry({
    ...settings,
    collections: {
      pages: { files: 'a.json', perFile: 'one', fields: { tags: list(ref('tags')) } },
      tags: {
        files: 'tags/*.json',
        publication: { draft: 'draft' },
        fields: { draft: schema.flag({ default: false }) },
      },
    },
  }),
})

/** Constructs by name, with the size of the smallest input. */
const FAMILIES = {
  'markdown: words': [body((n) => repeat('word ', n)), 40_000],
  'markdown: paragraphs': [body((n) => repeat('word\n\n', n)), 8_000],
  'markdown: links': [body((n) => repeat('[a](#b) ', n)), 4_000],
  'markdown: broken links': [body((n) => many(n, (at) => `[a](b${at}.md)\n`).join('')), 800],
  'markdown: broken links on one line': [body((n) => many(n, (at) => `[a](b${at}.md)`).join(' ')), 800],
  'markdown: links to missing headings': [body((n) => many(n, (at) => `[a](#h${at})\n`).join('')), 800],
  'markdown: images': [body((n) => repeat('![a](b.png) ', n)), 800],
  'markdown: missing images': [body((n) => many(n, (at) => `![a](b${at}.png)\n`).join('')), 800],
  'markdown: addresses': [body((n) => repeat('http://a.example/b ', n)), 3_000],
  'markdown: address and )': [body((n) => `http://a${repeat(')', n)}`), 5_000],
  'markdown: address and &': [body((n) => `http://a${repeat('&amp;', n)}`), 3_000],
  'markdown: www.': [body((n) => repeat('www.', n)), 5_000],
  'markdown: @': [body((n) => repeat('a@', n)), 5_000],
  'markdown: a.b@': [body((n) => `${repeat('a.', n)}@`), 5_000],
  'markdown: headings': [body((n) => many(n, (at) => `# Heading ${at}\n`).join('')), 1_500],
  'markdown: headings of one text': [body((n) => repeat('# Same\n', n)), 1_500],
  'markdown: footnotes': [body((n) => many(n, (at) => `a[^${at}]\n\n[^${at}]: note\n\n`).join('')), 500],
  'markdown: one footnote often': [body((n) => `${repeat('a[^1] ', n)}\n\n[^1]: note\n`), 800],
  'markdown: footnotes in the line': [body((n) => repeat('a^[note] ', n)), 800],
  'markdown: open footnotes': [body((n) => repeat('[^a', n)), 4_000],
  'markdown: directives in the line': [body((n) => repeat(':note[a] ', n)), 1_000],
  'markdown: open directives': [body((n) => repeat(':note[', n)), 1_000],
  'markdown: open attributes': [body((n) => repeat(':note[a]{', n)), 1_000],
  'markdown: attributes': [body((n) => `:note[a]{${repeat('tone="x" ', n)}}`), 3_000],
  'markdown: directives on a line': [body((n) => repeat('::note[a]\n\n', n)), 1_000],
  'markdown: directives around': [body((n) => repeat(':::note\na\n:::\n\n', n)), 800],
  'markdown: nested directives': [body((n) => `${repeat(':::note\n', n)}${repeat(':::\n', n)}`), 500],
  'markdown: nested directives of other lengths': [
    body((n) => many(n, (at) => `${':'.repeat(3 + (at % 40))}note\n`).join('')),
    500,
  ],
  'markdown: unclosed directives': [body((n) => repeat(':::note\n', n)), 500],
  'markdown: quotes': [body((n) => repeat('> a\n', n)), 8_000],
  'markdown: nested quotes': [body((n) => `${repeat('> ', n)}a`), 800],
  'markdown: lists': [body((n) => repeat('- a\n', n)), 5_000],
  'markdown: attributes of HTML': [body((n) => `<div ${repeat('a="b" ', n)}>`), 4_000],
  'markdown: open quotes in HTML': [body((n) => `<div>\n${repeat('<a href="x" title=\'', n)}`), 4_000],
  'markdown: attributes without values': [body((n) => repeat('href=', n)), 20_000],
  'markdown: ends of links in ends of links': [body((n) => repeat('](', n)), 20_000],
  'markdown: image candidates': [body((n) => `<img srcset="${repeat('x.png 1x, ', n)}">`), 2_000],
  'markdown: candidates of commas': [body((n) => `<img srcset="${repeat(',', n)}x${repeat(',', n)}">`), 8_000],
  'markdown: open comments': [body((n) => `<div>\n${repeat('<!-', n)}${repeat('<!--', n)}`), 4_000],
  'markdown: nested lists': [body((n) => `${repeat('- ', n)}a`), 800],
  'markdown: tasks': [body((n) => repeat('- [ ] a\n', n)), 4_000],
  'markdown: tables': [body((n) => `| a | b |\n| - | - |\n${repeat('| 1 | 2 |\n', n)}`), 3_000],
  'markdown: table cells': [
    body((n) => `${repeat('| a ', n)}|\n${repeat('| - ', n)}|\n${repeat('| 1 ', n)}|\n`),
    2_000,
  ],
  'markdown: links in table cells': [
    body((n) => `| a |\n| - |\n${many(n, (at) => `| [x](b${at}.md) |\n`).join('')}`),
    500,
  ],
  'markdown: links in one row': [
    body((n) => `${repeat('| a ', n)}|\n${repeat('| - ', n)}|\n${many(n, (at) => `| [x](b${at}.md) `).join('')}|\n`),
    300,
  ],
  'markdown: code fences': [body((n) => repeat('```js\na\n```\n', n)), 2_500],
  'markdown: one long fence': [body((n) => `\`\`\`js\n${repeat('a\n', n)}\`\`\``), 40_000],
  'markdown: backticks': [body((n) => many(n, (at) => '`'.repeat(1 + (at % 200))).join(' ')), 400],
  'markdown: brackets': [body((n) => repeat('[', n)), 4_000],
  'markdown: closed brackets': [body((n) => `${repeat('[', n)}a${repeat(']', n)}`), 1_500],
  'markdown: emphasis': [body((n) => repeat('*a **b', n)), 3_000],
  'markdown: strikethrough': [body((n) => repeat('~~a', n)), 5_000],
  'markdown: raw HTML': [body((n) => repeat('<b>a</b>\n\n', n)), 3_000],
  'markdown: raw HTML in the line': [body((n) => repeat('a <b>a</b> ', n)), 3_000],
  'markdown: raw links': [body((n) => many(n, (at) => `<a href="b${at}.md">a</a>\n\n`).join('')), 500],
  'markdown: raw links in one block': [
    body((n) => `<div>\n${many(n, (at) => `<a href="b${at}.md">a</a>\n`).join('')}</div>`),
    500,
  ],
  'markdown: open tags': [body((n) => repeat('<a ', n)), 5_000],
  'markdown: comments': [body((n) => repeat('<!-- a ', n)), 5_000],
  'markdown: entities': [body((n) => repeat('&amp;', n)), 20_000],
  'markdown: escapes': [body((n) => repeat('\\*', n)), 20_000],
  'markdown: definitions': [body((n) => `${many(n, (at) => `[a${at}]: /b\n`).join('')}`), 3_000],
  'markdown: references to definitions': [body((n) => `[a]: /b\n\n${repeat('[a] ', n)}`), 4_000],
  'markdown: CRLF and broken links': [body((n) => many(n, (at) => `[a](b${at}.md)\r\n`).join('')), 800],
  'markdown: quotes of links': [body((n) => many(n, (at) => `> [a](b${at}.md)\n`).join('')), 800],
  'markdown: list of links': [body((n) => many(n, (at) => `- [a](b${at}.md)\n`).join('')), 800],
  'mdx: paragraphs': [mdx((n) => repeat('word\n\n', n)), 800],
  'mdx: components': [mdx((n) => repeat('<Note tone="a" />\n\n', n)), 300],
  'mdx: components that are none': [mdx((n) => many(n, (at) => `<Nothing${at} />\n\n`).join('')), 200],
  'mdx: expressions': [mdx((n) => repeat('a {1 + 1}\n\n', n)), 300],
  'mdx: headings of one text': [mdx((n) => repeat('# Same\n\n', n)), 400],
  'mdx: broken links': [mdx((n) => many(n, (at) => `[a](b${at}.md)\n\n`).join('')), 300],
  'field of markdown: broken links': [yaml((n) => `note: |\n${many(n, (at) => `  [a](b${at}.md)\n`).join('')}`), 500],
  'front matter: keys': [one('a.md', (n) => `---\n${many(n, (at) => `k${at}: 1\n`).join('')}---\n`, {}), 800],
  'yaml: items': [yaml((n) => `any:\n${repeat('  - a\n', n)}`), 8_000],
  'yaml: flow': [yaml((n) => `any: [${repeat('a, ', n)}a]\n`), 8_000],
  'yaml: keys': [yaml((n) => `any:\n${many(n, (at) => `  k${at}: 1\n`).join('')}`), 6_000],
  'yaml: a long text': [yaml((n) => `any: |\n${repeat('  word\n', n)}`), 20_000],
  'yaml: a long quoted text': [yaml((n) => `any: "${repeat('\\n', n)}"\n`), 20_000],
  'yaml: a folded text': [yaml((n) => `any: >\n${repeat('  word\n', n)}`), 20_000],
  'yaml: wrong items': [yaml((n) => `number:\n${repeat('  - a\n', n)}`), 1_500],
  'yaml: wrong items in flow': [yaml((n) => `number: [${repeat('a, ', n)}a]\n`), 1_500],
  'yaml: unknown keys': [yaml((n) => many(n, (at) => `k${at}: 1\n`).join('')), 800],
  'yaml: repeated keys': [yaml((n) => repeat('k: 1\n', n)), 1_000],
  'yaml: anchors': [yaml((n) => `any:\n${many(n, (at) => `  - &a${at} x\n  - *a${at}\n`).join('')}`), 2_000],
  'yaml: one alias often': [yaml((n) => `any:\n  - &a x\n${repeat('  - *a\n', n)}`), 4_000],
  'yaml: aliases of a list, and a fault': [
    yaml((n) => `any:\n  - &a [${repeat('x, ', n)}x]\n${repeat('  - *a\n', n)}  - [a\n b]\n`),
    40,
  ],
  'yaml: broken lines': [yaml((n) => repeat('a: [\n', n)), 1_000],
  'yaml: tabs': [yaml((n) => repeat('\ta: 1\n', n)), 3_000],
  'yaml: comments': [yaml((n) => `${repeat('# a\n', n)}any: 1\n`), 20_000],
  'yaml: documents': [yaml((n) => repeat('---\na: 1\n', n)), 2_000],
  'yaml: words for true': [yaml((n) => `any: [${repeat('yes, ', n)}yes]\n`), 1_000],
  'yaml: a plain text of many lines': [yaml((n) => `any:\n${repeat('  word\n', n)}`), 8_000],
  'json: items': [json((n) => `{"any": [${repeat('1,', n)}1]}`), 60_000],
  'json: wrong items on one line': [json((n) => `{"number": [${repeat('"a",', n)}1]}`), 2_000],
  'json: wrong items on lines': [json((n) => `{"number": [${repeat('"a",\n', n)}1]}`), 2_000],
  'json: repeated keys': [json((n) => `{${repeat('"a": 1,', n)}"b": 1}`), 2_000],
  'json: unknown keys': [json((n) => `{${many(n, (at) => `"k${at}": 1`).join(',')}}`), 800],
  'json: fault at the end': [json((n) => `{"any": [${repeat('1,', n)}`), 20_000],
  'json: fault after strings': [json((n) => `{"any": [${repeat('"a\\n",', n)}`), 20_000],
  'json: trailing commas': [json((n) => `{"any": [${repeat('[1,],', n)}1]}`), 3_000],
  'json: warnings on one line': [json((n) => `{"any": [${repeat('"yes",', n)}1]}`), 2_000],
  'jsonc: comments': [jsonc((n) => `{"any": [${repeat('1, // a\n', n)}1]}`), 8_000],
  'json lines': [rows('a.jsonl', (n) => many(n, (at) => `{"id": "a${at}", "name": "x"}\n`).join('')), 2_000],
  'json lines: faults': [rows('a.jsonl', (n) => repeat('{"id": \n', n)), 800],
  'json lines: wrong values': [
    rows('a.jsonl', (n) => many(n, (at) => `{"id": "a${at}", "beds": "x"}\n`).join('')),
    800,
  ],
  'toml: keys': [toml((n) => `[any]\n${many(n, (at) => `k${at} = 1\n`).join('')}`), 3_000],
  'toml: tables': [toml((n) => many(n, (at) => `[any.t${at}]\na = 1\n`).join('')), 1_500],
  'toml: tables of a list': [toml((n) => repeat('[[items]]\na = 1\n', n)), 1_500],
  'toml: wrong items': [toml((n) => `number = [${repeat('"a", ', n)}1]\n`), 1_000],
  'toml: dots': [toml((n) => `any.${many(Math.min(n, 90), () => 'a').join('.')} = 1\n${repeat('# a\n', n)}`), 8_000],
  'csv: rows': [rows('a.csv', (n) => `id,name\n${many(n, (at) => `a${at},x\n`).join('')}`), 3_000],
  'csv: columns': [rows('a.csv', (n) => `id,${many(n, (at) => `c${at}`).join(',')}\na,${repeat('1,', n - 1)}1\n`), 800],
  'csv: wrong cells': [rows('a.csv', (n) => `id,beds\n${many(n, (at) => `a${at},x\n`).join('')}`), 800],
  'csv: long rows': [rows('a.csv', (n) => `id,name\n${many(n, (at) => `a${at},x,y\n`).join('')}`), 1_500],
  'csv: dots in a heading': [rows('a.csv', (n) => `id,${repeat('a.', n)}b\nx,1\n`), 2_000],
  'csv: one dotted group': [
    rows('a.csv', (n) => `id,${many(n, (at) => `g.c${at}`).join(',')}\na,${repeat('1,', n - 1)}1\n`),
    500,
  ],
  'csv: quotes': [rows('a.csv', (n) => `id,name\na,"${repeat('""', n)}"\n`), 40_000],
  'csv: an open quote': [rows('a.csv', (n) => `id,name\na,"${repeat('x\n', n)}`), 8_000],
  'csv: items in a cell': [rows('a.csv', (n) => `id,words\na,${repeat('x;', n)}x\n`, { words: list(text()) }), 8_000],
  'records: entries': [rows('a.json', (n) => JSON.stringify(many(n, (at) => ({ id: `a${at}`, name: 'x' })))), 2_000],
  'records: one id': [rows('a.json', (n) => JSON.stringify(many(n, () => ({ id: 'a', name: 'x' })))), 1_000],
  'records: slugs of one text': [
    rows(
      'a.json',
      (n) => JSON.stringify(many(n, (at) => ({ id: `A${'!'.repeat(at % 50)}${at}`, s: 'x' }))),
      { s: text() },
      { slug: 's' },
    ),
    800,
  ],
  'values: missing pictures': [json((n) => JSON.stringify({ photos: many(n, (at) => `p${at}.png`) })), 400],
  'values: missing files': [json((n) => JSON.stringify({ files: many(n, (at) => `p${at}.txt`) })), 400],
  'values: unique items': [json((n) => JSON.stringify({ unique: many(n, String) })), 8_000],
  'values: repeated items': [json((n) => JSON.stringify({ unique: many(n, () => 'a') })), 1_000],
  'values: dangling references': [json((n) => JSON.stringify({ near: many(n, (at) => `x${at}`) })), 500],
  'values: a long key': [json((n) => JSON.stringify({ keyed: { [repeat('k', n)]: 'x' } })), 200_000],
  'values: a long text': [json((n) => JSON.stringify({ title: repeat('🏔 x', n) })), 60_000],
  'site: files': [tree((at) => [`a${at}.md`, '---\ntitle: x\n---\nText\n']), 300],
  'site: files in folders': [tree((at) => [`d${at}/a.md`, '---\ntitle: x\n---\nText\n']), 300],
  'site: broken links': [tree((at) => [`a${at}.md`, `---\ntitle: x\n---\n[a](b${at}.md)\n`]), 200],
  'site: links to each other': [tree((at, n) => [`a${at}.md`, `---\ntitle: x\n---\n[a](a${(at + 1) % n}.md)\n`]), 300],
  'site: links and references into files that cannot be read': [
    tree(
      (at) => [
        `a${at}.md`,
        at % 2
          ? '---\n"open\n---\n'
          : `---\nup: a${at + 1}\n---\n[a](/a${at + 1}/) [b](/b${at}/) [c](pages/a${at + 1})\n`,
      ],
      { address: '/{id}/' },
      { up: ref('pages', { optional: true }) },
    ),
    1_000,
  ],
  'site: references in a circle': [tree((at, n) => [`a${at}.yaml`, `near: [a${(at + 1) % n}]\n`]), 300],
  'site: missing pictures beside others': [
    tree((at) => (at % 2 === 0 ? [`p${at}.png`, 'x'] : [`a${at}.yaml`, `photo: q${at}.png\n`])),
    300,
  ],
  'site: a chain of parents': [
    tree(
      (at) => [`a${at}.yaml`, at === 0 ? '{}\n' : `up: a${at - 1}\n`],
      { parent: 'up' },
      { up: ref('pages', { optional: true }) },
    ),
    300,
  ],
  'site: reverse references': [
    tree(
      (at) => [`a${at}.yaml`, 'up: a0\n'],
      {},
      { up: ref('pages', { optional: true }), down: schema.reverse('pages', 'up') },
    ),
    300,
  ],
  'site: made entries': [
    {
      files: (n) => ({ 'content/a.json': JSON.stringify({ tags: many(n, (at) => `tag ${at}`) }) }),
      configuration: pantry({
        collections: {
          pages: { files: 'a.json', perFile: 'one', fields: { tags: list(ref('tags')) } },
          tags: { files: 'tags/*.json', createFrom: 'name', fields: { name: text() } },
        },
      }),
    },
    500,
  ],
  'site: references to nothing, warned of': [
    references((at) => `t${at}`, { severities: { 'ref-dangling': 'warning' } }),
    4_000,
  ],
  'site: references to a draft, warned of': [
    references(() => 'draft', { severities: { 'ref-unpublished': 'warning' } }),
    2_000,
  ],
  'site: files of no collection': [
    {
      files: (n) => Object.fromEntries(many(n, (at) => [`content/x/a${at}.mdx`, ''])),
      configuration: pantry({ collections: { pages: { files: 'x/*.md', fields: {} } } }),
    },
    500,
  ],
  'site: derived from all': [
    {
      files: (n) => ({ 'content/a.json': JSON.stringify(many(n, (at) => ({ id: `a${at}` }))) }),
      configuration: pantry({
        collections: {
          pages: {
            files: 'a.json',
            fields: {},
            derive: { count: { field: int(), from: (_, site) => site.entries('pages').length } },
          },
        },
      }),
    },
    1_000,
  ],
  'site: groups in groups': [json((n) => JSON.stringify({ any: many(n, () => ({ a: { b: { c: 1 } } })) })), 4_000],
  // A run of one sign, in places where something may begin or end with it.
  ...Object.fromEntries(
    Object.entries({
      'spaces in a heading': [body, (run) => `# a${run(' ')}b`],
      'spaces in a paragraph': [body, (run) => `a${run(' ')}b\nc`],
      'dots in an address': [body, (run) => `http://a.example/${run('.')}x`],
      'spaces in a table': [body, (run) => `| a |${run(' ')}b |\n|---|---|\n| c | d |`],
      'mdx: spaces in a heading': [mdx, (run) => `# a${run(' ')}b`],
      'mdx: spaces in a paragraph': [mdx, (run) => `a${run(' ')}b\nc`],
      'mdx: dots in an address': [mdx, (run) => `http://a.example/${run('.')}x`],
      'yaml: spaces in a value': [yaml, (run) => `title: a${run(' ')}b`],
      'yaml: spaces in a fault': [yaml, (run) => `title: a${run(' ')}b: c`],
      'yaml: spaces in front of a comment': [yaml, (run) => `title: "a" b${run(' ')}x # y`],
      'yaml: spaces and marks': [yaml, (run) => `title: [a${run(' #')}\n]`],
      'json: spaces in a fault': [json, (run) => `{"title" ${run(' ')} "a"}`],
      'csv: digits of a number': [(make) => rows('a.csv', make), (run) => `id,beds\na,${run('1')}x\n`],
    }).map(([name, [form, make]]) => [`runs: ${name}`, [form((n) => make((sign) => repeat(sign, n))), 10_000]]),
  ),
  ...Object.fromEntries(
    Object.keys(TABLES).flatMap((ending) => [
      [`changes: a value of all entries, ${ending}`, [changeTable(ending, () => setAll), 500]],
      [`changes: another name where all lead, ${ending}`, [changeTable(ending, () => renameFirst), 500]],
    ]),
  ),
  'changes: another place in a list': [
    changeTable('json', (n) => ({ kind: 'move', target: 'pages/a5', after: `a${n - 2}` })),
    1_000,
  ],
  'changes: an entry goes': [
    change(
      'a.yaml',
      (n) => TABLES.yaml(n, (at) => `a${at - (at % 2)}`),
      () => ({
        kind: 'remove',
        target: 'pages/a2',
        replacement: 'a0',
      }),
    ),
    1_000,
  ],
  'changes: a list written anew': [
    change(
      'a.json',
      (n) => JSON.stringify([{ id: 'a', name: 'x', near: 'a', words: many(n, (at) => `w${at}`) }]),
      (n) => ({
        kind: 'write',
        collection: 'pages',
        id: 'a',
        record: { id: 'a', name: 'x', near: 'a', words: many(n, (at) => `w${(at * 7 + 1) % n}`) },
      }),
    ),
    500,
  ],
  'changes: mends': [
    {
      ...one('a*.json', () => ''),
      files: (n) => Object.fromEntries(many(n, (at) => [`content/a${at}.json`, '{"title": "x",}'])),
      request: () => ({ kind: 'mend' }),
    },
    500,
  ],
  'patterns: backtracking': [
    one('a.json', (n) => JSON.stringify({ p: `${repeat('a', n)}!` }), { p: text({ pattern: '^(?:a|a)*b$' }) }),
    2_000,
  ],
  'patterns: nested': [
    one('a.json', (n) => JSON.stringify({ p: `${repeat('a', n)}!` }), { p: text({ pattern: '^(a+)+$' }) }),
    2_000,
  ],
}

/** Milliseconds of processor time that a build and the telling of its problems take, or the proof of a change: the least of some rounds. */
async function measure({ files, configuration, request }, n) {
  const content = files(n)
  let least = Number.POSITIVE_INFINITY
  for (let round = 0; round < ROUNDS; round++) {
    globalThis.gc?.()
    const host = createMemoryHost(content, configuration)
    const before = process.cpuUsage()
    const options = { host, configurationFile: 'pantry.config.ts', cache: false }
    if (request) {
      const answer = await changeSite({ ...options, dryRun: true }, request(n))
      if (!answer.change?.steps.length) throw new Error(`Nothing is changed: ${answer.refused ?? 'no steps'}`)
    } else {
      const { diagnostics, textOf } = await buildSite(options)
      renderText(diagnostics, textOf)
      renderJson(diagnostics, textOf)
    }
    const { user, system } = process.cpuUsage(before)
    least = Math.min(least, (user + system) / 1000)
    if (least > 3_000) break
  }
  return least
}

/** Measures one family, in this process. */
async function measureFamily(name, given) {
  const [family, start] = FAMILIES[name]
  let n = given || start
  // The first inputs are read by code that is not compiled yet.
  await measure(family, n)
  await measure(family, n)
  let last = await measure(family, n)
  // What is too fast to be told from noise is made larger.
  for (let grown = 0; !given && last < LEAST_MS && grown < 5; grown++) {
    n *= 2
    last = await measure(family, n)
  }
  const times = [last]
  for (const factor of [2, 4, 8]) times.push(await measure(family, n * factor))
  return { n, times }
}

if (process.argv[2] === '--family') {
  console.log(JSON.stringify(await measureFamily(process.argv[3], Number(process.argv[4]))))
  process.exit(0)
}

const wanted = process.argv[2] ?? ''
const chosen = Object.keys(FAMILIES).filter((name) => name.includes(wanted))
let failed = 0
for (const name of chosen) {
  const label = name.padEnd(48)
  let best
  let growths = []
  let larger = 0
  // A machine that does other work makes a step slower, never faster: what looks quadratic is measured again. Then it
  // is measured from twice the size on: the step at which memory has to be collected moves, what is quadratic stays.
  for (let attempt = 0; attempt < 4 && (!best || growths.some((growth) => growth > LIMIT)); attempt++) {
    if (attempt === 2) larger = best.n * 2
    // Each in a process of its own, so that one that does not end can be ended.
    const { stdout, stderr, status } = spawnSync(
      process.execPath,
      [
        '--max-old-space-size=4000',
        '--max-semi-space-size=256',
        fileURLToPath(import.meta.url),
        '--family',
        name,
        String(larger || (best?.n ?? 0)),
      ],
      { encoding: 'utf8', timeout: MOST_MS },
    )
    if (status !== 0) {
      console.log(
        `! ${label} ${status === null ? `no end within ${MOST_MS / 1000} s` : stderr.trim().split('\n').slice(-8).join(' ')}`,
      )
      best = undefined
      break
    }
    const { n, times } = JSON.parse(stdout)
    best = { n, times: best?.n === n ? times.map((time, at) => Math.min(time, best.times[at])) : times }
    growths = best.times.slice(1).map((time, at) => time / best.times[at])
  }
  const isFine = best !== undefined && growths.every((growth) => growth <= LIMIT)
  if (!isFine) failed++
  if (!best) continue
  const shown = best.times.map((time) => `${Math.round(time)} ms`.padStart(9)).join('')
  console.log(
    `${isFine ? ' ' : '!'} ${label} n ${String(best.n).padStart(7)} ${shown}   ${growths.map((growth) => growth.toFixed(2)).join('  ')}`,
  )
}
console.log(`\n${chosen.length - failed} of ${chosen.length} grow by at most ${LIMIT} when their input doubles`)
process.exitCode = failed === 0 ? 0 : 1

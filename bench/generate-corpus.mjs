#!/usr/bin/env node
// Deterministic synthetic content corpus.
//
//   node generate-corpus.mjs <count> <outdir> [seed=1] [kind=md]
//
// kind: md | mdx | json | yaml | toml  -> <count> files  notes/<year>/<slug>.<kind>
//       csv                            -> one file       notes.csv with <count> rows
// Same (count, seed, kind) gives byte-identical files, on any machine.
// Each .md/.mdx file is about 3 KB: ten front-matter fields (quoted strings,
// comments, nested lists), then headings, links, lists, code fences, a table.
import { mkdirSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'

const [count, outdir, seed, kind] = [
  Number(process.argv[2]),
  process.argv[3],
  Number(process.argv[4] ?? 1),
  process.argv[5] ?? 'md',
]
if (!Number.isInteger(count) || count < 1 || !outdir || !Number.isInteger(seed)) {
  console.error('usage: generate-corpus.mjs <count> <outdir> [seed] [md|mdx|json|yaml|toml|csv]')
  process.exit(2)
}

// mulberry32: small, fast, the same on every platform.
let state = seed >>> 0
const rnd = () => {
  state = (state + 0x6d2b79f5) >>> 0
  let t = state
  t = Math.imul(t ^ (t >>> 15), t | 1)
  t ^= t + Math.imul(t ^ (t >>> 7), t | 61)
  return ((t ^ (t >>> 14)) >>> 0) / 4294967296
}
const int = (lo, hi) => lo + Math.floor(rnd() * (hi - lo + 1))
const pick = (a) => a[Math.floor(rnd() * a.length)]
const some = (a, n) => {
  const s = new Set()
  while (s.size < n) s.add(pick(a))
  return [...s]
}

// A vocabulary of ~2,400 made-up stems with a Zipf-like draw, so that a
// full-text index sees common and rare words, as in real prose.
const ON = [
  'b',
  'br',
  'c',
  'cl',
  'd',
  'dr',
  'f',
  'fl',
  'g',
  'gr',
  'h',
  'k',
  'l',
  'm',
  'n',
  'p',
  'pl',
  'r',
  's',
  'st',
  't',
  'tr',
  'v',
  'w',
]
const VO = ['a', 'e', 'i', 'o', 'u', 'ai', 'ea', 'ou']
const CO = ['', 'l', 'm', 'n', 'r', 's', 't', 'ck', 'nd', 'st']
const VOCAB = []
{
  const seen = new Set()
  while (VOCAB.length < 2400) {
    let w = ''
    for (let i = int(1, 3); i > 0; i--) w += pick(ON) + pick(VO) + pick(CO)
    if (w.length > 2 && !seen.has(w)) {
      seen.add(w)
      VOCAB.push(w)
    }
  }
}
const COMMON = 'the of and to in a is that for it with as was on be by at this from or an are not which but have'.split(
  ' ',
)
const word = () => (rnd() < 0.38 ? pick(COMMON) : VOCAB[Math.floor(VOCAB.length * rnd() ** 2.2)])
const words = (n) => Array.from({ length: n }, word)
const cap = (s) => s[0].toUpperCase() + s.slice(1)
const TAGS = Array.from({ length: 60 }, (_, i) => VOCAB[i * 17 + 5])
const WARDENS = Array.from({ length: 40 }, (_, i) => `${VOCAB[i * 11 + 3]}-${VOCAB[i * 13 + 9]}`)
const CATEGORIES = ['guides', 'news', 'reference', 'tutorials', 'opinion']
const SYMBOL = ['open', 'load', 'emit', 'scan', 'merge', 'index', 'query', 'watch']

const slugs = []
const slugOf = (i) => (slugs[i] ??= `${words(3).join('-')}-${i}`)
const pad = (n) => String(n).padStart(2, '0')

function inline() {
  const r = rnd()
  if (r < 0.02) return `**${words(2).join(' ')}**`
  if (r < 0.04) return `*${word()}*`
  if (r < 0.065) return `\`${pick(SYMBOL)}(${word()})\``
  if (r < 0.08) return `[${words(2).join(' ')}](https://example.org/${word()}/${word()})`
  if (r < 0.09) return `[${word()}](./${slugOf(int(0, count - 1))}.md#${word()} "${word()}")`
  if (r < 0.092) return `![${word()}](../img/${word()}.png)`
  return word()
}
const sentence = (n = int(8, 16)) => `${cap(Array.from({ length: n }, inline).join(' '))}.`
function paragraph(n = int(2, 4)) {
  const out = []
  let line = ''
  for (const w of Array.from({ length: n }, () => sentence())
    .join(' ')
    .split(' ')) {
    if (line.length + w.length > 78) {
      out.push(line)
      line = w
    } else line = line ? `${line} ${w}` : w
  }
  out.push(line)
  return out.join('\n')
}
function body(mdx) {
  const b = []
  if (mdx) b.push(`import { Note } from '../components/note.js'\n\nexport const level = ${int(1, 5)}`)
  b.push(paragraph(2))
  const sections = 3
  for (let s = 0; s < sections; s++) {
    b.push(`${'#'.repeat(s === 2 ? 3 : 2)} ${cap(words(int(2, 5)).join(' '))}`)
    b.push(paragraph())
    if (s === 0)
      b.push(
        Array.from(
          { length: int(3, 5) },
          (_, i) => `- ${sentence(int(4, 8))}${i === 1 ? `\n  - ${sentence(4)}\n  - ${sentence(5)}` : ''}`,
        ).join('\n'),
      )
    if (s === 1) {
      b.push(
        '```ts\n' +
          Array.from(
            { length: int(4, 7) },
            () =>
              `const ${pick(SYMBOL)}${int(1, 99)} = ${pick(SYMBOL)}('${word()}', ${int(1, 999)}) // ${words(3).join(' ')}`,
          ).join('\n') +
          '\n```',
      )
      b.push(
        '| Name | Kind | Count |\n| :--- | ---- | ----: |\n' +
          Array.from({ length: int(3, 5) }, () => `| \`${word()}\` | ${words(2).join(' ')} | ${int(1, 5000)} |`).join(
            '\n',
          ),
      )
      if (mdx) b.push(`<Note level={level}>\n  ${sentence(6)} {level + ${int(1, 9)}}\n</Note>`)
    }
    if (s === 2) {
      b.push(`> ${sentence(7)}`)
      b.push(Array.from({ length: 3 }, (_, i) => `${i + 1}. ${sentence(int(4, 7))}`).join('\n'))
      if (mdx) b.push(`Inline <b>{${int(1, 99)}}</b> ${sentence(5)}`)
    }
  }
  return `${b.join('\n\n')}\n`
}
function data(i) {
  const y = int(2015, 2025),
    m = int(1, 12),
    d = int(1, 28)
  return {
    title: `${cap(words(int(3, 6)).join(' '))}: ${word()} "${word()}"`,
    description: `${cap(words(12).join(' '))}`,
    slug: slugOf(i),
    date: `${y}-${pad(m)}-${pad(d)}`,
    updated: `${y}-${pad(m)}-${pad(d)}T${pad(int(0, 23))}:${pad(int(0, 59))}:00Z`,
    draft: rnd() < 0.1,
    warden: pick(WARDENS),
    tags: some(TAGS, int(2, 5)),
    rating: int(10, 50) / 10,
    related: Array.from({ length: int(1, 3) }, () => ({
      entry: slugOf(int(0, count - 1)),
      remark: words(3).join(' '),
      labels: some(CATEGORIES, 2),
    })),
  }
}
const dq = (s) => JSON.stringify(s)
const frontMatter = (v) => `# Written by hand; keep the order of the fields.
title: ${dq(v.title)}
description: '${v.description}' # shown in listings
slug: ${v.slug}
date: ${v.date}
updated: ${v.updated}
draft: ${v.draft}
warden: ${v.warden} # a file in wardens/
tags:
${v.tags.map((t, i) => `  - ${i === 1 ? dq(t) : t}`).join('\n')}
rating: ${v.rating}
# Other notes on the same subject
related:
${v.related.map((r) => `  - entry: ${r.entry}\n    remark: ${r.remark}\n    labels: [${r.labels.join(', ')}]`).join('\n')}
`
const toml = (v) => `# Written by hand; keep the order of the fields.
title = ${dq(v.title)}
description = '${v.description}' # shown in listings
slug = "${v.slug}"
date = ${v.date}
updated = ${v.updated}
draft = ${v.draft}
warden = "${v.warden}"
tags = [${v.tags.map(dq).join(', ')}]
rating = ${v.rating.toFixed(1)}

${v.related.map((r) => `[[related]]\nentry = "${r.entry}"\nremark = "${r.remark}"\nlabels = [${r.labels.map(dq).join(', ')}]`).join('\n\n')}
`
const csvCell = (s) => (/[",\n]/.test(s) ? `"${s.replaceAll('"', '""')}"` : s)

const made = new Set()
let bytes = 0
const put = (file, text) => {
  const dir = join(file, '..')
  if (!made.has(dir)) {
    mkdirSync(dir, { recursive: true })
    made.add(dir)
  }
  writeFileSync(file, text)
  bytes += Buffer.byteLength(text)
}
const rows = []
for (let i = 0; i < count; i++) {
  const v = data(i)
  const file = join(outdir, 'notes', `${v.date.slice(0, 4)}-${v.date.slice(5, 7)}`, `${v.slug}.${kind}`)
  if (kind === 'md' || kind === 'mdx') put(file, `---\n${frontMatter(v)}---\n\n${body(kind === 'mdx')}`)
  else if (kind === 'json') put(file, `${JSON.stringify(v, null, 2)}\n`)
  else if (kind === 'yaml') put(file, frontMatter(v))
  else if (kind === 'toml') put(file, toml(v))
  else if (kind === 'csv')
    rows.push(
      [
        v.slug,
        v.title,
        v.description,
        v.date,
        v.updated,
        String(v.draft),
        v.warden,
        v.tags.join(';'),
        String(v.rating),
        v.related.map((r) => r.post).join(';'),
      ]
        .map(csvCell)
        .join(','),
    )
  else {
    console.error(`unknown kind ${kind}`)
    process.exit(2)
  }
}
if (kind === 'csv')
  put(
    join(outdir, 'notes.csv'),
    `slug,title,description,date,updated,draft,warden,tags,rating,related\n${rows.join('\n')}\n`,
  )
console.log(
  `${count} ${kind === 'csv' ? 'rows' : `${kind} files`}, ${bytes} bytes (${Math.round(bytes / count)} each), seed ${seed}, in ${outdir}`,
)

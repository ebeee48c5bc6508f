/**
 * Writes docs/reference.md from the docstrings of everything that the package exports; with `--check` only says whether
 * it is as it would be written.
 */
import { readFileSync, writeFileSync } from 'node:fs'
import { dirname, join } from 'node:path'
import { parse } from '@babel/parser'

const SOURCE = 'packages/zinc-pantry/src'
const TARGET = 'docs/reference.md'
const ENTRIES = {
  'zinc-pantry': 'index.ts',
  'zinc-pantry/query': 'query/index.ts',
  'zinc-pantry/engine': 'engine/index.ts',
  'zinc-pantry/inspect': 'inspect/index.ts',
  'zinc-pantry/read': 'read/index.ts',
  'zinc-pantry/render': 'render/index.ts',
  'zinc-pantry/vite': 'vite/index.ts',
}

const programs = new Map()
function programOf(file) {
  if (!programs.has(file)) {
    const text = readFileSync(file, 'utf8')
    programs.set(file, { text, body: parse(text, { sourceType: 'module', plugins: ['typescript'] }).program.body })
  }
  return programs.get(file)
}

const namesOf = (declaration) =>
  declaration.id ? [declaration.id.name] : (declaration.declarations ?? []).map(({ id }) => id.name)

/** Everything that a file exports: names with their documents, those of other files followed. */
function exportsOf(file) {
  return programOf(file).body.flatMap((node) => {
    if (node.type !== 'ExportNamedDeclaration') return []
    if (node.declaration) return namesOf(node.declaration).map((name) => ({ name, node, file }))
    if (!node.source) return []
    const target = join(dirname(file), node.source.value)
    const found = new Map(exportsOf(target).map((one) => [one.name, one]))
    return node.specifiers.map(({ local, exported }) => ({ ...found.get(local.name), name: exported.name }))
  })
}

/** A docstring without its stars: its text, and its example. */
function documentOf({ node }) {
  const comment = node?.leadingComments?.at(-1)
  if (comment?.type !== 'CommentBlock' || !comment.value.startsWith('*')) return ''
  const text = comment.value
    .slice(1)
    .replace(/^[ \t]*\* ?/gm, '')
    .trim()
  return text
    .replace(/\{@link ([^}]+)\}/g, '`$1`')
    .replace(/\{@literal (`[^`]*`|[^}]*)\}/g, '$1')
    .replace(/^@example\n/m, '')
}

function kindOf({ node }) {
  const kinds = { FunctionDeclaration: 'function', ClassDeclaration: 'class', VariableDeclaration: 'value' }
  return kinds[node?.declaration?.type] ?? 'type'
}

/** The start of a function up to its body, on one line. */
function signatureOf({ node, file }) {
  const { declaration } = node
  if (declaration?.type !== 'FunctionDeclaration') return ''
  const text = programOf(file).text.slice(declaration.start, declaration.body.start)
  return `\n\`${text
    .replace(/\s+/g, ' ')
    .replace(/,? ([)}])/g, '$1')
    .replace(/([({]) /g, '$1')
    .trim()}\`\n`
}

const parts = Object.entries(ENTRIES).map(([name, path]) => {
  const exported = exportsOf(join(SOURCE, path)).toSorted((a, b) =>
    a.name.toLowerCase() < b.name.toLowerCase() ? -1 : 1,
  )
  const sections = exported.map((one) => {
    const text = documentOf(one)
    return `### ${one.name}\n\n*${kindOf(one)}*\n${signatureOf(one)}${text === '' ? '' : `\n${text}\n`}`
  })
  return `## ${name}\n\n${sections.join('\n')}`
})
const page = `# Reference

Everything that the package exports, by its entries. Made from the docstrings of the sources; the [guide](guide/1-model.md) tells it in the order of the work.

${parts.join('\n')}`

if (!process.argv.includes('--check')) writeFileSync(TARGET, page)
else if (readFileSync(TARGET, 'utf8') === page) console.log(`${TARGET} is as the docstrings say`)
else {
  console.error(`${TARGET} is old: run "node scripts/reference.mjs"`)
  process.exitCode = 1
}

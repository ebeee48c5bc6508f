/**
 * Checks the direction of imports in the package: the table below, no value-import cycles, and Node's
 * built-in modules only where the outside world is met.
 */
import { readdirSync, readFileSync } from 'node:fs'
import { dirname, join, relative } from 'node:path'
import { parse } from '@babel/parser'

const SOURCE = 'packages/zinc-pantry/src'

/** What each folder may import by value, and by type only. `.` is the folder of the package's entry. */
const ALLOWED = {
  diagnostics: { values: [], types: [] },
  memo: { values: [], types: [] },
  host: { values: [], types: [] },
  values: { values: [], types: [] },
  schema: { values: ['diagnostics', 'values'], types: [] },
  read: { values: ['diagnostics'], types: [] },
  find: { values: ['diagnostics', 'schema'], types: [] },
  validate: { values: ['diagnostics', 'schema', 'body/body-summary.ts'], types: ['read', 'body'] },
  body: { values: ['diagnostics'], types: ['schema'] },
  link: { values: ['diagnostics', 'schema'], types: ['validate', 'body'] },
  compute: { values: ['diagnostics', 'schema'], types: ['link', 'validate'] },
  query: { values: ['values'], types: ['schema'] },
  indexing: { values: ['diagnostics', 'schema', 'query'], types: [] },
  emit: { values: ['diagnostics', 'schema', 'body', 'indexing', 'query'], types: ['validate', 'link'] },
  engine: {
    values: [
      'diagnostics',
      'memo',
      'schema',
      'read',
      'find',
      'validate',
      'link',
      'body',
      'compute',
      'indexing',
      'emit',
      'host',
      'query',
    ],
    types: [],
  },
  render: { values: [], types: ['query'] },
  // Not the engine's entry, which loads all of it: most of the time of a short command is that of loading code.
  cli: { values: ['engine', 'diagnostics', 'host/host.ts'], types: [] },
  vite: { values: ['engine', 'diagnostics', 'host', 'emit', 'query', 'body'], types: [] },
  '.': { values: ['schema'], types: [] },
}

/** Folders that may use Node's built-in modules. */
const NODE_FOLDERS = ['host', 'cli', 'vite']

const files = readdirSync(SOURCE, { recursive: true })
  .map((name) => name.replaceAll('\\', '/'))
  .filter((name) => name.endsWith('.ts'))
  .sort()
const problems = []
const valueImports = new Map()

for (const file of files) valueImports.set(file, checkFile(file))
findCycles()

if (problems.length > 0) {
  console.error(problems.join('\n'))
  process.exit(1)
}
console.log(`Imports of ${files.length} files go one way`)

function checkFile(file) {
  const folder = file.includes('/') ? file.slice(0, file.indexOf('/')) : '.'
  const rules = ALLOWED[folder]
  if (!rules) {
    problems.push(`${file}: no rule for the folder ${folder}`)
    return []
  }
  const values = []
  for (const { source, isType, line } of importsOf(file)) {
    const at = `${join(SOURCE, file)}:${line}`
    if (source.startsWith('node:') && !NODE_FOLDERS.includes(folder)) problems.push(`${at}: ${source} in ${folder}/`)
    if (!source.startsWith('.')) continue
    const target = relative(SOURCE, join(SOURCE, dirname(file), source)).replaceAll('\\', '/')
    if (!isType) values.push(target)
    const allowed = isType ? [...rules.values, ...rules.types] : rules.values
    const inside = folder === '.' ? !target.includes('/') : target.startsWith(`${folder}/`)
    const permitted = inside || allowed.some((name) => target === name || target.startsWith(`${name}/`))
    if (!permitted) problems.push(`${at}: ${folder}/ may not import ${isType ? 'types' : 'values'} from ${target}`)
  }
  return values
}

function importsOf(file) {
  const text = readFileSync(join(SOURCE, file), 'utf8')
  const { program } = parse(text, { sourceType: 'module', plugins: ['typescript'], tokens: false })
  const found = program.body.flatMap((node) => {
    if (!node.source) return []
    const specifiers = node.specifiers ?? []
    const isType =
      node.importKind === 'type' ||
      node.exportKind === 'type' ||
      (specifiers.length > 0 && specifiers.every((name) => (name.importKind ?? name.exportKind) === 'type'))
    return [{ source: node.source.value, isType, line: node.loc.start.line }]
  })
  for (const match of text.matchAll(/await import\('([^']+)'\)/g))
    found.push({ source: match[1], isType: false, line: text.slice(0, match.index).split('\n').length })
  return found
}

function findCycles() {
  const done = new Set()
  const visit = (file, above) => {
    if (above.includes(file)) {
      problems.push(`Cycle of imports: ${[...above.slice(above.indexOf(file)), file].join(' → ')}`)
      return
    }
    if (done.has(file)) return
    for (const next of valueImports.get(file) ?? []) visit(next, [...above, file])
    done.add(file)
  }
  for (const file of files) visit(file, [])
}

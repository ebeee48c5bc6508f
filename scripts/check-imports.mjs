/**
 * Checks the direction of imports in the package: the table below, no cycles but the listed ones of types, and Node's
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
  read: { values: ['diagnostics'], types: ['values'] },
  find: { values: ['diagnostics', 'schema'], types: [] },
  validate: { values: ['diagnostics', 'values', 'schema', 'body/body-summary.ts'], types: ['read', 'body'] },
  body: { values: ['diagnostics'], types: ['schema'] },
  link: { values: ['diagnostics', 'schema', 'validate/create-entry.ts'], types: ['validate', 'body', 'values'] },
  compute: { values: ['diagnostics', 'schema'], types: ['link', 'validate'] },
  query: { values: ['values'], types: ['schema'] },
  indexing: { values: ['diagnostics', 'values', 'schema', 'query'], types: [] },
  emit: { values: ['diagnostics', 'values', 'schema', 'body', 'indexing', 'query'], types: ['validate', 'link'] },
  change: { values: ['diagnostics', 'values', 'schema', 'read', 'body', 'link', 'validate'], types: [] },
  engine: {
    values: [
      'diagnostics',
      'change',
      'values',
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
  cli: { values: ['engine', 'diagnostics', 'editor', 'inspect', 'host/host.ts'], types: ['change'] },
  inspect: {
    values: ['engine', 'change', 'diagnostics', 'query', 'editor', 'link', 'read/sniff-kind.ts', 'host/host.ts'],
    types: ['host', 'validate'],
  },
  editor: {
    values: [
      'engine',
      'change',
      'diagnostics',
      'values',
      'schema',
      'read',
      'find',
      'validate',
      'link',
      'body/component-name.ts',
      'body/body-summary.ts',
      'host/host.ts',
    ],
    types: ['host'],
  },
  vite: { values: ['engine', 'diagnostics', 'host', 'emit', 'query', 'body', 'inspect'], types: [] },
  '.': { values: ['schema'], types: [] },
}

/** Files in whose types a cycle may be, and why. */
const TYPE_CYCLES = {
  'schema/any-field.ts': 'a list holds a field of any kind, and is a kind itself',
  'schema/entry-types.ts': 'the type of an entry is inferred from a configuration, and its functions are given entries',
  'query/internals.ts': 'the type of the runtime internals is that of what they hold, which is handed on with a run',
  'query/query-types.ts': 'a query gives results, and their types say which query they are given by',
}

/** What must not be loaded as soon as a file is: most of the time of a short command, or of who imports the engine, is that of loading code. */
const LATER = {
  'engine/site.ts': ['read/formats.ts', 'engine/run-site.ts', 'change/edit-value.ts'],
  'engine/index.ts': ['read/formats.ts', 'engine/run-site.ts', 'change/edit-value.ts', 'query/run-query.ts'],
  'cli/run.ts': ['engine/load-inputs.ts', 'read/formats.ts', 'engine/run-site.ts'],
}

/** Folders that may use Node's built-in modules. */
const NODE_FOLDERS = ['host', 'cli', 'vite', 'editor/workspace.ts', 'editor/serve.ts', 'inspect/server.ts']

const files = readdirSync(SOURCE, { recursive: true })
  .map((name) => name.replaceAll('\\', '/'))
  .filter((name) => name.endsWith('.ts'))
  .sort()
const problems = []
/** The files that each imports, by value and in any way. */
const valueImports = new Map()
const allImports = new Map()

for (const file of files) {
  const targets = checkFile(file)
  valueImports.set(
    file,
    targets.filter(({ isType, isLater }) => !isType && !isLater).map(({ target }) => target),
  )
  allImports.set(
    file,
    targets.map(({ target }) => target),
  )
}
findCycles(valueImports, () => false)
findCycles(allImports, (file) => Object.hasOwn(TYPE_CYCLES, file))
for (const [file, others] of Object.entries(LATER)) findEarly(file, others)

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
  const targets = []
  for (const { source, isType, isLater, line } of importsOf(file)) {
    const at = `${join(SOURCE, file)}:${line}`
    if (source.startsWith('node:') && ![folder, file].some((one) => NODE_FOLDERS.includes(one)))
      problems.push(`${at}: ${source} in ${folder}/`)
    if (!source.startsWith('.')) continue
    const target = relative(SOURCE, join(SOURCE, dirname(file), source)).replaceAll('\\', '/')
    targets.push({ target, isType, isLater })
    const allowed = isType ? [...rules.values, ...rules.types] : rules.values
    const inside = folder === '.' ? !target.includes('/') : target.startsWith(`${folder}/`)
    const permitted = inside || allowed.some((name) => target === name || target.startsWith(`${name}/`))
    if (!permitted) problems.push(`${at}: ${folder}/ may not import ${isType ? 'types' : 'values'} from ${target}`)
  }
  return targets
}

function importsOf(file) {
  const text = readFileSync(join(SOURCE, file), 'utf8')
  const { program } = parse(text, { sourceType: 'module', plugins: ['typescript'], tokens: false })
  const found = []
  const visit = (node) => {
    if (Array.isArray(node)) for (const one of node) visit(one)
    if (typeof node?.type !== 'string') return
    const line = node.loc?.start.line
    if (node.type === 'CallExpression' && node.callee.type === 'Import')
      found.push({ source: node.arguments[0].value, isType: false, isLater: true, line })
    else if (node.type === 'ImportExpression')
      found.push({ source: node.source.value, isType: false, isLater: true, line })
    else if (node.type === 'TSImportType')
      found.push({ source: (node.argument.literal ?? node.argument).value, isType: true, line })
    else if (/^(?:Import|Export)\w*Declaration$/.test(node.type) && node.source)
      found.push({ source: node.source.value, isType: isTypeOnly(node), line })
    for (const [key, inner] of Object.entries(node)) if (key !== 'loc' && typeof inner === 'object') visit(inner)
  }
  visit(program.body)
  return found.filter(({ source }) => typeof source === 'string')
}

function isTypeOnly({ importKind, exportKind, specifiers = [] }) {
  const kinds = specifiers.map((name) => name.importKind ?? name.exportKind)
  return importKind === 'type' || exportKind === 'type' || (kinds.length > 0 && kinds.every((kind) => kind === 'type'))
}

/** Finds what is loaded with a file, and is to be loaded when it is used. */
function findEarly(file, others) {
  const ways = new Map([[file, [file]]])
  for (const [one, way] of ways)
    for (const next of valueImports.get(one) ?? []) if (!ways.has(next)) ways.set(next, [...way, next])
  for (const other of others) if (ways.has(other)) problems.push(`Loaded too early: ${ways.get(other).join(' → ')}`)
}

/** Finds cycles, of values and then of types too, but for those that are allowed. */
function findCycles(imports, isAllowed) {
  const done = new Set()
  const found = new Set()
  const visit = (file, above) => {
    if (above.includes(file)) {
      const cycle = above.slice(above.indexOf(file))
      if (!cycle.some(isAllowed)) found.add(`Cycle of imports: ${[...cycle, file].join(' → ')}`)
      return
    }
    if (done.has(file)) return
    for (const next of imports.get(file) ?? []) visit(next, [...above, file])
    done.add(file)
  }
  for (const file of files) visit(file, [])
  problems.push(...found)
}

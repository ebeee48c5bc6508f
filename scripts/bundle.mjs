import { createHash } from 'node:crypto'
import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import { dirname, relative, resolve } from 'node:path'
import { pathToFileURL } from 'node:url'

const DIST = 'packages/zinc-pantry/dist'

const QUERY = `${DIST}/query`

/**
 * Puts the stemmers of the languages, which are CommonJS, into modules of their own beside the query runtime, so that a browser
 * loads them without a bundler. Their licences stay with them.
 */
export async function bundleStemmers() {
  const path = `${QUERY}/stemmers.js`
  if (!readFileSync(path, 'utf8').includes("import('lunr-languages/")) return
  const { rolldown } = await import('rolldown')
  const bundler = await rolldown({ input: { stemmers: path }, external: [/\/words\.js$/] })
  await bundler.write({ dir: QUERY, format: 'esm', entryFileNames: '[name].js', chunkFileNames: 'stemmers/[name].js' })
  await bundler.close()
  writeLicences(`${QUERY}/stemmers`, STEMMER_PACKAGES)
}

const STEMMER_PACKAGES = ['lunr-languages', 'stemmer']

const RUNTIME = `${DIST}/runtime`
const RUNTIME_DIGEST = 'node_modules/.cache/zinc-pantry-runtime.sha256'

/** Bundles the query runtime for pages without a bundler: all but what few questions need is one file. */
export async function bundleRuntime() {
  const sources = readdirSync(QUERY).filter((name) => name.endsWith('.js'))
  const digest = createHash('sha256')
  for (const name of sources.sort()) digest.update(name).update(readFileSync(`${QUERY}/${name}`))
  const wanted = digest.digest('hex')
  if (
    existsSync(`${RUNTIME}/query.js`) &&
    existsSync(RUNTIME_DIGEST) &&
    readFileSync(RUNTIME_DIGEST, 'utf8') === wanted
  )
    return
  rmSync(RUNTIME, { recursive: true, force: true })
  const { rolldown } = await import('rolldown')
  const bundle = async (input, options) => {
    const bundler = await rolldown({ input, ...options })
    await bundler.write({
      ...{
        dir: RUNTIME,
        format: 'esm',
        minify: true,
        comments: { legal: true },
        entryFileNames: '[name].js',
        chunkFileNames: '[name].js',
      },
      ...(options ? { codeSplitting: false } : {}),
    })
    await bundler.close()
  }
  const apart = {
    stemmers: `${QUERY}/stemmers.js`,
    patterns: `${DIST}/values/patterns/linear-matcher.js`,
  }
  const isApart = (id) => /(?:stemmers|linear-matcher)\.js$/.test(id)
  const namesOf = {
    name: 'parts',
    resolveId: (id) =>
      isApart(id) ? { id: id.includes('stemmers') ? './stemmers.js' : './patterns.js', external: true } : undefined,
  }
  await bundle({ query: `${QUERY}/index.js` }, { plugins: [namesOf] })
  await bundle(apart)
  writeLicences(RUNTIME, [...STEMMER_PACKAGES, 're2js', '@eslint-community/regexpp'])
  mkdirSync(dirname(RUNTIME_DIGEST), { recursive: true })
  writeFileSync(RUNTIME_DIGEST, wanted)
}

const BUNDLE = `${DIST}/bundle`
const NAMES = { function: true, class: true }
/** What the package offers and its command starts with, each a file of its own beside the parts that they share. */
const ENTRIES = {
  index: 'index.js',
  engine: 'engine/index.js',
  inspect: 'inspect/index.js',
  read: 'read/index.js',
  vite: 'vite/index.js',
  cli: 'cli/run.js',
  ask: 'cli/ask.js',
  host: 'host/node-host.js',
  thread: 'host/node-thread.js',
  'render-task': 'engine/threads/render-task.js',
}
/** Packages that are loaded from where they are installed: with parts that are no code, offered by the site, or rarely used. */
const INSTALLED =
  /^(?:@clack\/prompts|any-ascii|elkjs|launch-editor|lowlight|open|rolldown|sharp|source-map|vite|vscode-languageserver|ws)(?:\/|$)/

/**
 * Bundles the package and most of what it uses into a few files: most of the time of a short command would be that of loading
 * hundreds of small ones. The query runtime stays as it is, since pages bundle it with what is theirs, and is the same for both.
 */
export async function bundlePackage() {
  const digest = createHash('sha256')
    .update(readFileSync('package-lock.json'))
    .update(readFileSync('scripts/bundle.mjs'))
  const files = readdirSync(DIST, { recursive: true, encoding: 'utf8' }).filter(
    (name) => name.endsWith('.js') && !/^(?:bundle|runtime|inspect.page)\b/.test(name),
  )
  for (const name of files.sort()) digest.update(name).update(readFileSync(`${DIST}/${name}`))
  const wanted = digest.digest('hex')
  const build = `${DIST}/build.txt`
  if (existsSync(`${BUNDLE}/cli.js`) && existsSync(build) && readFileSync(build, 'utf8') === wanted) return
  // A bundle that is half made is none.
  for (const path of [BUNDLE, build]) rmSync(path, { recursive: true, force: true })
  const { rolldown } = await import('rolldown')
  const query = resolve(QUERY)
  const leaves = findLeaves(files)
  const bundler = await rolldown({
    input: Object.fromEntries(Object.entries(ENTRIES).map(([name, file]) => [name, `${DIST}/${file}`])),
    platform: 'node',
    // Some packages have code that can be bundled only here.
    resolve: { mainFields: ['module', 'main'], conditionNames: ['import', 'module', 'default'] },
    external: INSTALLED,
    // Files of some packages begin with an empty directive.
    onLog: (level, log, handle) => log.code !== 'MODULE_LEVEL_DIRECTIVE' && handle(level, log),
    plugins: [
      {
        name: 'query-runtime',
        resolveId(id, importer) {
          if (!importer || !id.startsWith('.')) return undefined
          const file = resolve(dirname(importer), id)
          const isQuery = dirname(file).startsWith(query)
          return isQuery ? { id: `../${relative(resolve(DIST), file)}`, external: true } : undefined
        },
      },
      rewritePackages,
      deferPackages,
    ],
  })
  const { output } = await bundler.write({
    ...{ dir: BUNDLE, format: 'esm', entryFileNames: '[name].js', chunkFileNames: '[name].js' },
    // A quarter less to be read at each start. Names of functions stay, for whoever has to read where an error came from.
    minify: { compress: { keepNames: NAMES }, mangle: { keepNames: NAMES }, codegen: { removeWhitespace: true } },
    comments: { legal: true },
    // What several parts share would come in dozens of files of some hundred bytes, each of which takes as long to load as a large one.
    codeSplitting: {
      groups: [{ name: 'common', test: (id) => leaves.has(id), minShareCount: 10 }],
    },
  })
  await bundler.close()
  freeOfNode(`${BUNDLE}/rolldown-runtime.js`)
  const paths = output.flatMap((file) => Object.keys(file.modules ?? {}))
  writeLicences(BUNDLE, [...new Set(paths.flatMap((path) => packageOf(path) ?? []))].sort())
  for (const [name, file] of Object.entries(ENTRIES))
    writeFileSync(`${BUNDLE}/${name}.d.ts`, `export * from '../${file}'\n`)
  writeFileSync(build, wanted)
}

/**
 * What is written in another way in code of packages. A version that has other code there is an error.
 * - The YAML parser: in Node 20 an object that goes on behind a spread has a hidden class of its own, and all that reads it is slow.
 *   Measured, events of 5,000 front matters take a quarter of the time with the keys named.
 * - Widths of texts: the first thing of languages that is made takes the engine 30 to 45 ms, and most texts need none.
 */
const REWRITTEN = [
  {
    package: 'js-yaml',
    isIn: 'function parseEvents(',
    from: '...DEFAULT_PARSER_OPTIONS,\n\t\t...options,\n\t\tinput',
    to: 'filename: options?.filename ?? DEFAULT_PARSER_OPTIONS.filename,\n\t\tmaxDepth: options?.maxDepth ?? DEFAULT_PARSER_OPTIONS.maxDepth,\n\t\tinput',
  },
  {
    package: 'string-width',
    isIn: 'function stringWidth(',
    from: 'const segmenter = new Intl.Segmenter();',
    to: 'let made;\nconst segmenter = { segment: (text) => (made ??= new Intl.Segmenter()).segment(text) };',
  },
]

const rewritePackages = {
  name: 'rewritten-packages',
  transform(code, id) {
    const rewritten = REWRITTEN.find((one) => one.package === packageOf(id) && code.includes(one.isIn))
    if (!rewritten) return undefined
    const { from, to } = rewritten
    if (code.split(from).length !== 2) throw new Error(`${rewritten.package} has other code where it is rewritten`)
    return { code: code.replace(from, to) }
  },
}

/** Packages that few commands come to need, for what others refuse or for edits, though what reads files has to have them at once. */
const DEFERRED = ['toml-eslint-parser', 'yaml']
const DEFERRED_PREFIX = '\0deferred:'

/** Runs the code of some packages when something of theirs is first called, which is a third of the time of loading what reads files. */
const deferPackages = {
  name: 'deferred-packages',
  resolveId: (id, importer) =>
    DEFERRED.includes(id) && importer?.startsWith(resolve(DIST)) ? `${DEFERRED_PREFIX}${id}` : undefined,
  async load(id) {
    if (!id.startsWith(DEFERRED_PREFIX)) return undefined
    const name = id.slice(DEFERRED_PREFIX.length)
    const { resolve: resolvePackage } = createRequire(resolve('packages/zinc-pantry/package.json'))
    const exported = Object.keys(await import(pathToFileURL(resolvePackage(name)).href)).filter(
      (one) => /^[A-Za-z_$][\w$]*$/.test(one) && one !== 'default',
    )
    const lines = exported.map((one) => `export const ${one} = /* @__PURE__ */ defer(${JSON.stringify(one)})`)
    return `
      const load = () => require(${JSON.stringify(name)})
      const defer = (name) => new Proxy(function () {}, {
        apply: (_, self, parameters) => Reflect.apply(load()[name], self, parameters),
        construct: (_, parameters) => Reflect.construct(load()[name], parameters),
        get: (_, key) => load()[name][key],
      })
      ${lines.join('\n')}`
  },
}

/** The size in bytes of a small module. */
const SMALL_MODULE = 3000

/** Modules of our own that are small, and import nothing but such: to load one that is not needed costs nothing. */
function findLeaves(files) {
  const imports = new Map(
    files.map((name) => {
      const path = resolve(DIST, name)
      const code = readFileSync(path, 'utf8')
      const sources = [...code.matchAll(/(?:\bfrom|\bimport)\s*\(?\s*['"]([^'"]+)['"]/g)].map(([, source]) => source)
      const isSmall = code.length <= SMALL_MODULE && sources.every((source) => source.startsWith('.'))
      return [path, isSmall ? sources.map((source) => resolve(dirname(path), source)) : undefined]
    }),
  )
  const leaves = new Set([...imports.keys()].filter((path) => imports.get(path)))
  for (let size = 0; size !== leaves.size; ) {
    size = leaves.size
    for (const path of leaves) if (!imports.get(path).every((one) => leaves.has(one))) leaves.delete(path)
  }
  return leaves
}

/**
 * What the bundler puts in front of code in CommonJS loads Node's own modules at once; browsers, which load the core and the readers,
 * have none. Only what runs in Node asks for them.
 */
function freeOfNode(file) {
  const code = readFileSync(file, 'utf8')
  const free = code.replace(
    /import\{createRequire as (\w+)\}from"node:module";(.*)\b\1\(import\.meta\.url\)/s,
    '$2((name)=>process.getBuiltinModule(name))',
  )
  if (/createRequire|import\.meta/.test(free))
    throw new Error('The bundler writes its own functions in another way now')
  writeFileSync(file, free)
}

/** The folder, within `node_modules`, of the package that a file belongs to. */
const packageOf = (path) => /^.*[\\/]node_modules[\\/]((?:@[^\\/]+[\\/])?[^\\/]+)/.exec(path)?.[1]

/** Writes the licences of the packages that a folder has code of. */
function writeLicences(folder, packages) {
  const texts = packages.map((name) => {
    const file = readdirSync(`node_modules/${name}`).find((one) => /^(?:licen[cs]e|copying)/i.test(one))
    const said = JSON.parse(readFileSync(`node_modules/${name}/package.json`, 'utf8')).license
    const text = file ? readFileSync(`node_modules/${name}/${file}`, 'utf8').trim() : `Licence: ${said}`
    return `${name}\n\n${text}\n`
  })
  writeFileSync(`${folder}/licences.txt`, texts.join('\n\n'))
}

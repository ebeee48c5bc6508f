import { execFileSync } from 'node:child_process'
import { createHash } from 'node:crypto'
import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { dirname, resolve } from 'node:path'

/** Runs a program with its output shown; ends this script with its exit code where it fails. */
export function runProgram(program, args, options = {}) {
  try {
    return execFileSync(program, args, { stdio: 'inherit', shell: process.platform === 'win32', ...options })
  } catch (error) {
    if (typeof error.status !== 'number') throw error
    process.exit(error.status || 1)
  }
}

const lockOf = (file) => JSON.parse(readFileSync(file, 'utf8')).packages

/** True where node_modules holds just what the lock file says. */
function isInstalled() {
  const copy = 'node_modules/.package-lock.json'
  if (!existsSync(copy)) return false
  const installed = lockOf(copy)
  return Object.entries(lockOf('package-lock.json')).every(([path, { version, optional, link }]) => {
    if (path === '' || !path.startsWith('node_modules/')) return true
    return optional || link || installed[path]?.version === version
  })
}

/** Installs the locked dependencies where they are missing. */
export function installDependencies() {
  if (isInstalled()) return
  console.log('Installing the locked dependencies')
  runProgram('npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error'])
}

/** Compiles the package and the page of its inspector; nothing is done where they are up to date. */
export async function buildPackage() {
  runProgram(process.execPath, ['node_modules/typescript/bin/tsc', '-b', 'packages/zinc-pantry'])
  buildInspectorPage()
  await bundleStemmers()
  await bundleRuntime()
}

const QUERY = 'packages/zinc-pantry/dist/query'

/**
 * Puts the stemmers of the languages, which are CommonJS, into modules of their own beside the query runtime, so that a browser
 * loads them without a bundler. Their licences stay with them.
 */
async function bundleStemmers() {
  const path = `${QUERY}/stemmers.js`
  if (!readFileSync(path, 'utf8').includes("import('lunr-languages/")) return
  const { rolldown } = await import('rolldown')
  const bundler = await rolldown({ input: { stemmers: path }, external: [/\/words\.js$/] })
  await bundler.write({ dir: QUERY, format: 'esm', entryFileNames: '[name].js', chunkFileNames: 'stemmers/[name].js' })
  await bundler.close()
  writeLicences(`${QUERY}/stemmers`, STEMMER_PACKAGES)
}

const STEMMER_PACKAGES = ['lunr-languages', 'stemmer']

/** Writes the licences of the packages that a folder has code of. */
function writeLicences(folder, packages) {
  const texts = packages.map((name) => {
    const file = readdirSync(`node_modules/${name}`).find((one) => /^licen[cs]e/i.test(one))
    return `${name}\n\n${readFileSync(`node_modules/${name}/${file}`, 'utf8').trim()}\n`
  })
  writeFileSync(`${folder}/licences.txt`, texts.join('\n\n'))
}

const RUNTIME = 'packages/zinc-pantry/dist/runtime'
const RUNTIME_DIGEST = 'node_modules/.cache/zinc-pantry-runtime.sha256'

/** Bundles the query runtime for pages without a bundler: all but what few questions need is one file. */
async function bundleRuntime() {
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
    patterns: 'packages/zinc-pantry/dist/values/patterns/linear-matcher.js',
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

const INSPECTOR = 'packages/inspector'
const PAGE = 'packages/zinc-pantry/dist/inspect/page'
const PAGE_DIGEST = 'node_modules/.cache/zinc-pantry-page.sha256'

/** Builds the page that the package ships, where its sources or its packages are other ones than the last time. */
function buildInspectorPage() {
  const sources = readdirSync(`${INSPECTOR}/src`, { recursive: true, withFileTypes: true })
    .filter((entry) => entry.isFile())
    .map((entry) => `${entry.parentPath}/${entry.name}`)
  const files = ['index.html', 'package.json', 'vite.config.ts'].map((name) => `${INSPECTOR}/${name}`)
  const digest = createHash('sha256')
  for (const file of [...sources.sort(), ...files, 'package-lock.json']) digest.update(file).update(readFileSync(file))
  const wanted = digest.digest('hex')
  const isThere = existsSync(`${PAGE}/index.html`) && existsSync(PAGE_DIGEST)
  if (isThere && readFileSync(PAGE_DIGEST, 'utf8') === wanted) return
  const vite = resolve('node_modules/vite/bin/vite.js')
  runProgram(process.execPath, [vite, 'build', '--logLevel', 'warn'], { cwd: INSPECTOR })
  mkdirSync(dirname(PAGE_DIGEST), { recursive: true })
  writeFileSync(PAGE_DIGEST, wanted)
}

import { execFileSync } from 'node:child_process'
import { createHash } from 'node:crypto'
import { existsSync, mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { dirname, resolve } from 'node:path'
import { bundlePackage, bundleRuntime, bundleStemmers } from './bundle.mjs'

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
  await bundlePackage()
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
  // Tests, too, try the page as it is published.
  const env = { ...process.env, NODE_ENV: 'production' }
  runProgram(process.execPath, [vite, 'build', '--logLevel', 'warn'], { cwd: INSPECTOR, env })
  mkdirSync(dirname(PAGE_DIGEST), { recursive: true })
  writeFileSync(PAGE_DIGEST, wanted)
}

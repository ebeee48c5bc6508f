import { execFileSync } from 'node:child_process'
import { existsSync, readFileSync } from 'node:fs'

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

/** Compiles the package; nothing is done where it is up to date. */
export function buildPackage() {
  runProgram(process.execPath, ['node_modules/typescript/bin/tsc', '-b', 'packages/zinc-pantry'])
}

import { readdirSync, readFileSync, statSync } from 'node:fs'
import { join, sep } from 'node:path'
import { fileURLToPath } from 'node:url'
import { digestContent } from './node-digest.ts'

let version: string | undefined

/**
 * The version of the package, for what is kept from run to run. A copy that is not installed may change without a new
 * version, so the times of its files count too; the code of a process that runs does not change, so they are read once.
 */
export function readToolVersion(): string {
  version ??= readVersionOfCode()
  return version
}

function readVersionOfCode(): string {
  const root = fileURLToPath(new URL('../../', import.meta.url))
  const { version } = JSON.parse(readFileSync(join(root, 'package.json'), 'utf8')) as { readonly version: string }
  if (root.includes(`${sep}node_modules${sep}`)) return version
  const code = join(root, 'dist')
  const stamps = readdirSync(code, { recursive: true, encoding: 'utf8' })
    .filter((name) => name.endsWith('.js'))
    .sort()
    .map((name) => `${name} ${statSync(join(code, name)).mtimeMs}`)
  return `${version}+${digestContent(stamps.join('\n'))}`
}

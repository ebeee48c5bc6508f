import { existsSync, readFileSync } from 'node:fs'
import { join, sep } from 'node:path'
import { fileURLToPath } from 'node:url'

let version: string | undefined

/**
 * The version of the package, for what is kept from run to run. A copy that is not installed may change without a new
 * version, so the digest that its build has written counts too; the code of a process that runs does not change, so it is read once.
 */
export function readToolVersion(): string {
  version ??= readVersionOfCode()
  return version
}

function readVersionOfCode(): string {
  const root = fileURLToPath(new URL('../../', import.meta.url))
  const { version } = JSON.parse(readFileSync(join(root, 'package.json'), 'utf8')) as { readonly version: string }
  if (root.includes(`${sep}node_modules${sep}`)) return version
  const build = join(root, 'dist/build.txt')
  return existsSync(build) ? `${version}+${readFileSync(build, 'utf8')}` : version
}

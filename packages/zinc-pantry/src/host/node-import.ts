import { existsSync, statSync } from 'node:fs'
import { isBuiltin } from 'node:module'
import { dirname, join } from 'node:path'

/** Endings that bundlers add to the path of a module. */
const ENDINGS = ['.js', '.mjs', '.cjs', '.ts', '.mts', '.tsx', '.jsx', '.json', '.mdx', '.md']
/** The endings by which TypeScript lets an import name its own files. */
const WRITTEN_AS: Readonly<Record<string, readonly string[]>> = {
  '.js': ['.ts', '.tsx'],
  '.jsx': ['.tsx'],
  '.mjs': ['.mts'],
}
const PACKAGE = /^(?:@[a-z\d~][\w.~-]*\/)?[a-z\d~][\w.~-]*/

/** True where a file imports what is there; undefined where only a bundler knows, as of its own short names. */
export function findNodeImport(specifier: string, file: string): boolean | undefined {
  const [path = ''] = specifier.split(/[?#]/, 1)
  if (/^\.\.?(?:\/|$)/.test(path)) return isModule(join(dirname(file), decodePath(path)))
  if (path === '' || path.startsWith('/') || /^[a-z][a-z+.-]+:/.test(path)) return undefined
  if (isBuiltin(path)) return true
  const [name] = PACKAGE.exec(path) ?? []
  if (name === undefined) return undefined
  for (let folder = dirname(file); ; folder = dirname(folder)) {
    if (existsSync(join(folder, 'node_modules', name))) return true
    if (dirname(folder) === folder) return false
  }
}

function isModule(path: string): boolean {
  const ending = /\.\w+$/.exec(path)?.[0] ?? ''
  const others = (WRITTEN_AS[ending] ?? []).map((one) => path.slice(0, -ending.length) + one)
  const candidates = [
    path,
    ...others,
    ...ENDINGS.map((one) => path + one),
    ...ENDINGS.map((one) => join(path, `index${one}`)),
  ]
  return candidates.some((one) => statSync(one, { throwIfNoEntry: false })?.isFile() === true)
}

function decodePath(path: string): string {
  try {
    return decodeURI(path)
  } catch {
    return path
  }
}

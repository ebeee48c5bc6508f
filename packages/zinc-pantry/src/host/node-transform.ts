import { readFileSync } from 'node:fs'
import { basename, join } from 'node:path'
import { type Bundle, digestFile } from './node-bundle.ts'
import { ownModule, transformOf } from './node-bundler.ts'
import { digestContent } from './node-digest.ts'

/**
 * Makes a module of a configuration that imports nothing but this package and Node's own modules, as the bundler would: loading
 * that takes longer than all else in the first run of a small site. Nothing for one that has to be bundled, or that something is
 * wrong with, which the bundler says best.
 */
export async function transformConfiguration(
  root: string,
  file: string,
  texts: ReadonlyMap<string, string> = new Map(),
): Promise<Bundle | undefined> {
  const { parseSync, transformSync } = await import('rolldown/utils')
  const path = join(root, file)
  const given = texts.get(file)
  const digest = given === undefined ? digestFile(path) : digestContent(given)
  if (digest === undefined || !/\.m?[jt]s$/.test(file)) return undefined
  const { code, map, errors, helpersUsed } = transformSync(path, given ?? readFileSync(path, 'utf8'), {
    sourcemap: true,
    ...transformOf(path),
  })
  if (!map || errors.length > 0 || Object.keys(helpersUsed).length > 0 || /\brequire\b/.test(code)) return undefined
  const { module, errors: wrong } = parseSync('configuration.mjs', code)
  const isAlone =
    module.hasModuleSyntax &&
    module.dynamicImports.length === 0 &&
    module.staticExports.every(({ entries }) => entries.every(({ moduleRequest }) => !moduleRequest))
  if (!isAlone || wrong.length > 0) return undefined
  let written = code
  for (const { moduleRequest } of module.staticImports.toReversed()) {
    const { value, start, end } = moduleRequest
    if (value.startsWith('node:')) continue
    const address = ownModule(value)
    if (address === undefined || written.slice(start + 1, end - 1) !== value) return undefined
    written = written.slice(0, start) + JSON.stringify(address) + written.slice(end)
  }
  return {
    inputs: { [file]: digest },
    packages: {},
    code: written,
    map: JSON.stringify({ ...map, sources: [basename(path)] }),
  }
}

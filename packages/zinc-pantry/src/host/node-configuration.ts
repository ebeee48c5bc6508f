import { readFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import { dirname, join, relative, sep } from 'node:path'
import { fileURLToPath, pathToFileURL } from 'node:url'
import type { LoadedConfiguration } from './host.ts'

/**
 * Bundles a configuration with the files it imports and runs it. Packages are left to Node, but for
 * this one: whatever copy a site has installed, its configuration must reach the running one.
 */
export async function loadNodeConfiguration(root: string, file: string): Promise<LoadedConfiguration> {
  const { build } = await import('esbuild')
  const path = join(root, file)
  const relativePath = (absolute: string): string => relative(root, absolute).split(sep).join('/')
  let code: string
  try {
    const result = await build({
      absWorkingDir: root,
      entryPoints: [path],
      bundle: true,
      write: false,
      format: 'esm',
      platform: 'node',
      target: 'node20.19',
      sourcemap: 'inline',
      sourcesContent: false,
      outfile: `${path}.bundled.mjs`,
      logLevel: 'silent',
      define: { 'import.meta.url': JSON.stringify(pathToFileURL(path).href) },
      plugins: [{ name: 'packages', setup: leavePackages }],
    })
    code = result.outputFiles[0]?.text ?? ''
  } catch (error) {
    return unparsed(error, file)
  }
  process.setSourceMapsEnabled(true)
  try {
    const module: { default?: unknown } = await import(
      `data:text/javascript;base64,${Buffer.from(code).toString('base64')}`
    )
    return { kind: 'loaded', value: module.default }
  } catch (error) {
    return { kind: 'threw', reason: reasonOf(error), ...placeOf(error, root, file, relativePath) }
  } finally {
    process.setSourceMapsEnabled(false)
  }
}

const OWN = /^zinc-pantry(?:\/(.+))?$/

/** Makes every import of a package an absolute one, which a module without a path of its own can import. */
function leavePackages(bundler: import('esbuild').PluginBuild): void {
  bundler.onResolve({ filter: /^[^./]/ }, async ({ path, importer, resolveDir, kind, pluginData }) => {
    if (pluginData === 'inner' || kind === 'entry-point') return undefined
    const own = OWN.exec(path)
    if (own) return { path: ownModule(own[1] ?? ''), external: true }
    if (/^node:/.test(path) || createRequire(import.meta.url).resolve.paths(path) === null)
      return { path, external: true }
    const found = await bundler.resolve(path, { importer, resolveDir, kind, pluginData: 'inner' })
    if (found.errors.length > 0 || found.external) return found
    // What a package name resolves to outside of node_modules is a file of the site's own.
    if (!found.path.includes(`${sep}node_modules${sep}`)) return found
    return { path: pathToFileURL(found.path).href, external: true }
  })
}

function ownModule(entry: string): string {
  const folder = dirname(dirname(fileURLToPath(import.meta.url)))
  const file = entry === '' ? 'index' : `${entry}/index`
  const extension = import.meta.url.endsWith('.ts') ? '.ts' : '.js'
  return pathToFileURL(join(folder, `${file}${extension}`)).href
}

interface BuildMessage {
  text: string
  location: { file: string; line: number; column: number; length: number } | null
}

function unparsed(error: unknown, file: string): LoadedConfiguration {
  const messages = (error as { errors?: BuildMessage[] }).errors ?? []
  const first = messages[0]
  const reason = first?.text ?? reasonOf(error)
  const { location } = first ?? {}
  if (!location) return { kind: 'unparsed', reason, file, line: 1, column: 1, length: 1 }
  const column = utf16Column(location.file, location.line, location.column)
  return {
    kind: 'unparsed',
    reason,
    file: location.file.split(sep).join('/'),
    line: location.line,
    column,
    length: Math.max(1, location.length),
  }
}

/** The bundler counts columns in bytes from 0; ours are UTF-16 code units from 1. */
function utf16Column(file: string, line: number, bytes: number): number {
  try {
    const text = readFileSync(file, 'utf8').split('\n')[line - 1] ?? ''
    return Buffer.from(text).subarray(0, bytes).toString('utf8').length + 1
  } catch {
    return bytes + 1
  }
}

const reasonOf = (error: unknown): string => {
  const text = error instanceof Error ? error.message : String(error)
  return text.split('\n')[0]?.slice(0, 160) || 'it threw an error without a message'
}

/** The first line of the stack that lies in the site's own files. */
function placeOf(
  error: unknown,
  root: string,
  file: string,
  relativePath: (absolute: string) => string,
): { file: string; line: number; column: number } {
  const stack = error instanceof Error ? (error.stack ?? '') : ''
  for (const [, where, line, column] of stack.matchAll(/\(?((?:file:\/\/|\/|[A-Za-z]:\\)[^()\n]+?):(\d+):(\d+)\)?/g)) {
    const path = where?.startsWith('file:') ? fileURLToPath(where) : (where ?? '')
    if (path.startsWith(root + sep) && !path.includes('node_modules'))
      return { file: relativePath(path), line: Number(line), column: Number(column) }
  }
  return { file, line: 1, column: 1 }
}

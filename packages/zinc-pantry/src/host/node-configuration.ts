import { readFileSync } from 'node:fs'
import { createRequire, SourceMap } from 'node:module'
import { dirname, join, relative, sep } from 'node:path'
import { fileURLToPath, pathToFileURL } from 'node:url'
import type { LoadedConfiguration } from './host.ts'
import { type Bundle, digestFile, openKeptBundle } from './node-bundle.ts'
import { digestContent } from './node-digest.ts'
import { withinLimit } from './node-time-limit.ts'

/** How a configuration is loaded. */
export interface ConfigurationOptions {
  readonly timeLimitMs: number
  /** Where the bundle is kept for the next time, if anywhere. */
  readonly kept?: { readonly folder: string; readonly version: string } | undefined
}

/**
 * Bundles a configuration with the files it imports and runs it. Packages are left to Node, but for
 * this one: whatever copy a site has installed, its configuration must reach the running one.
 * In the folder of `kept` the bundle is kept for the next time, as long as the version of the package is the same.
 */
export async function loadNodeConfiguration(
  root: string,
  file: string,
  { kept, timeLimitMs }: ConfigurationOptions,
): Promise<LoadedConfiguration> {
  const keeping = kept && openKeptBundle(root, file, kept)
  let bundle = keeping?.read()
  if (!bundle) {
    try {
      bundle = await bundleConfiguration(root, file)
    } catch (error) {
      return unparsed(error, file, root)
    }
    keeping?.write(bundle)
  }
  const { code, map, inputs, packages } = bundle
  try {
    const address = `data:text/javascript;base64,${Buffer.from(code).toString('base64')}`
    const module = await withinLimit(timeLimitMs, async (): Promise<{ default?: unknown }> => import(address))
    return {
      kind: 'loaded',
      value: module.default,
      digest: digestInputs({ ...inputs, ...packages }),
      inputs: Object.keys(inputs),
    }
  } catch (error) {
    const unknown = await findUnknownExport(error, root, Object.keys(inputs))
    if (unknown) return { ...unknown, inputs: Object.keys(inputs) }
    const place = placeOf(error, map, dirname(join(root, file)))
    const reason = reasonOf(error)
    const at = { line: 1, column: 1, ...relativePlace(place, (path) => relativeTo(root, path)) }
    return { kind: 'threw', reason, file, ...at, inputs: Object.keys(inputs) }
  }
}

const relativeTo = (root: string, absolute: string): string => relative(root, absolute).split(sep).join('/')

/** Digests of files by their paths, in an order of their own. */
const digestInputs = (inputs: Readonly<Record<string, string>>): string =>
  digestContent(JSON.stringify(Object.entries(inputs).sort(([a], [b]) => (a < b ? -1 : 1))))

async function bundleConfiguration(root: string, file: string): Promise<Bundle> {
  const { build } = await import('esbuild')
  const path = join(root, file)
  const packages: Record<string, string> = {}
  const result = await build({
    absWorkingDir: root,
    entryPoints: [path],
    bundle: true,
    write: false,
    metafile: true,
    format: 'esm',
    platform: 'node',
    target: 'node20.19',
    sourcemap: 'external',
    sourcesContent: false,
    outfile: `${path}.bundled.mjs`,
    logLevel: 'silent',
    define: { 'import.meta.url': JSON.stringify(pathToFileURL(path).href) },
    plugins: [{ name: 'packages', setup: (bundler) => leavePackages(bundler, packages) }],
  })
  const textOf = (isMap: boolean): string =>
    result.outputFiles.find((output) => output.path.endsWith('.map') === isMap)?.text ?? ''
  const inputs = Object.fromEntries(
    Object.keys(result.metafile.inputs).map((input) => [input, digestFile(join(root, input)) ?? '']),
  )
  return { inputs, packages, code: textOf(false), map: textOf(true) }
}

const OWN = /^zinc-pantry(?:\/(.+))?$/

/**
 * Makes every import of a package an absolute one, which a module without a path of its own can import, and notes the
 * package's description, which changes with its version.
 */
function leavePackages(bundler: import('esbuild').PluginBuild, packages: Record<string, string>): void {
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
    const [description] = /^.*[\\/]node_modules[\\/](?:@[^\\/]+[\\/])?[^\\/]+/.exec(found.path) ?? []
    if (description !== undefined) packages[path] = digestFile(join(description, 'package.json')) ?? ''
    return { path: pathToFileURL(found.path).href, external: true }
  })
}

function ownModule(entry: string): string {
  const folder = dirname(dirname(fileURLToPath(import.meta.url)))
  return pathToFileURL(join(folder, entry, 'index.js')).href
}

interface BuildMessage {
  text: string
  location: { file: string; line: number; column: number; length: number } | null
}

function unparsed(error: unknown, file: string, root: string): LoadedConfiguration {
  const messages = (error as { errors?: BuildMessage[] }).errors ?? []
  const first = messages[0]
  const reason = first?.text ?? reasonOf(error)
  const { location } = first ?? {}
  if (!location) return { kind: 'unparsed', reason, file, line: 1, column: 1, length: 1 }
  const column = utf16Column(join(root, location.file), location.line, location.column)
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

/** A name that a file of the configuration imports, and the package has not: engines say it of a module, and at no place. */
async function findUnknownExport(
  error: unknown,
  root: string,
  inputs: readonly string[],
): Promise<Extract<LoadedConfiguration, { kind: 'threw' }> | undefined> {
  const [, address = '', name] =
    /module '([^']+)' does not provide an export named '([^']+)'/.exec((error as Error | undefined)?.message ?? '') ??
    []
  if (name === undefined) return undefined
  for (const file of inputs) {
    const text = readFileSync(join(root, file), 'utf8')
    for (const { 0: statement, index, groups } of text.matchAll(IMPORTS)) {
      const found = new RegExp(`\\b${name}\\b`).exec(statement)
      if (!found) continue
      const before = text.slice(0, index + found.index)
      const line = before.split('\n').length
      const from = groups?.from ?? ''
      const known = Object.keys(await import(OWN.test(from) ? ownModule(OWN.exec(from)?.[1] ?? '') : address))
      const column = before.length - before.lastIndexOf('\n')
      return {
        kind: 'threw',
        reason: `${from} has no ${name}`,
        file,
        line,
        column,
        unknownExport: { name, from, known },
      }
    }
  }
  return undefined
}

const IMPORTS = /\bimport\s*\{[^}]*\}\s*from\s*(["'])(?<from>[^"']+)\1/g

const reasonOf = (error: unknown): string => {
  const text = error instanceof Error ? error.message : String(error)
  return text.split('\n')[0]?.slice(0, 160) || 'it threw an error without a message'
}

interface ThrownPlace {
  /** Absolute. */
  readonly file: string
  readonly line: number
  readonly column: number
}

/** The first line of the stack that lies in the bundle, as a place in the file it was made from. */
function placeOf(error: unknown, map: string, folder: string): ThrownPlace | undefined {
  const stack = error instanceof Error ? (error.stack ?? '') : ''
  const sourceMap = new SourceMap(JSON.parse(map))
  for (const [, line, column] of stack.matchAll(/data:text\/javascript;base64,[^\s)]*:(\d+):(\d+)/g)) {
    const entry = sourceMap.findEntry(Number(line) - 1, Number(column) - 1)
    if (!('originalSource' in entry)) continue
    const { originalSource, originalLine, originalColumn } = entry
    return { file: join(folder, originalSource), line: originalLine + 1, column: originalColumn + 1 }
  }
  return undefined
}

const relativePlace = (place: ThrownPlace | undefined, relativePath: (absolute: string) => string) =>
  place ? { ...place, file: relativePath(place.file) } : {}

import { readFileSync } from 'node:fs'
import { SourceMap } from 'node:module'
import { dirname, join } from 'node:path'
import type { LoadedConfiguration } from './host.ts'
import { openKeptBundle } from './node-bundle.ts'
import { bundleConfiguration, describeBundlerError, ownModule } from './node-bundler.ts'
import { digestContent } from './node-digest.ts'
import { relativeTo } from './node-path.ts'
import { withinLimit } from './node-time-limit.ts'
import { transformConfiguration } from './node-transform.ts'

/** How a configuration is loaded. */
export interface ConfigurationOptions {
  readonly timeLimitMs: number
  /** Where the bundle is kept for the next time, if anywhere. */
  readonly kept?: { readonly folder: string; readonly version: string } | undefined
  /** Texts that stand for those of some files, relative to the root. */
  readonly texts?: ReadonlyMap<string, string> | undefined
}

/**
 * Bundles a configuration with the files it imports and runs it. Packages are left to Node, but for
 * this one: whatever copy a site has installed, its configuration must reach the running one.
 * In the folder of `kept` the bundle is kept for the next time, as long as the version of the package is the same.
 */
export async function loadNodeConfiguration(
  root: string,
  file: string,
  { kept, timeLimitMs, texts }: ConfigurationOptions,
): Promise<LoadedConfiguration> {
  const keeping = kept && openKeptBundle(root, file, kept)
  let bundle = keeping?.read()
  if (!bundle) {
    try {
      bundle = (await transformConfiguration(root, file, texts)) ?? (await bundleConfiguration(root, file, texts))
    } catch (error) {
      return describeBundlerError(error, root, file)
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
    const place = locateError(error, map, dirname(join(root, file)))
    const reason = reasonOf(error, file)
    const at = { line: 1, column: 1, ...relativePlace(place, (path) => relativeTo(root, path)) }
    return { kind: 'threw', reason, file, ...at, inputs: Object.keys(inputs) }
  }
}

/** Digests of files by their paths, in an order of their own. */
const digestInputs = (inputs: Readonly<Record<string, string>>): string =>
  digestContent(JSON.stringify(Object.entries(inputs).sort(([a], [b]) => (a < b ? -1 : 1))))

/**
 * A name that a file of the configuration imports, and the package has not: engines say it of a module, and at no
 * place.
 */
async function findUnknownExport(
  error: unknown,
  root: string,
  inputs: readonly string[],
): Promise<Extract<LoadedConfiguration, { kind: 'threw' }> | undefined> {
  const { message = '' } = (error ?? {}) as { readonly message?: string }
  const { address = '', name } = (MODULE_LACKS.exec(message) ?? COMMON_MODULE_LACKS.exec(message))?.groups ?? {}
  if (name === undefined) return undefined
  for (const file of inputs) {
    const text = readFileSync(join(root, file), 'utf8')
    for (const { 0: statement, index, groups } of text.matchAll(IMPORTS)) {
      const found = new RegExp(`\\b${name}\\b`).exec(statement)
      if (!found) continue
      const before = text.slice(0, index + found.index)
      const line = before.split('\n').length
      const from = groups?.from ?? ''
      const known = Object.keys(await import(ownModule(from) ?? address))
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

const MODULE_LACKS = /module '(?<address>[^']+)' does not provide an export named '(?<name>[^']+)'/
const COMMON_MODULE_LACKS = /Named export '(?<name>[^']+)' not found. The requested module '(?<address>[^']+)'/
const IMPORTS = /\bimport\s*\{[^}]*\}\s*from\s*(["'])(?<from>[^"']+)\1/g

const reasonOf = (error: unknown, file: string): string => {
  const text = error instanceof Error ? error.message : String(error)
  const named = text.replaceAll(/data:text\/javascript;base64,[^\s"']*/g, file)
  return named.split('\n')[0]?.slice(0, 160) || 'it threw an error without a message'
}

interface ThrownPlace {
  /** Absolute. */
  readonly file: string
  readonly line: number
  readonly column: number
}

/** The first line of the stack that lies in the bundle, as a place in the file it was made from. */
function locateError(error: unknown, map: string, folder: string): ThrownPlace | undefined {
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

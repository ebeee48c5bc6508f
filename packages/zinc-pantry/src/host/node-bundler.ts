import { createRequire } from 'node:module'
import { dirname, isAbsolute, join } from 'node:path'
import { pathToFileURL } from 'node:url'
import { stripVTControlCharacters } from 'node:util'
import type { Plugin, RolldownLog } from 'rolldown'
import type { UnparsedConfiguration } from './host.ts'
import { type Bundle, digestFile } from './node-bundle.ts'
import { digestContent } from './node-digest.ts'
import { relativeTo } from './node-path.ts'

/** Makes one module of a configuration and the files that it imports. Packages are left to Node. */
export async function bundleConfiguration(
  root: string,
  file: string,
  texts: ReadonlyMap<string, string> = new Map(),
): Promise<Bundle> {
  try {
    return await bundle(root, file, { texts, tsconfig: true })
  } catch (error) {
    // Its paths may be missed then, or not: what it extends can be something that is made later.
    if (firstOf(error).code === 'TSCONFIG_ERROR') return bundle(root, file, { texts, tsconfig: false })
    throw error
  }
}

interface BundleOptions {
  readonly texts: ReadonlyMap<string, string>
  /** Whether the paths of a `tsconfig.json` are followed. */
  readonly tsconfig: boolean
}

async function bundle(root: string, file: string, { texts, tsconfig }: BundleOptions): Promise<Bundle> {
  const { rolldown } = await import('rolldown')
  const path = join(root, file)
  const inputs: Record<string, string> = {}
  const packages: Record<string, string> = {}
  const load = (id: string): string | undefined => {
    if (!isAbsolute(id)) return undefined
    const path = relativeTo(root, id)
    const text = texts.get(path)
    inputs[path] = text === undefined ? (digestFile(id) ?? '') : digestContent(text)
    return text
  }
  const bundler = await rolldown({
    cwd: root,
    input: path,
    platform: 'node',
    treeshake: false,
    tsconfig,
    transform: transformOf(path),
    plugins: [
      { name: 'inputs', resolveId: (id) => (id === path && texts.has(file) ? id : null), load },
      leavePackages(packages),
    ],
    onLog(_level, log) {
      if (log.code === 'UNRESOLVED_IMPORT') throw Object.assign(new Error(log.message), log)
    },
  })
  try {
    const { output } = await bundler.generate({
      format: 'esm',
      sourcemap: true,
      codeSplitting: false,
      dir: dirname(path),
    })
    const [{ code, map }] = output
    return { inputs, packages, code, map: JSON.stringify(map) }
  } finally {
    await bundler.close()
  }
}

/** How the code of a configuration is transformed, which is run from elsewhere. */
export const transformOf = (path: string) => ({
  target: 'node20.19',
  define: { 'import.meta.url': JSON.stringify(pathToFileURL(path).href) },
})

/** The first of what the bundler found wrong. */
const firstOf = (error: unknown): RolldownLog =>
  (error as { readonly errors?: readonly RolldownLog[] }).errors?.[0] ?? (error as RolldownLog)

/**
 * Makes every import of a package an absolute one, which a module without a path of its own can import, and notes the
 * package's description, which changes with its version.
 */
const leavePackages = (packages: Record<string, string>): Plugin => ({
  name: 'packages',
  async resolveId(source, importer, { kind }) {
    if (importer === undefined || source.startsWith('.') || isAbsolute(source)) return null
    const own = ownModule(source)
    if (own !== undefined) return { id: own, external: true }
    if (/^node:/.test(source) || createRequire(import.meta.url).resolve.paths(source) === null)
      return { id: source, external: true }
    const found = await this.resolve(source, importer, { skipSelf: true, kind })
    // Who asks for it while it runs may be ready for its not being there.
    if (!found && kind !== 'import-statement') return { id: source, external: true }
    // What a package name resolves to outside of node_modules is a file of the site's own.
    const [description] = /^.*[\\/]node_modules[\\/](?:@[^\\/]+[\\/])?[^\\/]+/.exec(found?.id ?? '') ?? []
    if (!found || found.external || description === undefined) return found
    packages[source] = digestFile(join(description, 'package.json')) ?? ''
    return { id: pathToFileURL(found.id).href, external: true }
  },
})

/**
 * The address of a module of this package, undefined for one that it has not: whatever copy a site has installed, its configuration must reach the running
 * one.
 */
export function ownModule(source: string): string | undefined {
  if (!/^zinc-pantry(?:\/|$)/.test(source)) return undefined
  try {
    // Within a package its own name leads to itself.
    return pathToFileURL(createRequire(import.meta.url).resolve(source)).href
  } catch {
    return undefined
  }
}

/** Why a configuration could not be bundled, in the bundler's own words without its drawing. */
export function describeBundlerError(error: unknown, root: string, file: string): UnparsedConfiguration {
  const { loc, id, code, exporter, message } = firstOf(error)
  const [line = '', ...drawing] = stripVTControlCharacters(message).split('\n')
  const [, name] = /^\[MISSING_EXPORT\] "(.+)" is not/.exec(line) ?? []
  // Of files that are no code the file is said in the drawing only.
  const [, drawn] = /╭─\[ (.+):\d+:\d+ \]/.exec(drawing[0] ?? '') ?? []
  const place = loc?.file ?? id ?? (drawn && join(root, drawn))
  return {
    kind: 'unparsed',
    reason: line.replace(/^\[\w+\] /, '').slice(0, 160),
    missing: code === 'UNRESOLVED_IMPORT' ? exporter : undefined,
    unknownExport:
      name === undefined || exporter === undefined
        ? undefined
        : { name, from: `./${relativeTo(root, exporter)}`, known: [] },
    file: place === undefined ? file : relativeTo(root, place),
    line: loc?.line ?? 1,
    column: (loc?.column ?? 0) + 1,
  }
}

import type { SiteOptions, SiteReport } from './site-report.ts'

/** Schemas that were written. */
export interface WrittenSchemas extends SiteReport {
  /** The files, relative to the root. */
  readonly files: readonly string[]
  /** Files that stand there and are not ours; then nothing is written. */
  readonly foreign: readonly string[]
}

/**
 * Writes the JSON Schema 2020-12 of every collection into a folder, for editors that know of nothing else: `huts.json` of one
 * entry, as it is a file or front matter, and `huts.many.json` of a file with many. References are the entries that there are, with
 * what people call them. Builds keep them fresh from then on.
 *
 * Diagnostics: all of `checkSite`.
 *
 * @example
 * ```ts
 * import { createNodeHost, writeSchemas } from 'zinc-pantry/engine'
 *
 * const { files } = await writeSchemas({ host: createNodeHost('.'), configurationFile: 'pantry.config.ts' }, 'schemas')
 * console.log(files)
 * ```
 */
export async function writeSchemas(options: SiteOptions, folder: string): Promise<WrittenSchemas> {
  const [{ examineSite }, { describeShapes, isOurs, noteFolder, writeShapes }] = await Promise.all([
    import('./run-site.ts'),
    import('./schema-files.ts'),
  ])
  const { host } = options
  const { report, checked, model } = await examineSite({ ...options, drafts: true })
  if (!model) return { ...report, files: [], foreign: [] }
  if (`${folder}/`.startsWith(`${model.content}/`)) return { ...report, files: [], foreign: [model.content] }
  const schemas = describeShapes(checked.collections, model, folder)
  const foreign = [...schemas.keys()].filter((file) => host.size(file) !== undefined && !isOurs(host, file))
  if (foreign.length > 0) return { ...report, files: [], foreign }
  writeShapes(host, schemas, folder)
  noteFolder(host, folder)
  return { ...report, files: [...schemas.keys()], foreign }
}

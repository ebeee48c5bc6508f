import { listEntryChoices } from '../change/entry-choices.ts'
import type { Host } from '../host/host.ts'
import type { LinkedCollection } from '../link/link-entry.ts'
import { exportJsonSchema, exportManySchema, shapesOf } from '../schema/export-json-schema.ts'
import type { JsonSchema } from '../schema/json-schema.ts'
import type { Model } from '../schema/model.ts'
import { readText } from './read-text.ts'
import type { SiteOptions, SiteReport } from './site-report.ts'

/** Says where schemas were written, so that builds keep them fresh; relative to the root. */
const RECORD = '.pantry/schemas.json'

/** What every file that is ours says. */
const COMMENT = 'Written by zinc-pantry schema --write; it is written anew by every build'

/** References into a collection with more entries than this take any text. */
const MOST_CHOICES = 2_000

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
  const { examineSite } = await import('./run-site.ts')
  const { host } = options
  const { report, checked, model } = await examineSite({ ...options, drafts: true })
  if (!model) return { ...report, files: [], foreign: [] }
  if (`${folder}/`.startsWith(`${model.content}/`)) return { ...report, files: [], foreign: [model.content] }
  const schemas = describeShapes(checked.collections, model, folder)
  const foreign = [...schemas.keys()].filter((file) => host.size(file) !== undefined && !isOurs(host, file))
  if (foreign.length > 0) return { ...report, files: [], foreign }
  write(host, schemas, folder)
  host.write(RECORD, `${JSON.stringify({ folder })}\n`)
  return { ...report, files: [...schemas.keys()], foreign }
}

/** Writes schemas anew that were written once, where something in them is different. */
export function refreshSchemas(host: Host, collections: readonly LinkedCollection[], model: Model): void {
  if (host.size(RECORD) === undefined) return
  const folder = readFolder(readText(host, RECORD))
  if (folder !== undefined && host.list(folder)) write(host, describeShapes(collections, model, folder), folder)
}

function readFolder(text = ''): string | undefined {
  try {
    const { folder } = JSON.parse(text) as { readonly folder?: unknown }
    return typeof folder === 'string' ? folder : undefined
  } catch {
    return undefined
  }
}

const isOurs = (host: Host, file: string): boolean => readText(host, file)?.includes(COMMENT) === true

function write(host: Host, schemas: ReadonlyMap<string, string>, folder: string): void {
  for (const [file, text] of schemas) if (readText(host, file) !== text) host.write(file, text)
  const gone = host.list(folder)?.files.map((name) => `${folder}/${name}`) ?? []
  for (const file of gone) if (!schemas.has(file) && file.endsWith('.json') && isOurs(host, file)) host.remove(file)
}

/** The schemas of all shapes of files, as texts by their files. */
function describeShapes(
  collections: readonly LinkedCollection[],
  model: Model,
  folder: string,
): ReadonlyMap<string, string> {
  const known = new Map<string, readonly { readonly text: string; readonly label: string }[] | undefined>()
  const entries = (collection: string, by: string) => {
    const key = `${collection} ${by}`
    if (!known.has(key)) {
      const choices = listEntryChoices(collections, collection, { by, isOnly: true })
      const texts = choices.map(({ value, label }) => ({ text: value, label }))
      known.set(key, texts.length > MOST_CHOICES ? undefined : texts)
    }
    return known.get(key)
  }
  const asText = (schema: JsonSchema): string => `${JSON.stringify({ $comment: COMMENT, ...schema }, null, 2)}\n`
  return new Map(
    model.collections.flatMap((collection) => {
      const schema = exportJsonSchema(collection, model, entries)
      const path = `${folder}/${collection.name}`
      const shapes = shapesOf(collection)
      return [
        ...(shapes.one ? [[`${path}.json`, asText(schema)] as const] : []),
        ...(shapes.many ? [[`${path}.many.json`, asText(exportManySchema(collection, schema))] as const] : []),
      ]
    }),
  )
}

import { listEntryChoices } from '../change/entry-choices.ts'
import type { Host } from '../host/host.ts'
import type { LinkedCollection } from '../link/link-entry.ts'
import { exportJsonSchema, exportManySchema, shapesOf } from '../schema/export-json-schema.ts'
import type { JsonSchema } from '../schema/json-schema.ts'
import type { Model } from '../schema/model.ts'
import { readText } from './read-text.ts'

/** Says where schemas were written, so that builds keep them fresh; relative to the root. */
const RECORD = '.pantry/schemas.json'

/** What every file that is ours says. */
const COMMENT = 'Written by zinc-pantry schema --write; it is written anew by every build'

/** References into a collection with more entries than this take any text. */
const MOST_CHOICES = 2_000

/** Writes schemas anew that were written once, where something in them is different. */
export function refreshSchemas(host: Host, collections: readonly LinkedCollection[], model: Model): void {
  if (host.size(RECORD) === undefined) return
  const folder = readFolder(readText(host, RECORD))
  if (folder !== undefined && host.list(folder)) writeShapes(host, describeShapes(collections, model, folder), folder)
}

function readFolder(text = ''): string | undefined {
  try {
    const { folder } = JSON.parse(text) as { readonly folder?: unknown }
    return typeof folder === 'string' ? folder : undefined
  } catch {
    return undefined
  }
}

/** True for a file that was written so. */
export const isOurs = (host: Host, file: string): boolean => readText(host, file)?.includes(COMMENT) === true

/** Writes schemas, where something in them is different, and removes those of what is gone. */
export function writeShapes(host: Host, schemas: ReadonlyMap<string, string>, folder: string): void {
  for (const [file, text] of schemas) if (readText(host, file) !== text) host.write(file, text)
  const gone = host.list(folder)?.files.map((name) => `${folder}/${name}`) ?? []
  for (const file of gone) if (!schemas.has(file) && file.endsWith('.json') && isOurs(host, file)) host.remove(file)
}

/** The schemas of all shapes of files, as texts by their files. */
export function describeShapes(
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

/** Notes the folder, so that builds know of it. */
export const noteFolder = (host: Host, folder: string): void => host.write(RECORD, `${JSON.stringify({ folder })}\n`)

import type { Diagnostic } from '../diagnostics/diagnostic.ts'
import type { TextSource } from '../diagnostics/render-text.ts'
import { suggestNearest } from '../diagnostics/suggest.ts'
import type { Host } from '../host/host.ts'
import { exportJsonSchema } from '../schema/export-json-schema.ts'
import type { JsonSchema } from '../schema/json-schema.ts'
import { loadModel } from './load-model.ts'
import { createTextSource } from './read-text.ts'

/** The answer, or the reason why there is none. */
export type SchemaAnswer =
  | { readonly schema: JsonSchema }
  /** There is no such collection. */
  | { readonly known: readonly string[]; readonly suggestion: string | undefined }
  /** The configuration is wrong. */
  | { readonly diagnostics: readonly Diagnostic[]; readonly textOf: TextSource }

/**
 * The JSON Schema 2020-12 of the entries of a collection, for editors and other tools.
 *
 * @example
 * ```ts
 * import { createNodeHost, describeCollection } from 'zinc-pantry/engine'
 *
 * const answer = await describeCollection({ host: createNodeHost('.'), configurationFile: 'pantry.config.ts' }, 'huts')
 * if ('schema' in answer) console.log(JSON.stringify(answer.schema, null, 2))
 * ```
 */
export async function describeCollection(
  { host, configurationFile }: { host: Host; configurationFile: string },
  name: string,
): Promise<SchemaAnswer> {
  const { model, diagnostics } = await loadModel(host, configurationFile)
  if (!model) return { diagnostics, textOf: createTextSource(host) }
  const collection = model.collections.find((one) => one.name === name)
  if (collection) return { schema: exportJsonSchema(collection, model) }
  const known = model.collections.map((one) => one.name)
  return { known, suggestion: suggestNearest(name, known) }
}

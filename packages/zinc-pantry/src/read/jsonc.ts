import { type ParseError, parseTree } from 'jsonc-parser'
import { createDocument, type ReadResult, type SourceText } from './document.ts'
import { describeDuplicates, readJson, tooDeep } from './json.ts'
import { describeJsonFault, findTooDeep } from './json-fault.ts'
import { buildJsonPlaces, valueOfTree } from './json-places.ts'

/**
 * Reads JSON with comments and commas before closing brackets, as editors write their settings.
 *
 * Diagnostics: `json-syntax`, `json-duplicate-key`, `json-too-deep`.
 *
 * @example
 * ```ts
 * import { readJsonc } from 'zinc-pantry/read'
 *
 * const { document } = readJsonc({ file: 'hut.jsonc', text: '{ "beds": 24, // since 1937\n}' })
 * console.log(document?.value) // { beds: 24 }
 * ```
 */
export function readJsonc(source: SourceText): ReadResult {
  const { file, text } = source
  const plain = readJson(source)
  if (plain.diagnostics.every(({ severity }) => severity === 'warning')) return plain
  if (findTooDeep(text)) return tooDeep(source)
  const errors: ParseError[] = []
  const tree = parseTree(text, errors, { disallowComments: false, allowTrailingComma: true })
  const [first] = errors
  if (first || !tree) {
    const fault = first && describeJsonFault(first, file, text).diagnostic
    return { document: undefined, diagnostics: fault ? [fault] : plain.diagnostics }
  }
  const document = createDocument(valueOfTree(tree), () => buildJsonPlaces(text))
  return { document, diagnostics: describeDuplicates(file, text) }
}

import { type ParseError, parseTree } from 'jsonc-parser'
import { createDiagnostic, type Diagnostic } from '../diagnostics/diagnostic.ts'
import { createDocument, MAX_DEPTH, type ReadDocument, type ReadResult, type SourceText } from './document.ts'
import { describeJsonFault, findTooDeep } from './json-fault.ts'
import { buildJsonPlaces, findDuplicateKeys, valueOfTree } from './json-places.ts'
import { createListReader } from './json-reread.ts'
import { countColons, measure } from './json-shape.ts'

/**
 * Reads JSON as RFC 8259 has it. A trailing comma or a comment is an error, but the values around it
 * are still read, so that everything else in the file is checked too. A key that stands twice in one
 * object is a warning and the last one counts.
 *
 * Diagnostics: `json-syntax`, `json-trailing-comma`, `json-comment`, `json-duplicate-key`,
 * `json-too-deep`.
 *
 * @example
 * ```ts
 * import { readJson } from 'zinc-pantry/read'
 *
 * const { diagnostics } = readJson({ file: 'hut.json', text: '{ "beds": 24, }' })
 * console.log(diagnostics[0]?.code, diagnostics[0]?.span) // json-trailing-comma [12, 13]
 * ```
 */
export function readJson(source: SourceText): ReadResult {
  const { file, text } = source
  let value: unknown
  try {
    value = JSON.parse(text)
  } catch {
    return readFaulty(source)
  }
  const shape = measure(value)
  if (shape.depth > MAX_DEPTH) return tooDeep(source)
  const diagnostics = shape.keys === countColons(text) ? [] : describeDuplicates(file, text)
  const document = createDocument(value, () => buildJsonPlaces(text))
  return Array.isArray(value) && diagnostics.length === 0
    ? { document, diagnostics, reread: createListReader(text, value) }
    : { document, diagnostics }
}

/**
 * Opens a text that was read before, for the places in it. Its value is read when somebody asks for it: that of a large file is
 * several times as large as its text.
 */
export function reopenJson({ file, text }: SourceText): ReadDocument {
  const places = createDocument(undefined, () => buildJsonPlaces(text))
  let read: ReadResult | undefined
  return {
    get value() {
      read ??= readJson({ file, text })
      return read.document?.value
    },
    locate: places.locate,
  }
}

function readFaulty(source: SourceText): ReadResult {
  const { file, text } = source
  if (findTooDeep(text)) return tooDeep(source)
  const errors: ParseError[] = []
  const tree = parseTree(text, errors, { disallowComments: true, allowTrailingComma: false })
  // A trailing comma in an object is told twice by the parser: a key and a value are expected.
  const offsets = new Set<number>()
  const faults = errors
    .filter(({ offset }) => !offsets.has(offset) && offsets.add(offset))
    .map((error) => describeJsonFault(error, file, text))
  const harmless = tree !== undefined && faults.length > 0 && faults.every((fault) => fault.harmless)
  if (harmless)
    return {
      document: createDocument(valueOfTree(tree), () => buildJsonPlaces(text)),
      diagnostics: faults.map((fault) => fault.diagnostic),
    }
  const first = faults[0]?.diagnostic ?? fallback(source)
  return { document: undefined, diagnostics: [first] }
}

/** For a text that one parser refuses and the other does not. */
const fallback = ({ file, text }: SourceText): Diagnostic =>
  createDiagnostic('json-syntax', { file, span: [0, Math.min(1, text.length)] }, { reason: 'Text is not JSON' })

/** The refusal of a text that is nested too deep. */
export const tooDeep = ({ file, text }: SourceText): ReadResult => ({
  document: undefined,
  diagnostics: [createDiagnostic('json-too-deep', { file, span: findTooDeep(text) ?? [0, 1] }, { limit: MAX_DEPTH })],
})

/** Keys that stand twice in one object. */
export function describeDuplicates(file: string, text: string): Diagnostic[] {
  return findDuplicateKeys(text).map(({ key, span, first }) =>
    createDiagnostic(
      'json-duplicate-key',
      { file, span },
      { key },
      { related: [{ file, span: first, note: 'first-used' }] },
    ),
  )
}
